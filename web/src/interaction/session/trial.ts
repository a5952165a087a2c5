import { asksFirst, asStep } from "../../model/session/toolStep";
import { editor, type Values } from "../../model/store";
import { previewer } from "../../sync/build";

/** Show trial values; nothing is stored. */
export function tryValues(values: Values, dragging: boolean): void {
  const { session } = editor.get();
  if (session === null) return;
  const tried = { ...session, values: { ...session.values, ...values } };
  // before anything was pointed at, a number is one to begin with
  editor.set({ session: asksFirst(tried) ? { ...tried, initial: { ...session.initial, ...values } } : { ...tried, dragging } });
  ask();
}

/** Ask the core how the values look, and what a click would add to them. */
export function ask(): void {
  const { session, build } = editor.get();
  if (session === null || build === null || (session.hover === null && asksFirst(session))) return;
  previewer.ask({
    build: build.id,
    revision: build.revision,
    part: session.part,
    step: asStep(session),
    replace: session.stored === null ? null : session.stepId,
    sure: session.sure ?? false,
  });
}

/** Show the trial though it takes long. */
export function tryAnyway(): void {
  const { session } = editor.get();
  if (session === null) return;
  editor.set({ session: { ...session, sure: true }, previewError: null, takesLong: false });
  ask();
}

/** Show what a click would do; nothing counts before it. */
export function tryHover(hover: Values): void {
  const { session } = editor.get();
  if (session === null) return;
  editor.set({ session: { ...session, hover } });
  ask();
}

/** The pointer went elsewhere: what it showed is gone. */
export function endHover(): void {
  const { session } = editor.get();
  if (session === null || session.hover === null) return;
  editor.set({ session: { ...session, hover: null } });
  endPreview();
}

/** Leave a value out again, as if it had never been given; others may take its place. What it was is kept in `left`. */
export function dropValue(name: string, instead: Values = {}): void {
  const { session } = editor.get();
  if (session === null) return;
  const without = (held: Values) => Object.fromEntries(Object.entries(held).filter(([key]) => key !== name));
  const values = without(session.values);
  const was = session.values[name];
  const left = was === undefined ? session.left : { ...session.left, [name]: was };
  editor.set({ session: { ...session, left, values: { ...values, ...instead }, ...(asksFirst({ ...session, values }) ? { initial: without(session.initial) } : {}) } });
  tryValues({}, false);
}

/** Keep values for the way back to where they count. */
export function keepLeft(values: Values): void {
  const { session } = editor.get();
  if (session !== null) editor.set({ session: { ...session, left: { ...session.left, ...values } } });
}

/** Show what is stored again, unless a drag goes on. */
export function endPreview(): void {
  previewer.cancel();
  if (!editor.get().session?.dragging) editor.set({ preview: null, previewError: null });
}
