import { measure } from "./measure";
import { fetchPacked, type PartMesh, type ShapeStore } from "./packets";

export interface Trial {
  readonly build: string;
  readonly revision: number;
  readonly part: string;
  readonly step: Record<string, unknown>;
  readonly replace: string | null;
  /** wanted though it takes long */
  readonly sure: boolean;
}

/** What this page is called where previews are asked for: what it asks next takes the place of what it asked before. */
const WINDOW = crypto.randomUUID();
/** A request that takes longer, in milliseconds, gives way to what was asked meanwhile. */
const SLOW = 200;

/** A page in the background draws nothing; after so long, in milliseconds, it is not waited for. */
const LATE = 250;

type Heard = { mesh: PartMesh; asked: number } | { error: unknown };

/**
 * Asks the core for previews: one request in flight, the newest trial waits, the others are discarded. Answers of an
 * earlier drag, or that came after `cancel`, are dropped.
 */
export class Previewer {
  private drag = 0;
  private waiting: (Trial & { asked: number }) | null = null;
  private flying: { readonly since: number; readonly abort: AbortController } | null = null;

  constructor(
    private readonly shapes: ShapeStore,
    private readonly hear: (heard: Heard) => void,
  ) {}

  ask(trial: Trial): void {
    this.waiting = { ...trial, asked: performance.now() };
    if (this.flying === null) void this.fly();
    else if (performance.now() - this.flying.since > SLOW) this.flying.abort.abort();
  }

  /** Forget what is waiting and whatever is still on its way. */
  cancel(): void {
    this.drag += 1;
    this.waiting = null;
    this.flying?.abort.abort();
  }

  private async fly(): Promise<void> {
    while (this.waiting !== null) {
      const trial: Trial & { asked: number } = this.waiting;
      const drag = this.drag;
      this.waiting = null;
      let heard: Heard;
      let come = 0;
      const sent = performance.now();
      const abort = new AbortController();
      this.flying = { since: sent, abort };
      try {
        const body = { revision: trial.revision, part: trial.part, step: trial.step, replace: trial.replace, have: this.shapes.have(), sure: trial.sure, window: WINDOW };
        const bytes = await fetchPacked(`/api/builds/${trial.build}/preview`, body, abort.signal);
        come = performance.now();
        measure("rhytonic:fetched", sent);
        heard = { mesh: this.shapes.read(bytes), asked: trial.asked };
      } catch (error) {
        heard = { error };
      }
      if (drag === this.drag && !abort.signal.aborted) this.hear(heard);
      if ("mesh" in heard) {
        measure("rhytonic:answer", come);
        // what is asked next is seen only after this is: asking sooner would make both wait
        await Promise.race([new Promise((drawn) => requestAnimationFrame(drawn)), new Promise((late) => setTimeout(late, LATE))]);
      }
    }
    this.flying = null;
  }
}
