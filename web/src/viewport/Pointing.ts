import { asking } from "../state/asking";
import { pickLoop, pickPath } from "../state/pickRules";
import { idsOf, setPick } from "../state/picks";
import { usePointer } from "../state/pointer";
import { prefs } from "../state/prefs";
import { accept, endHover } from "../state/session";
import { editor, partOf, type Triple, type ViewName } from "../state/store";
import { commandFor } from "../tools/keys";
import type { Pointer } from "../tools/Tool";
import { focusValueField } from "../tools/valueField";
import type { Gesture, Modifiers } from "./gestures/Gesture";
import { Divide, Pan, Turn } from "./gestures/navigate";
import { PickGesture } from "./gestures/pick";
import { AskPoint, BoardDrag } from "./gestures/brief";
import { DrawForm, HandleDrag, PivotDrag, SectionDrag } from "./gestures/work";
import { boardHandleAt } from "./boards/handles";
import { nearestEdgeOf } from "./hit";

import type { Pane } from "./Sheet";
import type { Viewport } from "./Viewport";

/** What opens the value field. */
const TYPED = /^[0-9.,+\-*/]$/;
/** The rim of a 3D view that turns it, in pixels. */
const RIM = 12;

/** Pointer and keys over the views. A press on a handle is a drag; any other is a pick, its modifiers read on release. */
export class Pointing {
  private gesture: Gesture | null = null;
  /** where the pressed pane began when it was pressed */
  private corner: readonly [number, number] = [0, 0];
  private last: { x: number; y: number; nth: number; view: string } | null = null;
  /** id of what was clicked last: a path goes on from it */
  private anchor: string | null = null;
  private space = false;
  /** the view under the pointer */
  under: ViewName | null = null;
  private waiting: { x: number; y: number; fine: boolean; invert: boolean } | null = null;
  private deeds: Promise<unknown> = Promise.resolve();
  private pending = 0;
  private readonly off = new AbortController();

