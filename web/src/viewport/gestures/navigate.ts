import { prefs } from "../../state/prefs";
import type { Pointer } from "../../tools/Tool";
import type { Divider, Pane } from "../Sheet";
import type { Viewport } from "../Viewport";
import type { Gesture } from "./Gesture";

/** Turns the 3D view. */
export class Turn implements Gesture {
  constructor(
    private readonly view: Viewport,
    private readonly pane: Pane,
    private last: Pointer,
  ) {}

  move(at: Pointer): void {
    this.pane.camera.turn(at.x - this.last.x, at.y - this.last.y);
    this.last = at;
    this.view.invalidate(this.pane);
  }

  up(): void {}

  cancel(): void {}
}

/** Shifts a view; the flat ones together. */
export class Pan implements Gesture {
  constructor(
    private readonly view: Viewport,
    private readonly pane: Pane,
    private last: Pointer,
  ) {}

  move(at: Pointer): void {
    this.pane.camera.pan(at.x - this.last.x, at.y - this.last.y);
    this.last = at;
    this.view.sheet.refresh();
    this.view.invalidate(this.pane.camera.isFlat ? "all" : this.pane);
  }

  up(): void {}

  cancel(): void {}
}

/** Divides the sheet elsewhere. Its pointer is the sheet's own. */
export class Divide implements Gesture {
  private readonly before = prefs.get().split;

  /** the pressed pane's corner when the drag began: the pane moves with the divider */
  private readonly corner: readonly [number, number];

  constructor(
    private readonly view: Viewport,
    pane: Pane,
    private readonly divider: Divider,
  ) {
    this.corner = [pane.x, pane.y];
  }

  move(at: Pointer): void {
    prefs.set({ split: this.view.sheet.divided(this.divider, at.x + this.corner[0], at.y + this.corner[1]) });
  }

  up(): void {}

  cancel(): void {
    prefs.set({ split: this.before });
  }
}
