import type { Part, Step } from "../../api/client";
import { cageEnd } from "../document/intents";
import { editor } from "../store";

/** How many steps of a part stand above its working mark, by the kinds there are. */
export function stepsOfCage(part: Part): number {
  return cageEnd(part, editor.get().kinds);
}

/** The edits above the working mark that count, the form they are made on left out. */
export function editsOfCage(part: Part): Step[] {
  return (part.steps ?? []).slice(1, stepsOfCage(part)).filter((s) => s.enabled !== false);
}

/** The steps below the working mark that count. */
export function stepsBelow(part: Part): Step[] {
  return (part.steps ?? []).slice(stepsOfCage(part)).filter((s) => s.enabled !== false);
}
