import { Box3, Color, Scene, Vector3, WebGLRenderer } from "three";

import type { Part } from "../api/client";
import { measure } from "../api/measure";
import { asking } from "../state/asking";
import { useBrief } from "../state/brief";
import { askedAt } from "../state/editor";
import { keepsNumbers } from "../state/picks";
import { matrixOf } from "../state/place";
import { isThrough, prefs } from "../state/prefs";
import { editor, METRES, partOf, unitOf, type EditorState, type ToolSession, type ViewName } from "../state/store";
import { shownUnit } from "../state/units";
import { useUnseen } from "../state/unseen";
import { token } from "../theme/theme";
import { toolOf, type Tool } from "../tools/toolbox";
import { PivotHandles } from "../tools/pivot";
import { Asker } from "./Asker";
import { Boards, type MovedBoard } from "./boards/Boards";
import type { BoardHit } from "./boards/handles";
import type { Camera } from "./Camera";
import { makeContext } from "./context";
import { whenDone } from "./fence";
import { FormDrawer } from "./FormDrawer";
import { Grid } from "./Grid";
import { hitAt, type Hit, type Sight } from "./hit";
import { SIZE } from "./materials";
import { Overlay } from "./overlay";
import { Paper } from "./Paper";
import { PartView } from "./PartView";
import { Pointing } from "./Pointing";
import { applySection, SectionHandle } from "./section";
import { Sheet, type Pane } from "./Sheet";
import { Stage } from "./Stage";
import { unseen, type Area } from "./sweep";

/** While a drag goes on without a graphics card, views beside the dragged one are drawn so often, in milliseconds. */
const OTHERS_EVERY = 250;
/** … and no more often than leaves so many times what drawing them took. */
const OTHERS_SHARE = 5;
/** Room under the model for the lines of its sizes, in its heights. */
const ROOM_OF_SIZES = 0.14;
/** So long, in milliseconds, the handles of a drag wait for the answer. */
const ANSWER = 80;
/** So long, in milliseconds, a pick has to stand before its sight is judged. */
const CALM = 120;

/** What of the state the model is drawn from; all else is drawn over it. */
const MODEL = ["build", "meshes", "preview", "pick", "current", "pickKind", "auto", "isolated", "section", "night"] as const satisfies readonly (keyof EditorState)[];

/** The views: draws on demand what the store says, and turns pointer and keys into what the store is told. */
export class Viewport {
  readonly sheet = new Sheet();
  readonly parts = new Map<string, PartView>();
  readonly boards: Boards;
  readonly section = new SectionHandle();
  readonly pivot = new PivotHandles();
  readonly drawer = new FormDrawer(this);
  readonly asker = new Asker(this);
  /** what the pointer is over */
  hover: Hit | null = null;
  hotHandle: string | null = null;
  hotBoard: BoardHit | null = null;
  movedBoard: MovedBoard | null = null;
  /** the area being swept, in a pane */
  swept: { pane: Pane; area: Area } | null = null;

  /** how often something was drawn */
  frames = 0;

  /** whether the browser draws without a graphics card */
  private readonly software: boolean;
  private readonly renderer: WebGLRenderer;
  private readonly scene = new Scene();
  private readonly grid = new Grid();
  private readonly stage: Stage;
  private readonly paper: Paper;
  private readonly observer: ResizeObserver;
  private readonly unsubscribe: (() => void)[];
  private readonly pointing: Pointing;
  private dirty = new Set<Pane>();
  private queued = false;
  private later: ReturnType<typeof setTimeout> | null = null;
  private othersDrawn = 0;
  private othersEvery = OTHERS_EVERY;
  private readonly ratio: number;
  private framed: string | null = null;

