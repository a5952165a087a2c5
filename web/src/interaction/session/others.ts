import { follow } from "../../api/events";
import { merged } from "../../model/document/threeWay";
import { same, trialNow } from "../../model/session/toolStep";
import { editor, partOf, type ToolSession, type Values } from "../../model/store";
import { catchUp, tell } from "../../sync/build";
import { ask } from "./trial";

/** Take in what other windows change on the build at work, until it is enough. A tool at work here stays at work. */
export function followOthers(): () => void {
  return follow((news) => {
    if (news !== null && news.build !== editor.get().build?.id) return;
    void catchUp(news?.revision ?? null)
      .then((changed) => changed && goOn())
      .catch(() => undefined); // away: the stream tells when it is back
  });
}

/** What another window made of the step at work is what is stored by now; only what is tried here stands over it. */
function caughtUp(session: ToolSession, stored: Values): void {
  const step = partOf(editor.get(), session.part)?.steps?.find((s) => s.id === session.stepId) as Readonly<Record<string, unknown>> | undefined;
  if (step === undefined) return;
  const told = Object.fromEntries(Object.entries(step).filter(([key, v]) => v != null && !OWN.includes(key))) as Values;
  const now = { ...stored, ...told };
  if (same(now, stored)) return;
  editor.set({ session: { ...session, stored: now, values: merged(stored, session.values, now) as Values } });
}

/** What of a step no tool changes. */
const OWN: readonly string[] = ["id", "kind", "label", "enabled", "live", "v", "pick", "through"];

/** What is tried here goes on, on what is there now. */
function goOn(): void {
  const { session } = editor.get();
  if (session === null) return;
  const part = partOf(editor.get(), session.part);
  if (part === null || (session.stored !== null && !part.steps?.some((s) => s.id === session.stepId))) {
    editor.set({ session: null, preview: null, previewError: null });
    tell("Another window has taken away what was being worked on here; its undo brings it back");
    return;
  }
  if (session.stored !== null) caughtUp(session, session.stored);
  if (trialNow() !== null) ask();
}
