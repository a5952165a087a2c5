import { setPart } from "../../model/document/intents";
import { tellDragged } from "../../model/session/dragged";
import { summary } from "../../model/steps/summary";
import { editor, kindOf, partOf, type Section } from "../../model/store";
import type { Pointer } from "../../scene/pointer";
import type { Pane } from "../../scene/Sheet";
import { change } from "../../sync/build";
import { fieldOf, type Handle } from "../../tools/Handle";
import type { PivotHandles } from "../../tools/pivot";
import type { PlacementHandles } from "../../tools/placement";
import type { SectionHandle } from "../../tools/sectionHandle";
import type { ToolPlace, Wish } from "../../tools/Tool";
import { toolOf } from "../../tools/toolbox";
import type { FormDrawer } from "../curves/FormDrawer";
import type { PathDrawer } from "../curves/PathDrawer";
import { fulfil } from "../session/arming";
import { cancel, store } from "../session/storing";
import { tryValues } from "../session/trial";
import { copyTo, placeTo } from "../parts/wholes";
import { placeOf, type Redraws, type Scenery } from "../views";
import type { Gesture } from "./Gesture";

/** Drags a handle of the tool at work; release stores one step. */
export class HandleDrag implements Gesture {
  private ready: Promise<boolean>;
  private armed = false;
  private over = false;
  private handedOver = false;

  /** @param wish what is to be armed first, whose handle the drag then goes on with */
  constructor(
    private readonly views: Scenery,
    private readonly pane: Pane,
    pressed: Handle,
    at: Pointer,
    wish: Wish | null,
    private readonly alive: () => boolean,
  ) {
    if (wish === null) {
      this.take(pressed, at);
      this.ready = Promise.resolve(true);
    } else {
      this.ready = fulfil(wish).then((fine) => {
        if (fine && !this.over) this.take(pressed, at);
        return fine;
      });
    }
  }

  private place(): ToolPlace | null {
    return placeOf(this.views, editor.get().session, this.pane);
  }

  private take(pressed: Handle, at: Pointer): void {
    const place = this.place();
    if (place === null) return;
    toolOf(place.session).press(place, pressed, at);
    const field = fieldOf(pressed);
    if (field !== null && place.session.field !== field) editor.set({ session: { ...place.session, field } });
    this.armed = true;
  }

  /** A value is being typed: it takes over from the drag, also once the field is left and the button still down. */
  handOver(): void {
    this.handedOver = true;
  }

  move(at: Pointer): void {
    const place = this.place();
    if (this.armed && place !== null && this.alive() && !this.handedOver) tryValues(toolOf(place.session).drag(place, at), true);
  }

  async up(at: Pointer): Promise<void> {
    if (!(await this.ready) || !this.armed) return;
    if (this.handedOver || !this.alive()) return; // Enter stores what is typed
    if (editor.get().session?.dragging !== true) this.move(at);
    await store();
    this.tell();
  }

  private tell(): void {
    const { session, current } = editor.get();
    const step = session?.stored == null ? undefined : partOf(editor.get(), current)?.steps?.find((s) => s.id === session.stepId);
    const kind = kindOf(editor.get(), step?.kind ?? "");
    if (step !== undefined && kind !== null) tellDragged(`${kind.title}: ${summary(step, kind)} – stored; Ctrl+Z takes it back.`);
  }

  cancel(): void {
    this.over = true;
    if (editor.get().session?.dragging) cancel();
  }
}

/** Drags the section plane along its axis. */
export class SectionDrag implements Gesture {
  constructor(
    private readonly views: Scenery,
    private readonly held: SectionHandle,
    private readonly pane: Pane,
    private readonly before: Section,
    at: Pointer,
  ) {
    held.press(before, views.bounds(), pane.camera, at);
  }

  move(at: Pointer): void {
    editor.set({ section: this.held.drag(this.before, this.views.bounds(), this.pane.camera, at) });
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
    private readonly views: Redraws,
    private readonly pivot: PivotHandles,
    private readonly pane: Pane,
    private readonly part: string,
  ) {}

  move(at: Pointer): void {
    this.moved = true;
    this.pivot.move(this.pane.camera, at);
    this.views.invalidate("overlay");
  }

  async up(): Promise<void> {
    const to = this.pivot.moved;
    if (this.moved && to !== null) await change("Move pivot", setPart(this.part, { pivot: to }), `${this.part}/pivot`);
    this.cancel();
  }

  cancel(): void {
    this.pivot.end();
    this.views.invalidate("overlay");
  }
}

/** Moves whole parts and groups, or drags copies of them out; stored where the hand lets go. */
export class PlacementDrag implements Gesture {
  private moved = false;

  constructor(
    private readonly views: Redraws,
    private readonly held: PlacementHandles,
    private readonly pane: Pane,
    private readonly pressed: Handle,
  ) {}

  move(at: Pointer): void {
    this.moved = true;
    this.held.drag(this.pane.camera, at);
    this.views.invalidate("all");
  }

  async up(): Promise<void> {
    const to = editor.get().moved;
    if (this.moved && to !== null) await (this.pressed.kind === "extrude" ? copyTo(to) : placeTo(to));
    this.cancel();
  }

  cancel(): void {
    this.held.end();
    this.views.invalidate("all");
  }
}

/** Drags the footprint of a form being drawn, or clicks its height. */
export class DrawForm implements Gesture {
  private readonly height: boolean;

  constructor(
    private readonly drawer: FormDrawer,
    private readonly pane: Pane,
    at: Pointer,
  ) {
    this.height = editor.get().drawing?.stage === "height";
    if (!this.height) drawer.press(pane, at);
  }

  move(at: Pointer): void {
    if (this.height) this.drawer.hover(this.pane, at);
    else this.drawer.drag(this.pane, at);
  }

  async up(at: Pointer): Promise<void> {
    if (this.height) this.drawer.click();
    else await this.drawer.release(this.pane, at);
  }

  cancel(): void {
    editor.set({ drawing: null });
  }
}

/** A point of a path is clicked, or dragged out soft; a point that is there is picked or moved. */
export class DrawPath implements Gesture {
  constructor(
    private readonly drawer: PathDrawer,
    private readonly pane: Pane,
    at: Pointer,
    private readonly inTurn: (deed: () => unknown) => Promise<unknown>,
  ) {
    drawer.press(pane, at);
  }

  move(at: Pointer): void {
    this.drawer.drag(this.pane, at);
  }

  async up(): Promise<void> {
    await this.inTurn(this.drawer.release(this.pane));
  }

  cancel(): void {
    this.drawer.forget();
  }
}
