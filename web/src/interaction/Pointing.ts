import { asking } from "../model/session/asking";
import { usePointer } from "../model/session/pointer";
import { prefs } from "../model/prefs";
import { editor, type EditorState, partOf, type Triple, type ViewName } from "../model/store";
import { bandWay } from "../scene/bandWay";
import type { Pointer } from "../scene/pointer";
import type { Pane } from "../scene/Sheet";
import { settleFields } from "../sync/expression";
import { boardHandleAt } from "../tools/boardHandles";
import { type Handle, handle } from "../tools/Handle";
import { PivotHandles } from "../tools/pivot";
import { PlacementHandles } from "../tools/placement";
import { SectionHandle } from "../tools/sectionHandle";
import { toolOf } from "../tools/toolbox";
import { Asker } from "./Asker";
import { Clicks } from "./Clicks";
import { commandFor, TYPED } from "./commands";
import { focusValueField } from "./focus";
import { FormDrawer } from "./FormDrawer";
import { AskPoint, BoardDrag } from "./gestures/boardDrag";
import type { Gesture, Modifiers } from "./gestures/Gesture";
import { Divide, Pan, Turn } from "./gestures/navigate";
import { PickGesture } from "./gestures/pick";
import { BrushSize, BrushStroke, PointPick } from "./gestures/shape";
import { DrawForm, DrawPath, HandleDrag, PivotDrag, PlacementDrag, SectionDrag } from "./gestures/work";
import { Marks } from "./Marks";
import { PathDrawer } from "./PathDrawer";
import { storeAndGoOn, stored } from "./session/storing";
import { endHover, tryHover, tryValues } from "./session/trial";
import { hitIn, placeOf, type Views } from "./views";

/** The rim of a 3D view that turns it, in pixels. */
const RIM = 12;

type Seen = Pointer;

/** Pointer and keys over the views. A press on a handle is a drag; any other is a pick, its modifiers read on release. */
export class Pointing {
  private gesture: Gesture | null = null;
  /** where the pressed pane began when it was pressed */
  private corner: readonly [number, number] = [0, 0];
  private space = false;
  /** the view under the pointer */
  under: ViewName | null = null;
  private waiting: Seen | null = null;
  /** where the pointer was seen last */
  private last: Seen | null = null;
  private deeds: Promise<unknown> = Promise.resolve();
  private pending = 0;
  /** digits pressed while something else had its turn */
  private typed = "";
  private readonly off = new AbortController();
  /** what hands are over, and what they hold */
  readonly marks = new Marks();
  readonly section = new SectionHandle();
  readonly pivot = new PivotHandles();
  readonly placement = new PlacementHandles();
  readonly drawer: FormDrawer;
  readonly tracer: PathDrawer;
  readonly asker: Asker;
  private readonly clicks: Clicks;

