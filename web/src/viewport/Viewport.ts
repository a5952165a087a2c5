import { Box3, Vector3 } from "three";

import { measure } from "../api/measure";
import { Pointing } from "../interaction/pointing/Pointing";
import type { Views } from "../interaction/views";
import { asking } from "../model/session/asking";
import { useBrief } from "../model/brief/boardFit";
import { verticesOf } from "../model/picks/picks";
import { normalOf } from "../model/places/frames";
import { viewOf } from "../model/places/boardPlane";
import { prefs } from "../model/prefs";
import { useLaid } from "../model/wrap/layout";
import { boardsOf, editor, type EditorState, METRES, type Picked, unitOf, type ViewName } from "../model/store";
import { Boards } from "../scene/boards/Boards";
import { Overlay } from "../scene/overlay";
import type { PartView } from "../scene/PartView";
import { applySection } from "../scene/section";
import { Pane, Sheet } from "../scene/Sheet";
import { askedAt } from "../sync/build";
import { token } from "../theme/theme";
import { Canvas } from "./Canvas";
import { Frames } from "./Frames";
import { Judge } from "./Judge";
import { Paper } from "./Paper";
import { PartViews } from "./PartViews";

/** Room under the model for the lines of its sizes, in its heights. */
const ROOM_OF_SIZES = 0.14;
/** So long, in milliseconds, the handles of a drag wait for the answer. */
const ANSWER = 80;
/** The page is laid out anew within so many milliseconds. */
const KEEP = 400;

/** What of the state the model is drawn from; all else is drawn over it. */
const MODEL = ["build", "meshes", "preview", "swung", "moved", "trailing", "pick", "current", "pickKind", "auto", "isolated", "section", "night", "checker", "station"] as const satisfies readonly (keyof EditorState)[];

/** The views: draws on demand what the store says, and hands the pointer to whoever acts on it. */
export class Viewport implements Views {
  readonly sheet = new Sheet();
  readonly boards: Boards;

  private readonly canvas: Canvas;
  private readonly held: PartViews;
  private readonly frames: Frames;
  private readonly pointing: Pointing;
  private readonly paper: Paper;
  private readonly judge: Judge;
  private readonly observer: ResizeObserver;
  private readonly unsubscribe: (() => void)[];
  private framed: string | null = null;
  /** when that was framed first */
  private begun = -Infinity;
  private coloured = "";
  private keeping = false;
  /** in a drag the handles move with the answer, in one frame; only where that takes long do they go ahead of it */
  private answered: ReturnType<typeof setTimeout> | null = null;

  constructor(
    private readonly host: HTMLElement,
    overlay: HTMLCanvasElement,
  ) {
    this.canvas = Canvas.on(host);
    this.held = new PartViews(this.canvas.scene);
    this.boards = new Boards(() => this.sync());
    this.canvas.scene.add(this.boards.group);
    this.frames = new Frames({ sheet: this.sheet, software: this.canvas.software, render: (pane) => this.render(pane), over: (drawn, began) => this.over(drawn, began) });
    this.pointing = new Pointing(this, overlay);
    this.paper = new Paper(this, this.pointing, new Overlay(overlay, this.sheet));
    this.judge = new Judge(this);
    this.observer = new ResizeObserver(() => this.resize());
    this.observer.observe(host);
    this.unsubscribe = [
      editor.subscribe((state, before) => this.heard(state, before)),
      prefs.subscribe((now, before) => (now.coarse === before.coarse ? this.preferred() : this.resize())),
      useLaid.subscribe((now, before) => {
        if (now.layout !== before.layout) this.sync();
      }),
      useBrief.subscribe(() => this.invalidate("overlay")),
      asking.subscribe(() => this.invalidate("overlay")),
    ];
    this.colours();
    this.resize();
    this.sync();
  }

  dispose(): void {
    this.pointing.dispose();
    this.observer.disconnect();
    this.judge.dispose();
    this.frames.dispose();
    if (this.answered !== null) clearTimeout(this.answered);
    for (const off of this.unsubscribe) off();
    this.held.dispose();
    this.boards.dispose();
    this.canvas.leave();
  }

  get parts(): ReadonlyMap<string, PartView> {
    return this.held.views;
  }

  /** How often something was drawn. */
  get drawn(): number {
    return this.frames.count;
  }

  /** The view at work. */
  get pane(): Pane {
    return this.sheet.of(editor.get().view);
  }

  /** The view under the pointer, else the one at work. */
  get under(): ViewName {
    return this.pointing.under ?? editor.get().view;
  }

  invalidate(what: "all" | "overlay" | Pane = "all"): void {
    this.frames.invalidate(what);
  }

  bounds(): Box3 {
    return this.held.bounds();
  }

  private render(pane: Pane): void {
    this.canvas.render(pane, { sheet: this.sheet, parts: this.held, boards: this.boards, movedBoard: this.pointing.marks.movedBoard });
  }

  private over(drawn: readonly Pane[], began: number): void {
    if (this.answered !== null) clearTimeout(this.answered);
    this.answered = null;
    if (drawn.length > 0) {
      measure("rhytonic:drawn", began);
      const asked = askedAt();
      if (asked !== null) this.canvas.whenDone(() => measure("rhytonic:shown", asked));
    }
    this.paper.draw(this.canvas.screen);
  }

