import { asking } from "../../model/session/asking";
import { useDragged } from "../../model/session/dragged";
import { usePointer } from "../../model/session/pointer";
import { prefs } from "../../model/prefs";
import { editor, type EditorState, type ViewName } from "../../model/store";
import { bandWay } from "../../scene/bandWay";
import type { Pointer } from "../../scene/pointer";
import type { Pane } from "../../scene/Sheet";
import { settleFields } from "../../sync/expression";
import { boardHandleAt } from "../../tools/boardHandles";
import { toolOf } from "../../tools/toolbox";
import { Asker } from "../brief/Asker";
import { FormDrawer } from "../curves/FormDrawer";
import { PathDrawer } from "../curves/PathDrawer";
import { AskPoint, BoardDrag } from "../gestures/boardDrag";
import type { Gesture, Modifiers } from "../gestures/Gesture";
import { Divide, Pan, Turn } from "../gestures/navigate";
import { pressesOf } from "../gestures/ofTools";
import { PickGesture } from "../gestures/pick";
import { DrawForm, DrawPath, HandleDrag } from "../gestures/work";
import { Marks } from "../Marks";
import { storeAndGoOn, stored } from "../session/storing";
import { endHover, tryHover, tryValues } from "../session/trial";
import { hitIn, placeOf, type Views } from "../views";
import { Clicks } from "./Clicks";
import { Fingers } from "./Fingers";
import { Grips } from "./Grips";
import { KeysOverViews } from "./KeysOverViews";
import { tellPlace } from "./tellPlace";
import { Turns } from "./Turns";

/** The rim of a 3D view that turns it, in pixels; a finger needs more of it. */
const RIM = 12;
const FINGER_RIM = 36;
const DIVIDES = { across: "col-resize", down: "row-resize", both: "move" } as const;

type Seen = Pointer;

/** What has the views to itself while it goes on: every press and every move there is its. */
interface Alone {
  press(pane: Pane, at: Pointer): Gesture;
  hover(pane: Pane, at: Pointer): void;
}

/** Pointer and keys over the views. A press on a handle is a drag; any other is a pick, its modifiers read on release. */
export class Pointing {
  private gesture: Gesture | null = null;
  /** where the pressed pane began when it was pressed */
  private corner: readonly [number, number] = [0, 0];
  /** the view under the pointer */
  under: ViewName | null = null;
  private waiting: Seen | null = null;
  /** where the pointer was seen last */
  private last: Seen | null = null;
  private readonly off = new AbortController();
  /** what hands are over, and what they hold */
  readonly marks = new Marks();
  readonly grips: Grips;
  readonly drawer: FormDrawer;
  readonly tracer: PathDrawer;
  readonly asker: Asker;
  private readonly clicks: Clicks;
  private readonly turns = new Turns();
  private readonly keys: KeysOverViews;
  private readonly fingers: Fingers;

  constructor(
    private readonly views: Views,
    private readonly canvas: HTMLCanvasElement,
  ) {
    this.fingers = new Fingers(views);
    this.grips = new Grips(views, () => this.alive());
    this.drawer = new FormDrawer(views);
    this.tracer = new PathDrawer(views);
    this.asker = new Asker(views);
    this.clicks = new Clicks(views);
    this.keys = new KeysOverViews(canvas, this.turns, { gesture: () => this.gesture, giveUp: () => this.giveUp() });
    const options = { signal: this.off.signal };
    const on = <K extends keyof HTMLElementEventMap>(name: K, hear: (e: HTMLElementEventMap[K]) => void) => canvas.addEventListener(name, hear, options);
    on("pointerdown", (e) => this.down(e));
    on("pointermove", (e) => this.moved(e));
    on("pointerup", (e) => void this.up(e));
    on("dblclick", (e) => {
      const { session, drawing, path } = editor.get();
      const { pane, ...at } = this.located(e);
      if (session === null && drawing === null && path === null) void this.turns.take(() => this.clicks.loop(pane, at, e.ctrlKey || e.metaKey, e.shiftKey));
    });
    on("pointercancel", (e) => {
      this.fingers.lift(e.pointerId);
      this.abandon();
    });
    on("lostpointercapture", () => this.abandon());
    on("pointerleave", () => this.leave());
    on("contextmenu", (e) => e.preventDefault());
    on("blur", () => {
      this.keys.space = false;
      this.abandon();
    });
    on("keydown", (e) => this.keys.down(e));
    on("keyup", (e) => {
      if (e.key === " ") this.keys.space = false;
    });
    this.off.signal.addEventListener("abort", editor.subscribe((now, before) => this.renumbered(now, before)));
    canvas.addEventListener("wheel", (e) => this.wheel(e), { ...options, passive: false });
  }

