import { asksFirst, asStep } from "../../model/session";
import { editor, type ToolSession, type Values } from "../../model/store";
import { previewer } from "../../sync/build";

/** Show trial values; nothing is stored. */
export function tryValues(values: Values, dragging: boolean): void {
  const { session, build } = editor.get();
  if (session === null || build === null) return;
  if (asksFirst({ ...session, values: { ...session.values, ...values } })) {
    editor.set({ session: { ...session, values: { ...session.values, ...values }, initial: { ...session.initial, ...values } } });
    return;
  }
  editor.set({ session: { ...session, values: { ...session.values, ...values }, dragging } });
  const now = editor.get().session as ToolSession;
  previewer.ask({
    build: build.id,
    revision: build.revision,
    part: session.part,
    step: asStep(now),
    replace: session.stored === null ? null : session.stepId,
  });
}

/** Show what a click would do; nothing counts before it. */
export function tryHover(values: Values): void {
  const { session } = editor.get();
  if (session === null) return;
  editor.set({ session: { ...session, hovering: true } });
  tryValues(values, false);
}

/** The pointer went elsewhere: what it showed is gone. */
export function endHover(): void {
  const { session } = editor.get();
  if (session === null || !session.hovering) return;
  editor.set({ session: { ...session, values: session.initial, hovering: false } });
  endPreview();
}

/** Leave a value out again, as if it had never been given; others may take its place. */
export function dropValue(name: string, instead: Values = {}): void {
  const { session } = editor.get();
  if (session === null) return;
  const without = (held: Values) => Object.fromEntries(Object.entries(held).filter(([key]) => key !== name));
  const values = without(session.values);
  editor.set({ session: { ...session, values: { ...values, ...instead }, ...(asksFirst({ ...session, values }) ? { initial: without(session.initial) } : {}) } });
  tryValues({}, false);
}

/** Show what is stored again, unless a drag goes on. */
export function endPreview(): void {
  previewer.cancel();
  if (!editor.get().session?.dragging) editor.set({ preview: null, previewError: null });
}
