import type { Part, Step } from "../../api/client";
import { baseForms } from "./kinds";
import { editor } from "../store";
import { editsOfCage } from "./workingMark";

/** The base form of a part nobody has edited yet: all that stands above its working mark. */
export function unedited(part: Part): Step | null {
  const first = part.steps?.[0];
  if (first === undefined || first.enabled === false) return null;
  return editsOfCage(part).length === 0 && baseForms(editor.get().kinds).some((k) => k.word === first.kind && k.curve !== "begins") ? first : null;
}
