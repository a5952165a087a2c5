import { editor } from "../model/store";
import { Pane, type Sheet } from "../scene/Sheet";

/** While a drag goes on without a graphics card, views beside the dragged one are drawn so often, in milliseconds. */
const OTHERS_EVERY = 250;
/** … and no more often than leaves so many times what drawing them took. */
const OTHERS_SHARE = 5;

/** What the frames are made of; the scheduler only says when. */
interface Drawn {
  readonly sheet: Sheet;
  /** whether the browser draws without a graphics card */
  readonly software: boolean;
  render(pane: Pane): void;
  /** whatever lies over the model, after the views that changed */
  over(drawn: readonly Pane[], began: number): void;
}

/** When views are drawn: at the next frame after something changed, never in an idle loop. */
export class Frames {
  /** how often something was drawn */
  count = 0;
  private readonly dirty = new Set<Pane>();
  private queued = false;
  private later: ReturnType<typeof setTimeout> | null = null;
  private othersDrawn = 0;
  private othersEvery = OTHERS_EVERY;

  constructor(private readonly what: Drawn) {}

  dispose(): void {
    if (this.later !== null) clearTimeout(this.later);
  }

  /** Draw again at the next frame: all views, one, or only what is drawn over them. */
  invalidate(what: "all" | "overlay" | Pane = "all"): void {
    if (what === "all") for (const pane of this.what.sheet.shown) this.dirty.add(pane);
    else if (what !== "overlay") this.dirty.add(what);
    if (this.queued) return;
    this.queued = true;
    requestAnimationFrame(() => {
      this.queued = false;
      this.draw();
    });
  }

  private draw(): void {
    const began = performance.now();
    const { sheet, software } = this.what;
    const dragging = editor.get().session?.dragging ?? false;
    const waits = software && dragging && sheet.shown.length > 1 && began - this.othersDrawn < this.othersEvery;
    const drawn = sheet.shown.filter((p) => this.dirty.has(p) && (!waits || p.view === editor.get().view));
    for (const pane of drawn) {
      this.what.render(pane);
      this.dirty.delete(pane);
    }
    if (!waits && software && dragging) this.pace();
    this.count += 1;
    this.what.over(drawn, began);
    if (this.dirty.size > 0 && this.later === null) {
      this.later = setTimeout(() => {
        this.later = null;
        this.invalidate("overlay");
      }, OTHERS_EVERY);
    }
  }

  /** After all views were drawn in a drag: how long until the others are drawn again, so that they take little of the time. */
  private pace(): void {
    const start = performance.now();
    this.othersDrawn = start;
    requestAnimationFrame(() => requestAnimationFrame(() => {
      this.othersEvery = Math.max(OTHERS_EVERY, OTHERS_SHARE * (performance.now() - start));
    }));
  }
}
