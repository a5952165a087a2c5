import { change } from "../state/editor";
import { setBoard } from "../state/intents";
import { pickLoop, pickPath } from "../state/pickRules";
import { idsOf, setPick } from "../state/picks";
import { accept, cancel, store, tryValues } from "../state/session";
import { editor, isLocked, METRES, partOf, unitOf } from "../state/store";
import { commandFor } from "../tools/keys";
import type { Pointer } from "../tools/Tool";
import { focusValueField } from "../tools/valueField";
import { nearestEdgeOf } from "./hit";
import { BASES } from "./views";
import type { Viewport } from "./Viewport";

type Press =
  | { kind: "pick"; x: number; y: number; moved: boolean }
  | { kind: "handle"; handle: string }
  | { kind: "board"; id: string; x: number; y: number; at: [number, number] }
  | { kind: "turn"; x: number; y: number }
  | { kind: "pan"; x: number; y: number };

/** A drag shorter than this is a click, in pixels. */
const CLICK = 4;
/** So long, in milliseconds, a gesture waits for the one before to be stored; after that hands go on. */
const PATIENCE = 2000;
/** What opens the value field. */
const TYPED = /^[0-9.,+\-*/]$/;

/** Pointer and keys over the view. A press on a handle is a drag; any other is a pick, its modifiers read on release. */
export class Pointing {
  private press: Press | null = null;
  private last: { x: number; y: number; nth: number } | null = null;
  /** id of what was clicked last: a path goes on from it */
  private anchor: string | null = null;
  private space = false;
  private waiting: Pointer | null = null;
  private deeds: Promise<unknown> = Promise.resolve();
  private pending = 0;
  private readonly off = new AbortController();

  constructor(
    private readonly view: Viewport,
    private readonly canvas: HTMLCanvasElement,
  ) {
    const options = { signal: this.off.signal };
    const on = <K extends keyof HTMLElementEventMap>(name: K, hear: (e: HTMLElementEventMap[K]) => void) =>
      canvas.addEventListener(name, hear, options);
    on("pointerdown", (e) => this.down(e));
    on("pointermove", (e) => this.moved(e));
    on("pointerup", (e) => void this.up(e));
    on("dblclick", (e) => {
      if (editor.get().session === null) void this.inTurn(() => this.pickLoop({ x: e.offsetX, y: e.offsetY, fine: false }, e.ctrlKey || e.metaKey, e.shiftKey));
    });
    on("pointercancel", () => this.abandon());
    on("lostpointercapture", () => this.abandon());
    on("pointerleave", () => this.leave());
    on("contextmenu", (e) => e.preventDefault());
    on("blur", () => this.abandon());
    on("keydown", (e) => this.key(e));
    on("keyup", (e) => {
      if (e.key === " ") this.space = false;
    });
    canvas.addEventListener("wheel", (e) => this.wheel(e), { ...options, passive: false });
  }

  dispose(): void {
    this.off.abort();
  }

  private at(e: PointerEvent | WheelEvent): Pointer {
    const box = this.canvas.getBoundingClientRect();
    return { x: e.clientX - box.left, y: e.clientY - box.top, fine: e.shiftKey };
  }

  private place() {
    const session = editor.get().session;
    const view = session === null ? undefined : this.view.parts.get(session.part);
    return session === null || view === undefined ? null : { session, view, camera: this.view.camera };
  }

  private down(e: PointerEvent): void {
    if (this.press !== null) return;
    this.canvas.focus({ preventScroll: true });
    this.canvas.setPointerCapture(e.pointerId);
    const at = this.at(e);
    if (e.button === 1 || (e.button === 0 && this.space) || (e.button === 2 && editor.get().view !== "perspective")) {
      this.press = { kind: "pan", ...at };
    } else if (e.button === 2) {
      this.press = { kind: "turn", ...at };
    } else if (e.button === 0) {
      const place = this.place();
      const handle = place === null ? null : (this.view.tool?.handleAt(place, at) ?? null);
      const board = this.boardAt(at);
      if (place !== null && handle !== null) {
        this.view.tool?.press(place, handle, at);
        this.press = { kind: "handle", handle };
      } else if (board !== null) {
        this.press = { kind: "board", ...at, ...board };
      } else {
        this.press = { kind: "pick", ...at, moved: false };
      }
    }
  }

