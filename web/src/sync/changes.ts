import { answerBuild, api, type Build, Refused, sentence, Unreachable } from "../api/client";
import type { Intent } from "../model/document/intents";
import { conflict, withFreeIds } from "../model/document/rebase";
import { editor, type Picked, type Question } from "../model/store";

interface Pending {
  /** the build it was made on, whichever is open when its turn comes */
  readonly build: string;
  readonly label: string;
  readonly key: string;
  readonly group: string | null;
  readonly pick: Picked | null;
  readonly act: Intent | "undo" | "redo";
  readonly done: (outcome: { build: Build } | { error: unknown }) => void;
}

/** More than this is not worth keeping with every change. */
const LARGEST_MEMO = 20_000;

function memo(pick: Picked | null): { part: string; kind: Picked["kind"]; elements: number[]; ids: string[] } | null {
  if (pick === null || pick.elements.length > LARGEST_MEMO) return null;
  return { part: pick.part, kind: pick.kind, elements: [...pick.elements], ids: [...pick.ids] };
}

/** Ask the person; whether it is to be done. */
async function ask(question: Omit<Question, "answer">): Promise<boolean> {
  const yes = await new Promise<boolean>((answer) => editor.set({ question: { ...question, answer } }));
  editor.set({ question: null });
  return yes;
}

const SLOW = { title: "This takes a while", yes: "Do it anyway", no: "Leave it" };
const BOTH = { title: "Changed in two windows", yes: "Take mine", no: "Keep theirs" };

function shown(value: unknown): string {
  return typeof value === "object" ? JSON.stringify(value) : String(value ?? "its default");
}

/** The build if it is the one that is open. */
function openBuild(id: string): Build | null {
  const { build } = editor.get();
  return build?.id === id ? build : null;
}

function fetchBuild(id: string): Promise<Build> {
  return answerBuild(api.GET("/api/builds/{build_id}", { params: { path: { build_id: id } } }));
}

const MOST_REBASES = 6;
const RETRY = [500, 1000, 2000, 4000];

/**
 * Sends changes one after the other. A stale revision is answered by fetching the build and asking the intent again; while
 * server or database are away the change is kept and tried again.
 */
export class ChangeQueue {
  private queue: Pending[] = [];
  private running = false;

  constructor(
    private readonly take: (build: Build) => void,
    private readonly tell: (message: string) => void,
  ) {}

  /** Resolves with the build once the change is stored; rejects when it was refused. */
  send(label: string, act: Intent | "undo" | "redo", group: string | null = null): Promise<Build> {
    const build = editor.get().build?.id;
    if (build === undefined) return Promise.reject(new Error("no build is open"));
    return new Promise((resolve, reject) => {
      this.queue.push({
        build,
        label,
        key: crypto.randomUUID(),
        group,
        pick: editor.get().pick,
        act,
        done: (outcome) => ("build" in outcome ? resolve(outcome.build) : reject(outcome.error as Error)),
      });
      if (!this.running) void this.run();
    });
  }

  /** Which ids of the change that was stored last had been taken meanwhile, and what stands for them. */
  renamed: ReadonlyMap<string, string> = new Map();

  get busy(): boolean {
    return this.running;
  }

  private async run(): Promise<void> {
    this.running = true;
    editor.set({ save: { kind: "saving", message: null } });
    for (let next = this.queue[0]; next !== undefined; next = this.queue[0]) {
      try {
        const build = await this.persist(next);
        this.take(build);
        next.done({ build });
      } catch (error) {
        this.tell(sentence(error));
        next.done({ error });
      }
      this.queue.shift();
    }
    this.running = false;
    editor.set({ save: { kind: "saved", message: null } });
  }

  /** Until it is stored or refused. */
  private async persist(pending: Pending): Promise<Build> {
    let rebases = 0;
    let sure = editor.get().session?.sure ?? false;
    for (let attempt = 0; ; ) {
      try {
        const build = await this.attempt(pending, sure);
        if (attempt > 0) editor.set({ save: { kind: "saving", message: null } });
        return build;
      } catch (error) {
        if (error instanceof Unreachable) {
          editor.set({ save: { kind: "waiting", message: `Not stored yet: ${error.message}. Trying again …` } });
          await new Promise((r) => setTimeout(r, RETRY[Math.min(attempt, RETRY.length - 1)]));
          attempt += 1;
        } else if (error instanceof Refused && error.status === 409 && error.fault.code === "stale_revision" && rebases < MOST_REBASES) {
          rebases += 1;
          const before = openBuild(pending.build);
          const now = await fetchBuild(pending.build);
          if (!(await this.wanted(pending, before, now))) return now;
          this.take(now);
        } else if (error instanceof Refused && error.fault.code === "takes_long" && !sure && (await ask({ ...SLOW, message: error.message }))) {
          sure = true;
        } else {
          throw error;
        }
      }
    }
  }

  /** Whether a change is still wanted on what another window has left; asked where both changed the same. */
  private async wanted(pending: Pending, before: Build | null, now: Build): Promise<boolean> {
    if (typeof pending.act === "string" || before === null) return true;
    const { kinds } = editor.get();
    const found = conflict(before.document, pending.act(before.document, kinds), now.document, pending.act(now.document, kinds));
    if (found === null) return true;
    return ask({ ...BOTH, message: `${pending.label}: another window has just set ${found.name} to ${shown(found.theirs)}; here it would be ${shown(found.mine)}.` });
  }

  private async attempt(pending: Pending, sure: boolean): Promise<Build> {
    const { kinds } = editor.get();
    const build = openBuild(pending.build) ?? (await fetchBuild(pending.build));
    const params = { path: { build_id: build.id } };
    if (pending.act === "undo") {
      return answerBuild(api.POST("/api/builds/{build_id}/undo", { params, body: { revision: build.revision } }));
    }
    if (pending.act === "redo") {
      return answerBuild(api.POST("/api/builds/{build_id}/redo", { params, body: { revision: build.revision } }));
    }
    const wanted = pending.act(build.document, kinds);
    if (wanted === null) throw new Error(`“${pending.label}” no longer fits the build; it was changed elsewhere`);
    const { patch, ids } = withFreeIds(build.document, wanted);
    this.renamed = ids;
    if (patch.length === 0) return build;
    return answerBuild(
      api.POST("/api/builds/{build_id}/changes", {
        params,
        body: {
          revision: build.revision,
          label: pending.label,
          key: pending.key,
          patch,
          group: pending.group,
          pick: memo(pending.pick),
          sure,
        },
      }),
    );
  }
}