  constructor(
    private readonly views: Views,
    private readonly canvas: HTMLCanvasElement,
  ) {
    this.drawer = new FormDrawer(views);
    this.tracer = new PathDrawer(views);
    this.asker = new Asker(views);
    this.clicks = new Clicks(views);
    const options = { signal: this.off.signal };
    const on = <K extends keyof HTMLElementEventMap>(name: K, hear: (e: HTMLElementEventMap[K]) => void) => canvas.addEventListener(name, hear, options);
    on("pointerdown", (e) => this.down(e));
    on("pointermove", (e) => this.moved(e));
    on("pointerup", (e) => void this.up(e));
    on("dblclick", (e) => {
      const { session, drawing, path } = editor.get();
      const { pane, ...at } = this.located(e);
      if (session === null && drawing === null && path === null) void this.inTurn(() => this.clicks.loop(pane, at, e.ctrlKey || e.metaKey, e.shiftKey));
    });
    on("pointercancel", () => this.abandon());
    on("lostpointercapture", () => this.abandon());
    on("pointerleave", () => this.leave());
    on("contextmenu", (e) => e.preventDefault());
    on("blur", () => {
      this.space = false;
      this.abandon();
    });
    on("keydown", (e) => this.key(e));
    on("keyup", (e) => {
      if (e.key === " ") this.space = false;
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
    if (this.gesture !== null) return;
    this.canvas.focus({ preventScroll: true });
    this.canvas.setPointerCapture(e.pointerId);
    const { pane, ...at } = this.located(e);
    this.corner = [pane.x, pane.y];
    if (editor.get().view !== pane.view) editor.set({ view: pane.view });
    this.gesture = this.begin(e, pane, at);
    this.marks.hover = this.marks.way = null; // the pointer does something now
  }

  private begin(e: PointerEvent, pane: Pane, at: Pointer): Gesture | null {
    const flat = pane.camera.isFlat;
    if (e.button === 1 || (e.button === 0 && this.space) || (e.button === 2 && flat)) return new Pan(this.views, pane, at);
    if (e.button === 2) return new Turn(this.views, pane, at);
    if (e.button !== 0) return null;
    const divider = this.views.sheet.dividerAt(at.x + pane.x, at.y + pane.y);
    if (divider !== null) return new Divide(this.views, pane, divider);
    if (asking.get().asking !== null) return new AskPoint(this.asker, pane, at);
    const { drawing, path, session, section, pivoting, placing, current } = editor.get();
    if (path !== null) return new DrawPath(this.tracer, pane, at, (deed) => this.inTurn(deed));
    if (drawing !== null) return new DrawForm(this.drawer, pane, at);
    if (section !== null && this.section.handleAt(section, this.views.bounds(), pane.camera, at)) return new SectionDrag(this.views, this.section, pane, section, at);
    const part = partOf(editor.get(), current);
    const held = part === null ? undefined : this.views.parts.get(part.id ?? "");
    if (pivoting && part !== null && held !== undefined) {
      const handle = this.pivot.handleAt(part, held, pane.camera, at);
      if (handle !== null) {
        this.pivot.press(part, held, this.views.parts, this.views.boards, pane.camera, handle, at);
        return new PivotDrag(this.views, this.pivot, pane, part.id ?? "");
      }
    }
    const whole = placing && session === null ? this.placement.handleAt(pane.camera, at) : null;
    if (whole !== null) {
      this.placement.press(this.views.parts, this.views.boards, pane.camera, whole, at);
      return new PlacementDrag(this.views, this.placement, pane, whole);
    }
    const place = placeOf(this.views, session, pane);
    if (place !== null) {
      const tool = toolOf(place.session);
      const handle = tool.handleAt(place, at);
      if (handle !== null) return new HandleDrag(this.views, pane, handle, at, tool.instead?.(place, handle) ?? null, () => this.alive());
    }
    if (session?.tool === "brush") {
      if (at.invert) return new BrushSize(this.views, pane, at);
      return BrushStroke.at(this.views, pane, at, (deed) => this.inTurn(deed)) ?? (flat ? null : new Turn(this.views, pane, at));
    }
    const points = session?.tool === "lattice" ? PointPick.at(this.views, this.marks, pane, at) : null;
    if (points !== null && (flat || !this.onRim(pane, at))) return points;
    const board = boardHandleAt(this.views.boards, pane, at);
    if (board !== null) return new BoardDrag(this.views, this.marks, pane, board, at);
    if (!flat && this.onRim(pane, at)) return new Turn(this.views, pane, at);
    return new PickGesture(this.views, this.marks, pane, at, (to, keys) => this.click(pane, to, keys), (deed) => this.inTurn(deed));
  }

  private onRim(pane: Pane, at: Pointer): boolean {
    const { width, height } = pane.camera;
    return at.x < RIM || at.y < RIM || at.x > width - RIM || at.y > height - RIM;
  }

  private within(e: PointerEvent): Pointer {
    const at = this.onCanvas(e);
    return { ...at, x: at.x - this.corner[0], y: at.y - this.corner[1] };
  }

  private moved(e: PointerEvent): void {
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
    const gesture = this.gesture;
    this.gesture = null;
    await gesture?.up(this.within(e), { shift: e.shiftKey, alt: e.altKey, ctrl: e.ctrlKey || e.metaKey });
    if (gesture !== null && this.under !== null) this.lookSoon(this.onCanvas(e));
  }

  private async click(pane: Pane, at: Pointer, keys: Modifiers): Promise<void> {
    await this.inTurn(async () => {
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

  /** Gestures act in the order they were made, however long the one before takes to be stored; while the server is away, hands
   * go on. */
  private inTurn(deed: () => unknown): Promise<unknown> {
    this.pending += 1;
    this.deeds = this.deeds
      .then(() => Promise.race([deed(), away()]))
      .catch(() => undefined)
      .finally(() => (this.pending -= 1));
    return this.deeds;
  }

  /** What lies under a resting pointer. */
  private look(): void {
    const seen = this.waiting;
    this.waiting = null;
    if (seen === null || this.gesture !== null) return;
    const { pane, ...place } = this.views.sheet.locate(seen.x, seen.y);
    this.under = pane.view;
    const at: Pointer = { ...seen, ...place };
    this.tellPlace(pane, at);
    const divider = this.views.sheet.dividerAt(seen.x, seen.y);
    const { session, drawing, path } = editor.get();
    if (asking.get().asking !== null) {
      this.asker.hover(pane, at);
      this.canvas.style.cursor = "crosshair";
      return;
    }
    if (path !== null) {
      this.tracer.hover(pane, at);
      this.canvas.style.cursor = "crosshair";
      return;
    }
    if (drawing !== null) {
      this.drawer.hover(pane, at);
      this.canvas.style.cursor = "crosshair";
      return;
    }
    this.marks.hotHandle = divider === null ? this.handleAt(pane, at) : null;
    this.marks.hotBoard = this.marks.hotHandle === null ? boardHandleAt(this.views.boards, pane, at) : null;
    const free = this.marks.hotHandle === null && this.marks.hotBoard === null && divider === null;
    const shaping = session?.tool === "brush" || session?.tool === "lattice"; // there it is not elements that are meant
    this.marks.hover = free && !shaping ? hitIn(this.views, pane, at.x, at.y, 0) : null;
    this.marks.way = session === null ? this.wayUnder(pane, at) : null;
    const tooled = placeOf(this.views, session, pane);
    const shown = tooled !== null && free ? (toolOf(tooled.session).hover?.(tooled, at) ?? null) : null;
    if (shown !== null) tryHover(shown);
    const rim = free && !pane.camera.isFlat && this.onRim(pane, at);
    this.canvas.style.cursor = divider !== null ? (divider === "across" ? "col-resize" : divider === "down" ? "row-resize" : "move") : rim ? "all-scroll" : free ? (session?.tool === "brush" ? "crosshair" : "default") : "grab";
    this.views.invalidate("overlay");
  }

  private wayUnder(pane: Pane, at: Pointer): Marks["way"] {
    const { hover } = this.marks;
    const view = hover?.kind === "faces" ? this.views.parts.get(hover.part) : undefined;
    const mesh = view?.mesh?.cage;
    return hover === null || view === undefined || mesh === undefined ? null : { pane, line: bandWay(mesh, hover.element, view, pane.camera, at.x, at.y).line };
  }

  private handleAt(pane: Pane, at: Pointer): Handle | null {
    const { session, section, pivoting, placing, current } = editor.get();
    if (section !== null && this.section.handleAt(section, this.views.bounds(), pane.camera, at)) return handle("section");
    const part = partOf(editor.get(), current);
    const held = part === null ? undefined : this.views.parts.get(part.id ?? "");
    if (pivoting && part !== null && held !== undefined) return this.pivot.handleAt(part, held, pane.camera, at);
    const whole = placing && session === null ? this.placement.handleAt(pane.camera, at) : null;
    if (whole !== null) return whole;
    const place = placeOf(this.views, session, pane);
    return place === null ? null : toolOf(place.session).handleAt(place, at);
  }

  /** Where the pointer is in the build: two coordinates in a flat view, the point of the model or floor under it in 3D. */
  private tellPlace(pane: Pane, at: Pointer): void {
    const { camera } = pane;
    let point = camera.onPlane(at.x, at.y).toArray() as Triple;
    if (camera.isFlat) {
      const { eye } = camera.basis();
      point = point.map((v, i) => (Math.abs(eye.getComponent(i)) > 0.5 ? Number.NaN : v)) as Triple;
    } else {
      const { origin, direction } = camera.ray(at.x, at.y);
      const t = direction.y < -1e-6 ? -origin.y / direction.y : Number.NaN;
      point = [origin.x + t * direction.x, 0, origin.z + t * direction.z];
    }
    usePointer.setState({ at: point });
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

  private wheel(e: WheelEvent): void {
    e.preventDefault();
    const { pane, ...at } = this.located(e);
    if (prefs.get().pointer === "trackpad" && !e.ctrlKey) pane.camera.pan(-e.deltaX, -e.deltaY);
    else pane.camera.zoom(Math.exp(Math.min(Math.max(e.deltaY, -200), 200) * (e.ctrlKey ? 0.008 : 0.0016)), at.x, at.y);
    this.views.sheet.refresh();
    this.views.invalidate(pane.camera.isFlat ? "all" : pane);
  }

  private key(e: KeyboardEvent): void {
    if (e.key === " ") {
      this.space = true;
      e.preventDefault();
      return;
    }
    if (this.pending > 0 && this.gesture === null) {
      if (commandFor(e) !== undefined || TYPED.test(e.key)) e.preventDefault();
      void this.inTurn(() => this.act(e, true));
    } else {
      void this.act(e, false);
    }
  }

  /** Digits that waited go into the value field together: once it has the focus, what is typed next goes there by itself. */
  private writeTyped(): void {
    if (this.typed === "") return;
    focusValueField();
    document.execCommand("insertText", false, this.typed);
    this.typed = "";
  }

  private async act(e: KeyboardEvent, late: boolean): Promise<void> {
    if (late) await new Promise((r) => requestAnimationFrame(() => setTimeout(r, 0))); // until what the last gesture opened is drawn
    // no digit, sign or point is a shortcut: they open the value field, which takes every key from then on
    const { session, drawing, path } = editor.get();
    if ((session !== null || drawing !== null || path !== null) && !e.ctrlKey && !e.metaKey && !e.altKey && TYPED.test(e.key)) {
      if (!late) focusValueField();
      else {
        this.typed += e.key;
        if (this.pending < 2) this.writeTyped(); // else with what was pressed after it
      }
      return;
    }
    if (late) this.writeTyped();
    if (e.key === "Tab" && (session !== null || drawing !== null || path !== null)) {
      e.preventDefault();
      focusValueField();
      return;
    }
    const command = commandFor(e);
    if (command === undefined) return;
    e.preventDefault();
    if (this.gesture !== null) {
      if (command.id === "undo" || command.id === "cancel") {
        const gesture = this.gesture;
        this.gesture = null;
        gesture.cancel();
        this.views.sync();
      } else this.gesture.key?.(command.id);
      return;
    }
    const run = async () => {
      if (command.group !== "view") {
        await settleFields(); // what was typed just before counts
        await stored(); // and is stored first
      }
      await command.run();
    };
    if (late) {
      const typing = document.activeElement !== this.canvas;
      await run();
      if (typing && command.id === "accept") this.canvas.focus({ preventScroll: true });
    } else void this.inTurn(run);
  }
}

/** Resolves once the server or its database cannot be reached. */
function away(): Promise<void> {
  if (editor.get().save.kind === "waiting") return Promise.resolve();
  return new Promise((resolve) => {
    const off = editor.subscribe((state) => {
      if (state.save.kind === "waiting") {
        off();
        resolve();
      }
    });
  });
}

