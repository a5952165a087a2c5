import type { Part, Step } from "../../api/client";
import { cageEnd } from "../document/intents";
import { baseForms } from "./kinds";
import { editor } from "../store";

/** The base form of a part nobody has edited yet: all that stands above its working mark. */
export function unedited(part: Part): Step | null {
  const first = part.steps?.[0];
  if (first === undefined || first.enabled === false) return null;
  const edits = (part.steps ?? []).slice(1, cageEnd(part)).filter((s) => s.enabled !== false);
  return edits.length === 0 && baseForms(editor.get().kinds).some((k) => k.word === first.kind && k.curve !== "begins") ? first : null;
}
