import { Box3, Color, Scene, Vector3, WebGLRenderer } from "three";

import { prefs } from "../model/prefs";
import { editor, type EditorState, METRES, unitOf } from "../model/store";
import { shownUnit } from "../model/units";
import type { Boards, MovedBoard } from "../scene/boards/Boards";
import { makeContext } from "../scene/context";
import { whenDone } from "../scene/fence";
import { Grid } from "../scene/Grid";
import { SIZE } from "../scene/materials";
import type { Pane, Sheet } from "../scene/Sheet";
import { Stage } from "../scene/Stage";
import { token } from "../theme/theme";
import type { PartViews } from "./PartViews";

/** What of the workbench a pane is drawn from beside the store. */
interface Shown {
  readonly sheet: Sheet;
  readonly parts: PartViews;
  readonly boards: Boards;
  readonly movedBoard: MovedBoard | null;
}

/** What draws outlives the build it drew: for the next one its shaders are compiled already. */
let idle: Canvas | null = null;

/** Draws panes of the sheet by WebGL, one scissored view after the other on one canvas. */
export class Canvas {
  scene = new Scene();
  /** whether the browser draws without a graphics card */
  readonly software: boolean;
  private readonly renderer: WebGLRenderer;
  private readonly grid = new Grid();
  private readonly stage: Stage;
  private size = "";

  /** Draw in a place of the page, by what drew before where that is free. */
  static on(host: HTMLElement): Canvas {
    const canvas = idle !== null && !idle.renderer.getContext().isContextLost() ? idle : new Canvas();
    idle = null;
    host.prepend(canvas.renderer.domElement);
    return canvas;
  }

  private constructor() {
    const { canvas, context, software } = makeContext();
    this.software = software;
    canvas.setAttribute("aria-hidden", "true");
    this.renderer = new WebGLRenderer({ canvas, context });
    this.renderer.setScissorTest(true);
    this.renderer.debug.checkShaderErrors = import.meta.env.DEV; // asking makes every first use of a shader wait
    this.stage = new Stage();
    this.furnish();
  }

  private furnish(): void {
    this.scene.add(this.grid.object, ...this.stage.objects);
  }

  /** Pixels of the screen for one of the page. */
  get screen(): number {
    return this.software ? 1 : Math.min(window.devicePixelRatio || 1, 2);
  }

  /** Pixels of the canvas for one of the page. */
  private get ratio(): number {
    return this.screen * (prefs.get().coarse ? 0.5 : 1);
  }

  /** The build is left: what is drawn of it goes, what draws waits for the next. */
  leave(): void {
    this.renderer.domElement.remove();
    this.renderer.renderLists.dispose();
    this.scene = new Scene();
    this.furnish();
    if (idle !== null) idle.renderer.dispose();
    idle = this;
  }

  resize(width: number, height: number): void {
    const at = `${width} ${height} ${this.ratio}`;
    if (at === this.size) {
      this.renderer.clear(); // of the build before
      return;
    }
    this.size = at;
    this.renderer.setPixelRatio(this.ratio);
    this.renderer.setSize(width, height, false);
  }

  colours(): void {
    this.renderer.setClearColor(new Color(token("paper")));
    this.stage.colours();
  }

  /** Once all that was asked of the graphics so far is drawn. */
  whenDone(hear: () => void): void {
    whenDone(this.renderer.getContext() as WebGL2RenderingContext, hear);
  }

  render(pane: Pane, what: Shown): void {
    const state = editor.get();
    const { looks, shown } = prefs.get();
    const { camera } = pane;
    const box = what.parts.bounds();
    const { right } = camera.basis();
    for (const [id, view] of what.parts.views) {
      const current = id === state.current;
      view.style({ ...looks[pane.slot], current, points: current && (state.pickKind === "vertices" || state.auto), ghosted: view.ghosted, ratio: this.ratio, flat: camera.isFlat, right, hasty: this.software && (state.session?.dragging ?? false) });
    }
    this.stage.show(box, !camera.isFlat && shown.floor);
    what.boards.update(state.build?.document.boards ?? [], unitOf(state), pane.view, camera, box, what.movedBoard, state.night ? 0.62 : 1);
    this.ruleGrid(pane, box, state, what.sheet);
    SIZE.set(camera.width * this.ratio, camera.height * this.ratio);
    const bottom = what.sheet.height - pane.y - camera.height;
    this.renderer.setViewport(pane.x, bottom, camera.width, camera.height);
    this.renderer.setScissor(pane.x, bottom, camera.width, camera.height);
    this.renderer.render(this.scene, camera.camera);
  }

  private ruleGrid(pane: Pane, box: Box3, state: EditorState, sheet: Sheet): void {
    const { shown } = prefs.get();
    this.grid.object.visible = pane.camera.isFlat ? shown.grid : shown.grid && shown.floor;
    if (!this.grid.object.visible) return;
    const centre = pane.camera.isFlat ? sheet.flat.centre : box.isEmpty() ? new Vector3() : box.getCenter(new Vector3());
    const reach = box.isEmpty() ? 0.3 : box.getSize(new Vector3()).length() * 1.1;
    this.grid.update(pane, centre, reach, METRES[shownUnit(state)], state.night);
  }
}
