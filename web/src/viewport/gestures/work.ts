import { change } from "../../state/editor";
import { setPart } from "../../state/intents";
import { cancel, store, tryValues } from "../../state/session";
import { editor, type Section } from "../../state/store";
import type { Pointer, Tool } from "../../tools/Tool";
import type { Pane } from "../Sheet";
import type { Viewport } from "../Viewport";
import type { Gesture } from "./Gesture";

/** Drags a handle of the tool at work; release stores one step. */
export class HandleDrag implements Gesture {
  private ready: Promise<boolean>;
  private armed = false;
  private over = false;
  private handedOver = false;

  /** @param instead arms another step first, whose handle the drag then goes on with */
  constructor(
    private readonly view: Viewport,
    private readonly pane: Pane,
    handle: string,
    at: Pointer,
    instead: (() => Promise<boolean>) | null,
    private readonly alive: () => boolean,
  ) {
    if (instead === null) {
      this.take(handle, at);
      this.ready = Promise.resolve(true);
    } else {
      this.ready = instead().then((fine) => {
        if (fine && !this.over) this.take(handle, at);
        return fine;
      });
    }
  }

  private place(): Parameters<Tool["press"]>[0] | null {
    const { session } = editor.get();
    return session === null ? null : this.view.place(session, this.pane);
  }

  private take(handle: string, at: Pointer): void {
    const place = this.place();
    if (place === null) return;
    this.view.tool?.press(place, handle, at);
    const field = handle.startsWith("turn") ? "rotate" : handle.startsWith("scale") ? "scale" : handle === "rim" ? place.session.field : "translate";
    if (place.session.tool === "transform" && place.session.field !== field) editor.set({ session: { ...place.session, field } });
    this.armed = true;
  }

  /** A value is being typed: it takes over from the drag, also once the field is left and the button still down. */
  handOver(): void {
    this.handedOver = true;
  }

  move(at: Pointer): void {
    const place = this.place();
    if (this.armed && place !== null && this.alive() && !this.handedOver) tryValues(this.view.tool?.drag(place, at) ?? {}, true);
  }

  async up(at: Pointer): Promise<void> {
    if (!(await this.ready) || !this.armed) return;
    if (this.handedOver || !this.alive()) return; // Enter stores what is typed
    if (editor.get().session?.dragging !== true) this.move(at);
    await store();
  }

  cancel(): void {
    this.over = true;
    if (editor.get().session?.dragging) cancel();
  }
}

/** Drags the section plane along its axis. */
export class SectionDrag implements Gesture {
  constructor(
    private readonly view: Viewport,
    private readonly pane: Pane,
    private readonly before: Section,
    at: Pointer,
  ) {
    view.section.press(before, view.bounds(), pane.camera, at);
  }

  move(at: Pointer): void {
    editor.set({ section: this.view.section.drag(this.before, this.view.bounds(), this.pane.camera, at) });
  }

  up(): void {}

  cancel(): void {
    editor.set({ section: this.before });
  }
}

/** Moves the pivot of the current part. */
export class PivotDrag implements Gesture {
  private moved = false;

  constructor(
    private readonly view: Viewport,
    private readonly pane: Pane,
    private readonly part: string,
  ) {}

  move(at: Pointer): void {
    this.moved = true;
    this.view.pivot.move(this.pane.camera, at);
    this.view.invalidate("overlay");
  }

  async up(): Promise<void> {
    const to = this.view.pivot.moved;
    if (this.moved && to !== null) await change("Move pivot", setPart(this.part, { pivot: to }), `${this.part}/pivot`);
    this.cancel();
  }

  cancel(): void {
    this.view.pivot.end();
    this.view.invalidate("overlay");
  }
}

/** Drags the footprint of a form being drawn, or clicks its height. */
export class DrawForm implements Gesture {
  private readonly height: boolean;

  constructor(
    private readonly view: Viewport,
    private readonly pane: Pane,
    at: Pointer,
  ) {
    this.height = editor.get().drawing?.stage === "height";
    if (!this.height) view.drawer.press(pane, at);
  }

  move(at: Pointer): void {
    if (this.height) this.view.drawer.hover(this.pane, at);
    else this.view.drawer.drag(this.pane, at);
  }

  async up(at: Pointer): Promise<void> {
    if (this.height) this.view.drawer.click();
    else await this.view.drawer.release(this.pane, at);
  }

  cancel(): void {
    editor.set({ drawing: null });
  }
}
