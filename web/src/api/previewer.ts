import { fetchPacked, type PartMesh, type ShapeStore } from "./packets";

export interface Trial {
  readonly build: string;
  readonly revision: number;
  readonly part: string;
  readonly step: Record<string, unknown>;
  readonly replace: string | null;
}

type Heard = { mesh: PartMesh } | { error: unknown };

/**
 * Asks the core for previews: one request in flight, the newest trial waits, the others are discarded. Answers of an
 * earlier drag, or that came after `cancel`, are dropped.
 */
export class Previewer {
  private drag = 0;
  private waiting: Trial | null = null;
  private flying = false;

  constructor(
    private readonly shapes: ShapeStore,
    private readonly hear: (heard: Heard) => void,
  ) {}

  ask(trial: Trial): void {
    this.waiting = trial;
    if (!this.flying) void this.fly();
  }

  /** Forget what is waiting and whatever is still on its way. */
  cancel(): void {
    this.drag += 1;
    this.waiting = null;
  }

  private async fly(): Promise<void> {
    this.flying = true;
    while (this.waiting !== null) {
      const trial: Trial = this.waiting;
      const drag = this.drag;
      this.waiting = null;
      let heard: Heard;
      try {
        const bytes = await fetchPacked(`/api/builds/${trial.build}/preview`, {
          revision: trial.revision,
          part: trial.part,
          step: trial.step,
          replace: trial.replace,
          have: this.shapes.have(),
        });
        performance.mark("rhytonic:preview");
        heard = { mesh: this.shapes.read(bytes) };
      } catch (error) {
        heard = { error };
      }
      if (drag === this.drag) this.hear(heard);
    }
    this.flying = false;
  }
}
