import { follow } from "../../api/events";
import { trialNow } from "../../model/session";
import { editor, partOf } from "../../model/store";
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
  if (trialNow() !== null) ask();
}