  dispose(): void {
    this.off.abort();
  }

  private onCanvas(e: MouseEvent): Seen {
    const box = this.canvas.getBoundingClientRect();
    return { x: e.clientX - box.left, y: e.clientY - box.top, fine: e.shiftKey, invert: e.ctrlKey || e.metaKey, ...(e instanceof PointerEvent && e.pointerType === "pen" ? { pressure: e.pressure } : {}) };
  }

  private located(e: MouseEvent): Pointer & { pane: Pane } {
    const at = this.onCanvas(e);
    return { ...at, ...this.views.sheet.locate(at.x, at.y) };
  }

  private alive(): boolean {
    return document.activeElement === this.canvas;
  }

  private down(e: PointerEvent): void {
    if (e.pointerType === "touch" && (this.fingers.press(e.pointerId, this.onCanvas(e)) || this.fingers.hold)) {
      this.canvas.setPointerCapture(e.pointerId);
      this.giveUp();
      return;
    }
    if (this.gesture !== null) return;
    useDragged.setState({ told: null });
    this.canvas.focus({ preventScroll: true });
    this.canvas.setPointerCapture(e.pointerId);
    const { pane, ...at } = this.located(e);
    this.corner = [pane.x, pane.y];
    if (editor.get().view !== pane.view) editor.set({ view: pane.view });
    this.gesture = this.begin(e, pane, at);
    this.marks.hover = this.marks.way = null; // the pointer does something now
  }

  private begin(e: PointerEvent, pane: Pane, at: Pointer): Gesture | null {
    const { views, marks } = this;
    const flat = pane.camera.isFlat;
    if (e.button === 1 || (e.button === 0 && this.keys.space) || (e.button === 2 && flat)) return new Pan(views, pane, at);
    if (e.button === 2) return new Turn(views, pane, at);
    if (e.button !== 0) return null;
    const divider = views.sheet.dividerAt(at.x + pane.x, at.y + pane.y);
    if (divider !== null) return new Divide(views, pane, divider);
    const alone = this.alone();
    if (alone !== null) return alone.press(pane, at);
    const grip = this.grips.at(pane, at);
    if (grip !== null) return grip.hold();
    const onRim = this.onRim(pane, at, e.pointerType === "touch" ? FINGER_RIM : RIM);
    const own = pressesOf(editor.get().session);
    if (own !== null && (own.overRim || !onRim)) {
      const taken = own.begin({ views, marks, pane, at, inTurn: this.turns.take });
      if (taken !== undefined) return taken;
    }
    const board = boardHandleAt(views.boards, pane, at);
    if (board !== null) return new BoardDrag(views, marks, pane, board, at);
    if (onRim) return new Turn(views, pane, at);
    return new PickGesture(views, marks, pane, at, (to, keys) => this.click(pane, to, keys), this.turns.take);
  }

  private alone(): Alone | null {
    const { path, drawing } = editor.get();
    if (asking.get().asking !== null) return { press: (pane, at) => new AskPoint(this.asker, pane, at), hover: (pane, at) => this.asker.hover(pane, at) };
    if (path !== null) return { press: (pane, at) => new DrawPath(this.tracer, pane, at, this.turns.take), hover: (pane, at) => this.tracer.hover(pane, at) };
    if (drawing !== null) return { press: (pane, at) => new DrawForm(this.drawer, pane, at), hover: (pane, at) => this.drawer.hover(pane, at) };
    return null;
  }

  /** Whether the pointer is where a press turns a 3D view. */
  private onRim({ camera }: Pane, at: Pointer, rim = RIM): boolean {
    const { width, height } = camera;
    return !camera.isFlat && (at.x < rim || at.y < rim || at.x > width - rim || at.y > height - rim);
  }

  private within(e: PointerEvent): Pointer {
    const at = this.onCanvas(e);
    return { ...at, x: at.x - this.corner[0], y: at.y - this.corner[1] };
  }

  private moved(e: PointerEvent): void {
    if (e.pointerType === "touch") this.fingers.move(e.pointerId, this.onCanvas(e));
    if (this.fingers.hold) return;
    if (this.gesture !== null) {
      this.gesture.move(this.within(e));
      return;
    }
    this.lookSoon(this.onCanvas(e));
  }

  private lookSoon(at: Seen): void {
    if (this.waiting === null) requestAnimationFrame(() => this.look());
    this.waiting = at;
    this.last = at;
  }

  /** What a click would do is shown by the numbers of now, though the pointer rests. */
  private renumbered(now: EditorState, before: EditorState): void {
    const { session } = now;
    if (this.last !== null && session !== null && session.hover !== null && session.values !== before.session?.values && session.hover === before.session?.hover) this.lookSoon(this.last);
  }

