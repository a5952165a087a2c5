import { addStroke } from "../../model/brush";
import { asksFirst } from "../../model/session";
import { editor, kindOf } from "../../model/store";
import { change } from "../../sync/build";
import { begin } from "./begin";
import { endPreview } from "./trial";

/** Store the stroke that was drawn and stay ready for the next. */
export async function storeStroke(): Promise<void> {
  const { session } = editor.get();
  if (session === null || session.tool !== "brush" || asksFirst(session)) return;
  const fine = await change(kindOf(editor.get(), "brush")?.title ?? "Brush", addStroke(session));
  const now = editor.get().session;
  if (now !== null && now.stepId === session.stepId && now.tool === "brush") {
    const { strokes: _, ...settings } = now.values;
    const { pick } = editor.get();
    const on = now.takes === "pick" && pick?.part === now.part ? pick : null;
    begin("brush", now.part, on, on === null ? "nothing" : "pick", settings, { proposes: false, asks: "strokes" });
    if (fine) editor.set({ lastValues: { ...editor.get().lastValues, brush: settings } });
  }
  endPreview();
}
