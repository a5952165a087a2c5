import { prefs } from "../../model/prefs";
import type { Pointer } from "../../scene/pointer";
import type { Divider, Pane } from "../../scene/Sheet";
import type { Redraws, Views } from "../views";
import type { Gesture } from "./Gesture";

/** Turns the 3D view. */
export class Turn implements Gesture {
  constructor(
    private readonly views: Redraws,
    private readonly pane: Pane,
    private last: Pointer,
  ) {}

  move(at: Pointer): void {
    this.pane.camera.turn(at.x - this.last.x, at.y - this.last.y);
    this.last = at;
    this.views.invalidate(this.pane);
  }

  up(): void {}

  cancel(): void {}
}

/** Shifts a view; the flat ones together. */
export class Pan implements Gesture {
  constructor(
    private readonly views: Redraws & Pick<Views, "sheet">,
    private readonly pane: Pane,
    private last: Pointer,
  ) {}

  move(at: Pointer): void {
    this.pane.camera.pan(at.x - this.last.x, at.y - this.last.y);
    this.last = at;
    this.views.sheet.refresh();
    this.views.invalidate(this.pane.camera.isFlat ? "all" : this.pane);
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
    private readonly views: Pick<Views, "sheet">,
    pane: Pane,
    private readonly divider: Divider,
  ) {
    this.corner = [pane.x, pane.y];
  }

  move(at: Pointer): void {
    prefs.set({ split: this.views.sheet.divided(this.divider, at.x + this.corner[0], at.y + this.corner[1]) });
  }

  up(): void {}

  cancel(): void {
    prefs.set({ split: this.before });
  }
}