  constructor(
    private readonly view: Viewport,
    private readonly canvas: HTMLCanvasElement,
  ) {
    const options = { signal: this.off.signal };
    const on = <K extends keyof HTMLElementEventMap>(name: K, hear: (e: HTMLElementEventMap[K]) => void) => canvas.addEventListener(name, hear, options);
    on("pointerdown", (e) => this.down(e));
    on("pointermove", (e) => this.moved(e));
    on("pointerup", (e) => void this.up(e));
    on("dblclick", (e) => {
      const { session, drawing } = editor.get();
      const { pane, ...at } = this.located(e);
      if (session === null && drawing === null) void this.inTurn(() => this.pickLoop(pane, at, e.ctrlKey || e.metaKey, e.shiftKey));
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
    canvas.addEventListener("wheel", (e) => this.wheel(e), { ...options, passive: false });
  }

  dispose(): void {
    this.off.abort();
  }

  private onCanvas(e: MouseEvent): { x: number; y: number; fine: boolean; invert: boolean } {
    const box = this.canvas.getBoundingClientRect();
    return { x: e.clientX - box.left, y: e.clientY - box.top, fine: e.shiftKey, invert: e.ctrlKey || e.metaKey };
  }

  private located(e: MouseEvent): Pointer & { pane: Pane } {
    const at = this.onCanvas(e);
    return { ...at, ...this.view.locate(at.x, at.y) };
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
  }

  private begin(e: PointerEvent, pane: Pane, at: Pointer): Gesture | null {
    const flat = pane.camera.isFlat;
    if (e.button === 1 || (e.button === 0 && this.space) || (e.button === 2 && flat)) return new Pan(this.view, pane, at);
    if (e.button === 2) return new Turn(this.view, pane, at);
    if (e.button !== 0) return null;
    const divider = this.view.sheet.dividerAt(at.x + pane.x, at.y + pane.y);
    if (divider !== null) return new Divide(this.view, pane, divider);
    if (asking.get().asking !== null) return new AskPoint(this.view, pane, at);
    const { drawing, session, section, pivoting, current } = editor.get();
    if (drawing !== null) return new DrawForm(this.view, pane, at);
    if (section !== null && this.view.section.handleAt(section, this.view.bounds(), pane.camera, at)) return new SectionDrag(this.view, pane, section, at);
    const part = partOf(editor.get(), current);
    const held = part === null ? undefined : this.view.parts.get(part.id ?? "");
    if (pivoting && part !== null && held !== undefined) {
      const handle = this.view.pivot.handleAt(part, held, pane.camera, at);
      if (handle !== null) {
        this.view.pivot.press(part, held, this.view.parts, this.view.boards, pane.camera, handle, at);
        return new PivotDrag(this.view, pane, part.id ?? "");
      }
    }
    const place = session === null ? null : this.view.place(session, pane);
    const handle = place === null ? null : (this.view.tool?.handleAt(place, at) ?? null);
    if (place !== null && handle !== null) return new HandleDrag(this.view, pane, handle, at, this.view.tool?.instead?.(place, handle) ?? null, () => this.alive());
    const board = boardHandleAt(this.view.boards, pane, at);
    if (board !== null) return new BoardDrag(this.view, pane, board, at);
    if (!flat && this.onRim(pane, at)) return new Turn(this.view, pane, at);
    return new PickGesture(this.view, pane, at, (to, keys) => this.click(pane, to, keys), (deed) => this.inTurn(deed));
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
    if (this.waiting === null) requestAnimationFrame(() => this.look());
    this.waiting = this.onCanvas(e);
  }

  private async up(e: PointerEvent): Promise<void> {
    const gesture = this.gesture;
    this.gesture = null;
    await gesture?.up(this.within(e), { shift: e.shiftKey, alt: e.altKey, ctrl: e.ctrlKey || e.metaKey });
  }

  private async click(pane: Pane, at: Pointer, keys: Modifiers): Promise<void> {
    const { session } = editor.get();
    const place = session === null ? null : this.view.place(session, pane);
    if (place !== null && this.view.tool?.click?.(place, at)) return;
    await this.inTurn(() => (keys.ctrl ? this.pickPath(pane, at) : this.pick(pane, at, keys.shift, keys.alt)));
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

  private async pick(pane: Pane, at: Pointer, toggle: boolean, remove: boolean): Promise<void> {
    const again = this.last !== null && this.last.view === pane.view && Math.hypot(this.last.x - at.x, this.last.y - at.y) <= 2 && !toggle && !remove;
    const nth = again && this.last !== null ? this.last.nth + 1 : 0;
    const hit = this.view.hit(pane, at.x, at.y, nth);
    await accept();
    this.last = hit === null ? null : { x: at.x, y: at.y, nth, view: pane.view };
    const cage = hit === null ? undefined : editor.get().meshes[hit.part]?.mesh.cage;
    this.anchor = hit === null || cage === undefined ? null : (idsOf(cage, hit.kind, [hit.element])[0] ?? null);
    const { pick, pickKind, current } = editor.get();
    editor.set({ stack: hit === null || hit.stacked < 2 ? null : { nth: (nth % hit.stacked) + 1, of: hit.stacked } });
    if (hit === null) {
      if (!toggle && !remove && current !== null) setPick(current, pickKind, []);
      return;
    }
    if (partOf(editor.get(), hit.part)?.locked) return;
    const held = pick !== null && pick.part === hit.part && pick.kind === hit.kind ? pick.elements : [];
    if (remove) setPick(hit.part, hit.kind, held.filter((e) => e !== hit.element));
    else if (toggle) setPick(hit.part, hit.kind, held.includes(hit.element) ? held.filter((e) => e !== hit.element) : [...held, hit.element]);
    else setPick(hit.part, hit.kind, [hit.element]);
  }

  /** The shortest way from what was clicked last to what lies here, beside the pick. */
  private async pickPath(pane: Pane, at: Pointer): Promise<void> {
    const hit = this.view.hit(pane, at.x, at.y, 0);
    await accept();
    const mesh = hit === null ? undefined : editor.get().meshes[hit.part]?.mesh.cage;
    if (hit === null || mesh === undefined) return;
    const [to] = idsOf(mesh, hit.kind, [hit.element]);
    const { pick } = editor.get();
    const from = this.anchor ?? pick?.ids[pick.ids.length - 1] ?? null;
    if (from === null || pick === null || pick.part !== hit.part || pick.kind !== hit.kind || hit.kind === "vertices") {
      setPick(hit.part, hit.kind, [hit.element]);
    } else {
      await pickPath(hit.kind, from, to as string, pick);
    }
    this.anchor = to ?? null;
  }

  /** A second click at once: the loop of an edge, the band of a face; with Ctrl the ring. */
  private async pickLoop(pane: Pane, at: Pointer, ring: boolean, beside: boolean): Promise<void> {
    const hit = this.view.hit(pane, at.x, at.y, 0);
    const mesh = hit === null ? undefined : editor.get().meshes[hit.part]?.mesh.cage;
    const view = hit === null ? undefined : this.view.parts.get(hit.part);
    if (hit === null || mesh === undefined || view === undefined || hit.kind === "vertices") return;
    const edge = hit.kind === "edges" ? hit.element : nearestEdgeOf(mesh, hit.element, view, pane.camera, at.x, at.y);
    const [id] = idsOf(mesh, "edges", [edge]);
    await pickLoop(hit.kind, id as string, ring && hit.kind === "edges", beside ? editor.get().pick : null);
    this.last = null;
  }

  /** What lies under a resting pointer. */
  private look(): void {
    const seen = this.waiting;
    this.waiting = null;
    if (seen === null || this.gesture !== null) return;
    const { pane, ...place } = this.view.locate(seen.x, seen.y);
    this.under = pane.view;
    const at: Pointer = { ...seen, ...place };
    this.tellPlace(pane, at);
    const divider = this.view.sheet.dividerAt(seen.x, seen.y);
    const { session, drawing } = editor.get();
    if (asking.get().asking !== null) {
      this.view.asker.hover(pane, at);
      this.canvas.style.cursor = "crosshair";
      return;
    }
    if (drawing !== null) {
      this.view.drawer.hover(pane, at);
      this.canvas.style.cursor = "crosshair";
      return;
    }
    this.view.hotHandle = divider === null ? this.handleAt(pane, at) : null;
    this.view.hotBoard = this.view.hotHandle === null ? boardHandleAt(this.view.boards, pane, at) : null;
    const free = this.view.hotHandle === null && this.view.hotBoard === null && divider === null;
    this.view.hover = free ? this.view.hit(pane, at.x, at.y, 0) : null;
    const tool = session === null ? null : this.view.place(session, pane);
    if (tool !== null && free) this.view.tool?.hover?.(tool, at);
    const rim = free && !pane.camera.isFlat && this.onRim(pane, at);
    this.canvas.style.cursor = divider !== null ? (divider === "across" ? "col-resize" : divider === "down" ? "row-resize" : "move") : rim ? "all-scroll" : free ? "default" : "grab";
    this.view.invalidate("overlay");
  }

  private handleAt(pane: Pane, at: Pointer): string | null {
    const { session, section, pivoting, current } = editor.get();
    if (section !== null && this.view.section.handleAt(section, this.view.bounds(), pane.camera, at)) return "section";
    const part = partOf(editor.get(), current);
    const held = part === null ? undefined : this.view.parts.get(part.id ?? "");
    if (pivoting && part !== null && held !== undefined) return this.view.pivot.handleAt(part, held, pane.camera, at);
    const place = session === null ? null : this.view.place(session, pane);
    return place === null ? null : (this.view.tool?.handleAt(place, at) ?? null);
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
    this.view.hover = null;
    usePointer.setState({ at: null });
    endHover();
    this.view.invalidate("overlay");
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
    this.view.sheet.refresh();
    this.view.invalidate(pane.camera.isFlat ? "all" : pane);
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

  private async act(e: KeyboardEvent, late: boolean): Promise<void> {
    if (late) await new Promise((r) => setTimeout(r, 0)); // until what the last gesture opened is drawn
    // no digit, sign or point is a shortcut: they open the value field, which takes every key from then on
    const { session, drawing } = editor.get();
    if ((session !== null || drawing !== null) && !e.ctrlKey && !e.metaKey && !e.altKey && TYPED.test(e.key)) {
      focusValueField();
      if (late) document.execCommand("insertText", false, e.key);
      return;
    }
    if (e.key === "Tab" && (session !== null || drawing !== null)) {
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
        this.view.sync();
      } else this.gesture.key?.(command.id);
      return;
    }
    if (late) await command.run();
    else void this.inTurn(() => command.run());
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