  constructor(
    private readonly host: HTMLElement,
    overlay: HTMLCanvasElement,
  ) {
    const { canvas, context, software } = makeContext();
    this.software = software;
    canvas.setAttribute("aria-hidden", "true");
    host.prepend(canvas);
    this.renderer = new WebGLRenderer({ canvas, context });
    this.renderer.setScissorTest(true);
    this.renderer.debug.checkShaderErrors = import.meta.env.DEV; // asking makes every first use of a shader wait
    this.ratio = software ? 1 : Math.min(window.devicePixelRatio || 1, 2);
    this.paper = new Paper(this, new Overlay(overlay, this.sheet));
    this.boards = new Boards(() => this.sync());
    this.stage = new Stage(this.scene);
    this.scene.add(this.grid.object, this.boards.group);
    this.observer = new ResizeObserver(() => this.resize());
    this.observer.observe(host);
    this.unsubscribe = [
      editor.subscribe((state, before) => this.heard(state, before)),
      prefs.subscribe(() => this.preferred()),
      useBrief.subscribe(() => this.invalidate("overlay")),
      asking.subscribe(() => this.invalidate("overlay")),
    ];
    this.pointing = new Pointing(this, overlay);
    this.colours();
    this.resize();
    this.sync();
  }

  dispose(): void {
    this.pointing.dispose();
    this.observer.disconnect();
    for (const timer of [this.judging, this.later, this.answered]) if (timer !== null) clearTimeout(timer);
    for (const off of this.unsubscribe) off();
    for (const view of this.parts.values()) view.dispose();
    this.renderer.dispose();
    this.renderer.domElement.remove();
  }

  /** The view at work. */
  get pane(): Pane {
    return this.sheet.of(editor.get().view);
  }

  get camera(): Camera {
    return this.pane.camera;
  }

  get tool(): Tool | null {
    const session = editor.get().session;
    return session === null ? null : toolOf(session);
  }

  /** Which pane shows a point of the canvas, and the pane's own pixels. */
  locate(x: number, y: number): { pane: Pane; x: number; y: number } {
    const pane = this.sheet.at(x, y);
    return { pane, x: x - pane.x, y: y - pane.y };
  }

  sight(pane: Pane): Sight {
    const { current, section } = editor.get();
    return { parts: this.parts, camera: pane.camera, look: prefs.get().looks[pane.slot], section, current, through: isThrough(pane.view) };
  }

  /** What a tool needs to know to be drawn, hit and dragged in a pane. */
  place(session: ToolSession, pane: Pane): Parameters<Tool["draw"]>[0] | null {
    const view = this.parts.get(session.part);
    return view === undefined ? null : { session, view, camera: pane.camera, sight: this.sight(pane), boards: this.boards };
  }

  /** Draw again at the next frame: all views, one, or only what is drawn over them. */
  invalidate(what: "all" | "overlay" | Pane = "all"): void {
    if (what === "all") for (const pane of this.sheet.shown) this.dirty.add(pane);
    else if (what !== "overlay") this.dirty.add(what);
    if (this.queued) return;
    this.queued = true;
    requestAnimationFrame(() => {
      this.queued = false;
      this.draw();
    });
  }

  private draw(): void {
    const began = performance.now();
    if (this.answered !== null) clearTimeout(this.answered);
    this.answered = null;
    const dragging = editor.get().session?.dragging ?? false;
    const waits = this.software && dragging && this.sheet.shown.length > 1 && performance.now() - this.othersDrawn < this.othersEvery;
    const drawn = this.sheet.shown.filter((p) => this.dirty.has(p) && (!waits || p.view === editor.get().view));
    for (const pane of drawn) {
      this.render(pane);
      this.dirty.delete(pane);
    }
    if (!waits && this.software && dragging) this.pace();
    if (drawn.length > 0) {
      measure("rhytonic:drawn", began);
      const asked = askedAt();
      if (asked !== null) whenDone(this.renderer.getContext() as WebGL2RenderingContext, () => measure("rhytonic:shown", asked));
    }
    this.frames += 1;
    this.paper.draw(this.ratio);
    if (this.dirty.size > 0 && this.later === null) {
      this.later = setTimeout(() => {
        this.later = null;
        this.invalidate("overlay");
      }, OTHERS_EVERY);
    }
  }