  private moved(e: PointerEvent): void {
    const at = this.at(e);
    const press = this.press;
    if (press === null) {
      if (this.waiting === null) requestAnimationFrame(() => this.look());
      this.waiting = at;
      return;
    }
    if (press.kind === "turn") {
      this.view.camera.turn(at.x - press.x, at.y - press.y);
      this.press = { ...press, x: at.x, y: at.y };
      this.view.invalidate();
    } else if (press.kind === "pan") {
      this.view.camera.pan(at.x - press.x, at.y - press.y);
      this.press = { ...press, x: at.x, y: at.y };
      this.view.invalidate();
    } else if (press.kind === "handle") {
      const place = this.place();
      if (place !== null && document.activeElement === this.canvas) {
        tryValues(this.view.tool?.drag(place, at) ?? {}, true);
      }
    } else if (press.kind === "board") {
      this.view.movedBoard = { id: press.id, at: this.boardMove(press, at) };
      this.view.sync();
    } else if (Math.hypot(at.x - press.x, at.y - press.y) > CLICK) {
      press.moved = true;
    }
  }

  private async up(e: PointerEvent): Promise<void> {
    const press = this.press;
    this.press = null;
    const at = this.at(e);
    if (press?.kind === "handle") {
      // a value being typed takes over from the drag: Enter stores it
      if (document.activeElement === this.canvas) await store();
    } else if (press?.kind === "board") {
      const to = this.boardMove(press, at);
      if (to[0] !== press.at[0] || to[1] !== press.at[1]) await change("Move board", setBoard(press.id, { at: to }));
      this.view.movedBoard = null;
      this.view.sync();
    } else if (press?.kind === "pick" && !press.moved) {
      const place = this.place();
      if (place !== null && this.view.tool?.click?.(place, at)) return;
      await this.inTurn(() => (e.ctrlKey || e.metaKey ? this.pickPath(at) : this.pick(at, e.shiftKey, e.altKey)));
    }
  }

  /** Gestures act in the order they were made, however long the one before takes to be stored. */
  private inTurn(deed: () => void | Promise<void>): Promise<unknown> {
    this.pending += 1;
    this.deeds = this.deeds
      .then(() => Promise.race([deed(), new Promise((r) => setTimeout(r, PATIENCE))]))
      .catch(() => undefined)
      .finally(() => (this.pending -= 1));
    return this.deeds;
  }

