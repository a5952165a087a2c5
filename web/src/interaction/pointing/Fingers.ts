import type { Pane } from "../../scene/Sheet";
import type { Views } from "../views";

interface At {
  readonly x: number;
  readonly y: number;
}

/** Two fingers on a view shift it and zoom it, the place between them staying between them. What one finger had begun is given up;
 * once there were two, the view has the hand until both are lifted. */
export class Fingers {
  private readonly down = new Map<number, At>();
  private pane: Pane | null = null;

  constructor(private readonly views: Pick<Views, "sheet" | "invalidate">) {}

  /** Whether fingers have the view, and a press or move is theirs alone. */
  get hold(): boolean {
    return this.pane !== null;
  }

  /** A finger comes down, in the sheet's pixels; whether it is the second, from which on the view moves. */
  press(id: number, at: At): boolean {
    this.down.set(id, at);
    if (this.down.size !== 2 || this.pane !== null) return false;
    const middle = this.middle();
    this.pane = this.views.sheet.locate(middle.x, middle.y).pane;
    return true;
  }

  move(id: number, at: At): void {
    if (!this.down.has(id)) return;
    const [middle, size] = [this.middle(), this.apart()];
    this.down.set(id, at);
    if (this.pane === null || this.down.size < 2) return;
    const [to, grown] = [this.middle(), this.apart()];
    const { camera, x, y } = this.pane;
    camera.pan(to.x - middle.x, to.y - middle.y);
    if (size > 0 && grown > 0) camera.zoom(size / grown, to.x - x, to.y - y);
    this.views.sheet.refresh();
    this.views.invalidate(camera.isFlat ? "all" : this.pane);
  }

  lift(id: number): void {
    this.down.delete(id);
    if (this.down.size === 0) this.pane = null;
  }

  private middle(): At {
    const all = [...this.down.values()];
    return { x: all.reduce((s, p) => s + p.x, 0) / all.length, y: all.reduce((s, p) => s + p.y, 0) / all.length };
  }

  private apart(): number {
    const [a, b] = [...this.down.values()];
    return a === undefined || b === undefined ? 0 : Math.hypot(a.x - b.x, a.y - b.y);
  }
}