  /** After all views were drawn in a drag: how long until the others are drawn again, so that they take little of the time. */
  private pace(): void {
    const start = performance.now();
    this.othersDrawn = start;
    requestAnimationFrame(() => requestAnimationFrame(() => {
      this.othersEvery = Math.max(OTHERS_EVERY, OTHERS_SHARE * (performance.now() - start));
    }));
  }

  private render(pane: Pane): void {
    const state = editor.get();
    const { looks, shown } = prefs.get();
    const { camera } = pane;
    const box = this.bounds();
    const { right } = camera.basis();
    for (const [id, view] of this.parts) {
      const current = id === state.current;
      view.style({ ...looks[pane.slot], current, points: current && (state.pickKind === "vertices" || state.auto), ghosted: view.ghosted, ratio: this.ratio, flat: camera.isFlat, right, hasty: this.software && (state.session?.dragging ?? false) });
    }
    this.stage.show(box, !camera.isFlat && shown.floor);
    this.boards.update(state.build?.document.boards ?? [], unitOf(state), pane.view, camera, box, this.movedBoard, state.night ? 0.62 : 1);
    this.ruleGrid(pane, box, state);
    SIZE.set(camera.width * this.ratio, camera.height * this.ratio);
    const bottom = this.sheet.height - pane.y - camera.height;
    this.renderer.setViewport(pane.x, bottom, camera.width, camera.height);
    this.renderer.setScissor(pane.x, bottom, camera.width, camera.height);
    this.renderer.render(this.scene, camera.camera);
  }

  private ruleGrid(pane: Pane, box: Box3, state: EditorState): void {
    const { shown } = prefs.get();
    this.grid.object.visible = pane.camera.isFlat ? shown.grid : shown.grid && shown.floor;
    if (!this.grid.object.visible) return;
    const centre = pane.camera.isFlat ? this.sheet.flat.centre : box.isEmpty() ? new Vector3() : box.getCenter(new Vector3());
    const reach = box.isEmpty() ? 0.3 : box.getSize(new Vector3()).length() * 1.1;
    this.grid.update(pane, centre, reach, METRES[shownUnit(state)], state.night);
  }

  private resize(): void {
    const { clientWidth: width, clientHeight: height } = this.host;
    if (width === 0 || height === 0) return;
    this.renderer.setPixelRatio(this.ratio);
    this.renderer.setSize(width, height, false);
    this.arrange();
  }

  private arrange(): void {
    this.sheet.arrange(Math.max(this.host.clientWidth, 1), Math.max(this.host.clientHeight, 1), prefs.get(), editor.get().view);
    this.invalidate();
  }

  colours(): void {
    this.renderer.setClearColor(new Color(token("paper")));
    this.stage.colours();
    for (const view of this.parts.values()) view.colours();
    this.invalidate();
  }

  private heard(state: EditorState, before: EditorState): void {
    if (state.view !== before.view && prefs.get().layout === "one") this.arrange();
    if (state.night !== before.night) this.colours();
    if (state.section !== before.section) applySection(state.section);
    if (state.pick !== before.pick || state.view !== before.view || state.meshes !== before.meshes || state.section !== before.section) this.judge();
    if (MODEL.some((key) => state[key] !== before[key]) || state.session?.dragging !== before.session?.dragging || state.session?.part !== before.session?.part) this.sync();
    else if (state.session?.dragging !== true) this.invalidate("overlay");
    else this.answered ??= setTimeout(() => this.invalidate("overlay"), ANSWER);
  }

  /** In a drag the handles move with the answer, in one frame; only where that takes long do they go ahead of it. */
  private answered: ReturnType<typeof setTimeout> | null = null;

  private judging: ReturnType<typeof setTimeout> | null = null;

  /** Once hands rest: how much of the pick the view at work does not show. */
  private judge(): void {
    useUnseen.setState({ count: null });
    if (this.judging !== null) clearTimeout(this.judging);
    this.judging = setTimeout(() => {
      const { pick, session } = editor.get();
      const view = pick === null ? undefined : this.parts.get(pick.part);
      if (pick === null || view === undefined || session?.dragging) return;
      useUnseen.setState({ count: unseen(view, pick.kind, pick.elements, this.sight(this.pane)) });
    }, CALM);
  }