  private async pick(at: Pointer, toggle: boolean, remove: boolean): Promise<void> {
    const again = this.last !== null && Math.hypot(this.last.x - at.x, this.last.y - at.y) <= 2 && !toggle && !remove;
    const nth = again && this.last !== null ? this.last.nth + 1 : 0;
    const hit = this.view.hit(at.x, at.y, nth);
    await accept();
    this.last = hit === null ? null : { x: at.x, y: at.y, nth };
    const cage = hit === null ? undefined : editor.get().meshes[hit.part]?.mesh.cage;
    this.anchor = hit === null || cage === undefined ? null : (idsOf(cage, hit.kind, [hit.element])[0] ?? null);
    const { pick, pickKind, current } = editor.get();
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
  private async pickPath(at: Pointer): Promise<void> {
    const hit = this.view.hit(at.x, at.y, 0);
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
  private async pickLoop(at: Pointer, ring: boolean, beside: boolean): Promise<void> {
    const hit = this.view.hit(at.x, at.y, 0);
    const mesh = hit === null ? undefined : editor.get().meshes[hit.part]?.mesh.cage;
    const view = hit === null ? undefined : this.view.parts.get(hit.part);
    if (hit === null || mesh === undefined || view === undefined || hit.kind === "vertices") return;
    const edge = hit.kind === "edges" ? hit.element : nearestEdgeOf(mesh, hit.element, view, this.view.camera, at.x, at.y);
    const [id] = idsOf(mesh, "edges", [edge]);
    await pickLoop(hit.kind, id as string, ring && hit.kind === "edges", beside ? editor.get().pick : null);
    this.last = null;
  }

  /** What lies under a resting pointer. */
  private look(): void {
    const at = this.waiting;
    this.waiting = null;
    if (at === null || this.press !== null) return;
    const place = this.place();
    this.view.hotHandle = place === null ? null : (this.view.tool?.handleAt(place, at) ?? null);
    this.view.hotBoard = this.view.hotHandle === null ? (this.boardAt(at)?.id ?? null) : null;
    this.view.hover = this.view.hotHandle === null && this.view.hotBoard === null ? this.view.hit(at.x, at.y, 0) : null;
    this.canvas.style.cursor = this.view.hotHandle !== null || this.view.hotBoard !== null ? "grab" : "default";
    this.view.invalidate(false);
  }

  private leave(): void {
    this.view.hover = null;
    this.view.invalidate(false);
  }

  /** Lost capture, a cancelled pointer and lost focus act as Esc. */
  private abandon(): void {
    const press = this.press;
    this.press = null;
    if (press?.kind === "handle" && editor.get().session?.dragging && document.activeElement === this.canvas) cancel();
    if (press?.kind === "board") {
      this.view.movedBoard = null;
      this.view.sync();
    }
  }

  private wheel(e: WheelEvent): void {
    e.preventDefault();
    const at = this.at(e);
    this.view.camera.zoom(Math.exp(Math.min(Math.max(e.deltaY, -200), 200) * (e.ctrlKey ? 0.008 : 0.0016)), at.x, at.y);
    this.view.invalidate();
  }

  private key(e: KeyboardEvent): void {
    if (e.key === " ") {
      this.space = true;
      e.preventDefault();
      return;
    }
    if (this.pending > 0) {
      if (commandFor(e) !== undefined || TYPED.test(e.key)) e.preventDefault();
      void this.inTurn(() => this.act(e, true));
    } else {
      void this.act(e, false);
    }
  }

  private async act(e: KeyboardEvent, late: boolean): Promise<void> {
    if (late) await new Promise((r) => setTimeout(r, 0)); // until what the last gesture opened is drawn
    // no digit, sign or point is a shortcut: they open the value field, which takes every key from then on
    if (editor.get().session !== null && !e.ctrlKey && !e.metaKey && !e.altKey && TYPED.test(e.key)) {
      focusValueField();
      if (late) document.execCommand("insertText", false, e.key);
      return;
    }
    if (e.key === "Tab" && editor.get().session !== null) {
      e.preventDefault();
      focusValueField();
      return;
    }
    const command = commandFor(e);
    if (command === undefined) return;
    e.preventDefault();
    if (this.press !== null && (command.id === "undo" || command.id === "cancel")) {
      const handle = this.press.kind === "handle";
      this.press = null;
      this.view.movedBoard = null;
      if (handle) cancel();
      this.view.sync();
      return;
    }
    if (this.press !== null) return;
    if (late) await command.run();
    else void this.inTurn(() => command.run());
  }

  /** An unlocked board of this flat view whose border is under the pointer. */
  private boardAt(at: Pointer): { id: string; at: [number, number] } | null {
    const { build, view } = editor.get();
    if (view === "perspective") return null;
    for (const board of build?.document.boards ?? []) {
      const corners = isLocked(board) ? null : this.view.boards.corners(board.id);
      if (corners === null) continue;
      const p = corners.map((c) => this.view.camera.project(c));
      for (let i = 0; i < 4; i++) {
        const a = p[i]!, b = p[(i + 1) % 4]!;
        const size = Math.hypot(b.x - a.x, b.y - a.y);
        const t = ((at.x - a.x) * (b.x - a.x) + (at.y - a.y) * (b.y - a.y)) / (size * size);
        const off = Math.abs((at.x - a.x) * (b.y - a.y) - (at.y - a.y) * (b.x - a.x)) / size;
        if (off <= 6 && t >= 0 && t <= 1) return { id: board.id, at: [...(board.at ?? [0, 0])] as [number, number] };
      }
    }
    return null;
  }

  private boardMove(press: { x: number; y: number; at: [number, number] }, at: Pointer): [number, number] {
    const { view } = editor.get();
    if (view === "perspective") return press.at;
    const metres = METRES[unitOf(editor.get())];
    const moved = this.view.camera.onPlane(at.x, at.y).sub(this.view.camera.onPlane(press.x, press.y));
    const { right, up } = BASES[view];
    const step = 100;
    return [press.at[0] + moved.dot(right) / metres, press.at[1] + moved.dot(up) / metres].map((v) => Math.round(v * step) / step) as [number, number];
  }
}