  private resize(): void {
    const { clientWidth: width, clientHeight: height } = this.host;
    if (width === 0 || height === 0) return;
    const before = this.sheet.width;
    this.canvas.resize(width, height);
    this.arrange();
    if (width !== before && performance.now() - this.begun < KEEP) this.frame(); // what was just opened, not what stood there before
    else if (this.keeping && width !== before) this.sheet.widen(before / width);
    this.keeping = false;
  }

  /** Other room is given to the views next: what is seen from side to side stays so. */
  keepExtent(): void {
    this.keeping = true;
    setTimeout(() => (this.keeping = false), KEEP);
  }

  private arrange(): void {
    this.sheet.arrange(Math.max(this.host.clientWidth, 1), Math.max(this.host.clientHeight, 1), prefs.get(), editor.get().view);
    this.invalidate();
  }

  private colours(): void {
    this.canvas.colours();
    this.held.colours();
    this.invalidate();
  }

  private heard(state: EditorState, before: EditorState): void {
    if (state.view !== before.view && prefs.get().layout === "one") this.arrange();
    if (state.night !== before.night) this.colours();
    if (state.section !== before.section) applySection(state.section);
    if (state.pick !== before.pick || state.view !== before.view || state.meshes !== before.meshes || state.section !== before.section) this.judge.ask();
    if (MODEL.some((key) => state[key] !== before[key]) || state.session?.dragging !== before.session?.dragging || state.session?.part !== before.session?.part) this.sync();
    else if (state.session?.dragging !== true) this.invalidate("overlay");
    else this.answered ??= setTimeout(() => this.invalidate("overlay"), ANSWER);
  }

  private preferred(): void {
    const before = token("pick") + token("model") + token("model-edge");
    this.arrange();
    if (before !== this.coloured) {
      this.coloured = before;
      this.colours();
    }
  }

  /** Whether there is more to look at than a single point. */
  private hasExtent(): boolean {
    const box = this.bounds();
    return !box.isEmpty() && box.getSize(new Vector3()).length() > 1e-9;
  }

  /** Make the scene what the store says. */
  sync(): void {
    const state = editor.get();
    if (this.held.sync(state)) this.pointing.marks.hover = this.pointing.marks.way = null; // its number means another element now
    const parts = state.build?.document.parts ?? [];
    const ready = state.build !== null && parts.every((p) => p.id != null && state.meshes[p.id] !== undefined);
    if (ready && this.framed !== state.build?.id && (this.hasExtent() || (state.build?.document.boards?.length ?? 0) > 0)) {
      this.framed = state.build?.id ?? null;
      this.begun = performance.now();
      this.frame();
    }
    this.invalidate();
  }

  /** The model and the boards that stand in views. */
  private everything(): Box3 {
    const box = this.bounds();
    const { build } = editor.get();
    for (const board of boardsOf(editor.get())) {
      if (build === null || board.hidden || viewOf(board) === null) continue;
      for (const corner of this.boards.standing(board, METRES[unitOf(editor.get())]) ?? []) box.expandByPoint(corner);
    }
    return box;
  }

  frame(box = this.everything()): void {
    if (box.isEmpty()) box.set(new Vector3(-0.2, 0, -0.2), new Vector3(0.2, 0.4, 0.2));
    const sizes = prefs.get().shown.sizes ? (editor.get().build?.document.sizes?.length ?? 0) : 0;
    this.sheet.frame(sizes === 0 ? box : new Box3(box.min.clone().setY(box.min.y - ROOM_OF_SIZES * (box.max.y - box.min.y)), box.max));
    this.invalidate();
  }

  /** What is picked, in the build; empty when nothing is. */
  pickBounds(): Box3 {
    const { pick } = editor.get();
    const view = pick === null ? undefined : this.parts.get(pick.part);
    return pick === null || view === undefined ? new Box3() : boundsOf(view, pick);
  }

  /** Look straight at what is picked. */
  face(): void {
    const { pick } = editor.get();
    const view = pick === null ? undefined : this.parts.get(pick.part);
    const mesh = view?.mesh?.cage;
    if (pick === null || view === undefined || mesh === undefined) return;
    const normal = normalOf(mesh, pick).transformDirection(view.group.matrix);
    const box = this.pickBounds();
    if (normal.lengthSq() === 0 || box.isEmpty()) return;
    if (prefs.get().layout === "one") editor.set({ view: "perspective" });
    this.sheet.panes.solid.camera.face(box.getCenter(new Vector3()), normal);
    this.invalidate();
  }
}

/** How far picked elements of a part reach, in the build. */
function boundsOf(view: PartView, pick: Picked): Box3 {
  const mesh = view.mesh?.cage;
  const box = new Box3();
  if (mesh === undefined) return box;
  const v = new Vector3();
  for (const i of verticesOf(mesh, pick.kind, pick.elements)) if (i < mesh.shape.vertexCount) box.expandByPoint(v.fromArray(mesh.positions, 3 * i).applyMatrix4(view.group.matrix));
  return box;
}