  private preferred(): void {
    const before = token("pick") + token("model") + token("model-edge");
    this.arrange();
    if (before !== this.coloured) {
      this.coloured = before;
      this.colours();
    }
  }

  private coloured = "";

  /** Make the scene what the store says. */
  sync(): void {
    const state = editor.get();
    const parts = state.build?.document.parts ?? [];
    for (const [id, view] of this.parts) {
      if (!parts.some((p) => p.id === id)) {
        this.scene.remove(view.group);
        view.dispose();
        this.parts.delete(id);
      }
    }
    for (const part of parts) this.syncPart(part, state);
    const ready = state.build !== null && parts.every((p) => p.id != null && state.meshes[p.id] !== undefined);
    if (ready && this.framed !== state.build?.id && (parts.length > 0 || (state.build?.document.boards?.length ?? 0) > 0)) {
      this.framed = state.build?.id ?? null;
      this.frame();
    }
    this.invalidate();
  }

  private syncPart(part: Part, state: EditorState): void {
    const id = part.id ?? "";
    const held = state.meshes[id];
    if (held === undefined) return;
    let view = this.parts.get(id);
    if (view === undefined) {
      view = new PartView();
      this.parts.set(id, view);
      this.scene.add(view.group);
    }
    const mesh = state.preview !== null && state.session?.part === id ? state.preview : held.mesh;
    if (view.mesh !== mesh && view.mesh?.cage.shape !== mesh.cage.shape) this.hover = null; // its number means another element now
    view.show(mesh);
    view.place(matrixOf(part, METRES[unitOf(state)]));
    view.group.visible = !part.hidden && (state.isolated === null || state.isolated.includes(id));
    view.ghosted = part.ghosted ?? false;
    // a trial that numbers elements anew shows itself, not what was picked for it
    const renumbered = mesh === state.preview && !keepsNumbers(state.session);
    const pick = state.pick?.part === id && !renumbered ? state.pick : null;
    view.pick(pick?.kind ?? state.pickKind, pick?.elements ?? null);
  }

  /** The view under the pointer, else the one at work. */
  get under(): ViewName {
    return this.pointing.under ?? editor.get().view;
  }

  bounds(): Box3 {
    const box = new Box3();
    for (const view of this.parts.values()) if (view.group.visible) box.union(view.bounds());
    return box;
  }

  frame(box = this.bounds()): void {
    if (box.isEmpty()) box.set(new Vector3(-0.2, 0, -0.2), new Vector3(0.2, 0.4, 0.2));
    const sizes = prefs.get().shown.sizes ? (editor.get().build?.document.sizes?.length ?? 0) : 0;
    this.sheet.frame(sizes === 0 ? box : new Box3(box.min.clone().setY(box.min.y - ROOM_OF_SIZES * (box.max.y - box.min.y)), box.max));
    this.invalidate();
  }

  /** What is picked, in the build; empty when nothing is. */
  pickBounds(): Box3 {
    const { pick } = editor.get();
    const view = pick === null ? undefined : this.parts.get(pick.part);
    return pick === null || view === undefined ? new Box3() : this.paper.boundsOf(view, pick);
  }

  /** Look straight at what is picked. */
  face(): void {
    const { pick } = editor.get();
    const view = pick === null ? undefined : this.parts.get(pick.part);
    const part = partOf(editor.get(), pick?.part ?? null);
    if (pick === null || view === undefined || part === null) return;
    const normal = this.paper.normalOf(view, pick);
    const box = this.pickBounds();
    if (normal.lengthSq() === 0 || box.isEmpty()) return;
    if (prefs.get().layout === "one") editor.set({ view: "perspective" });
    this.sheet.panes.solid.camera.face(box.getCenter(new Vector3()), normal);
    this.invalidate();
  }

  hit(pane: Pane, x: number, y: number, nth: number): Hit | null {
    const { pickKind, auto } = editor.get();
    return hitAt(x, y, auto ? "auto" : pickKind, this.sight(pane), nth, prefs.get().faceDots);
  }
}