  private async up(e: PointerEvent): Promise<void> {
    const held = this.fingers.hold;
    this.fingers.lift(e.pointerId);
    if (held) return;
    const gesture = this.gesture;
    this.gesture = null;
    await gesture?.up(this.within(e), { shift: e.shiftKey, alt: e.altKey, ctrl: e.ctrlKey || e.metaKey });
    if (gesture !== null && this.under !== null) this.lookSoon(this.onCanvas(e));
  }

  private async click(pane: Pane, at: Pointer, keys: Modifiers): Promise<void> {
    await this.turns.take(async () => {
      await settleFields(); // a number typed just before is meant
      await stored(); // and what the click before stores is what this one is made on
      const place = placeOf(this.views, editor.get().session, pane);
      const clicked = place === null ? null : (toolOf(place.session).click?.(place, at) ?? null);
      if (clicked !== null) {
        if (clicked.stores) await storeAndGoOn(clicked.values);
        else tryValues(clicked.values, false);
      } else if (keys.ctrl) await this.clicks.path(pane, at);
      else await this.clicks.one(pane, at, keys.shift, keys.alt);
    });
  }

  /** What lies under a resting pointer. */
  private look(): void {
    const seen = this.waiting;
    this.waiting = null;
    if (seen === null || this.gesture !== null) return;
    const { pane, ...place } = this.views.sheet.locate(seen.x, seen.y);
    this.under = pane.view;
    const at: Pointer = { ...seen, ...place };
    tellPlace(pane, at);
    const alone = this.alone();
    if (alone !== null) {
      alone.hover(pane, at);
      this.canvas.style.cursor = "crosshair";
      return;
    }
    const divider = this.views.sheet.dividerAt(seen.x, seen.y);
    const { session } = editor.get();
    const own = pressesOf(session);
    this.marks.hotHandle = divider === null ? (this.grips.at(pane, at)?.handle ?? null) : null;
    this.marks.hotBoard = this.marks.hotHandle === null ? boardHandleAt(this.views.boards, pane, at) : null;
    const free = this.marks.hotHandle === null && this.marks.hotBoard === null && divider === null;
    this.marks.hover = free && own === null ? hitIn(this.views, pane, at.x, at.y, 0) : null;
    this.marks.way = session === null ? this.wayUnder(pane, at) : null;
    const tooled = placeOf(this.views, session, pane);
    const shown = tooled !== null && free ? (toolOf(tooled.session).hover?.(tooled, at) ?? null) : null;
    if (shown !== null) tryHover(shown);
    const overFree = this.onRim(pane, at) ? "all-scroll" : (own?.cursor ?? "default");
    this.canvas.style.cursor = divider !== null ? DIVIDES[divider] : free ? overFree : "grab";
    this.views.invalidate("overlay");
  }

  private wayUnder(pane: Pane, at: Pointer): Marks["way"] {
    const { hover } = this.marks;
    const view = hover?.kind === "faces" ? this.views.parts.get(hover.part) : undefined;
    const mesh = view?.mesh?.cage;
    return hover === null || view === undefined || mesh === undefined ? null : { pane, line: bandWay(mesh, hover.element, view, pane.camera, at.x, at.y).line };
  }

  private leave(): void {
    this.under = null;
    this.last = null;
    this.marks.hover = this.marks.way = null;
    usePointer.setState({ at: null });
    endHover();
    this.views.invalidate("overlay");
  }

  /** Lost capture, a cancelled pointer and lost focus act as Esc. Focus that went to the value field takes the drag over. */
  private abandon(): void {
    const gesture = this.gesture;
    if (gesture === null) return;
    if (gesture instanceof HandleDrag && !this.alive()) {
      gesture.handOver();
      return;
    }
    this.gesture = null;
    gesture.cancel();
  }

  private giveUp(): void {
    const gesture = this.gesture;
    this.gesture = null;
    gesture?.cancel();
    this.views.sync();
  }

  private wheel(e: WheelEvent): void {
    e.preventDefault();
    const { pane, ...at } = this.located(e);
    if (prefs.get().pointer === "trackpad" && !e.ctrlKey) pane.camera.pan(-e.deltaX, -e.deltaY);
    else pane.camera.zoom(Math.exp(Math.min(Math.max(e.deltaY, -200), 200) * (e.ctrlKey ? 0.008 : 0.0016)), at.x, at.y);
    this.views.sheet.refresh();
    this.views.invalidate(pane.camera.isFlat ? "all" : pane);
  }
}
