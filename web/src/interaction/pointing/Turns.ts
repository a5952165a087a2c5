import { editor } from "../../model/store";

/** Gestures and keys act in the order they were made, however long the one before takes to be stored; while the server is away,
 * hands go on. */
export class Turns {
  private deeds: Promise<unknown> = Promise.resolve();
  private waiting = 0;

  /** How many have not acted yet. */
  get pending(): number {
    return this.waiting;
  }

  /** Resolves once it was done, and never fails: whoever does something tells what went wrong. */
  readonly take = (deed: () => unknown): Promise<unknown> => {
    this.waiting += 1;
    this.deeds = this.deeds
      .then(() => Promise.race([deed(), away()]))
      .catch(() => undefined)
      .finally(() => (this.waiting -= 1));
    return this.deeds;
  };
}

/** Resolves once the server or its database cannot be reached. */
function away(): Promise<void> {
  if (editor.get().save.kind === "waiting") return Promise.resolve();
  return new Promise((resolve) => {
    const off = editor.subscribe((state) => {
      if (state.save.kind === "waiting") {
        off();
        resolve();
      }
    });
  });
}
