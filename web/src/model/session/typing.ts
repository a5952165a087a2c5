import { editor } from "../store";
import { asking, wantsNumber } from "./asking";

/** Whether digits typed over the views have a field to go to: a tool's, a form's or a path's that is drawn, or a length asked. */
export function takesNumbers(): boolean {
  const { session, drawing, path } = editor.get();
  return session !== null || drawing !== null || path !== null || wantsNumber(asking.get().asking);
}
