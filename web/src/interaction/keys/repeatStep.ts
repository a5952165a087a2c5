import { addStep, freeName } from "../../model/document/intents";
import { isCurve, takenOn } from "../../model/document/parts";
import { pickRule } from "../../model/picks/picks";
import { editsOfCage } from "../../model/steps/workingMark";
import { editor, kindOf, partOf, partsOf } from "../../model/store";
import { change, tell } from "../../sync/build";
import { accept } from "../session/storing";

/** The last edit above the working mark once more, with its numbers, on what is picked now. */
export async function repeatLast(): Promise<void> {
  await accept();
  const { pick, current } = editor.get();
  const part = partOf(editor.get(), pick?.part ?? current);
  if (part?.id == null) return;
  const last = editsOfCage(part).findLast((s) => (kindOf(editor.get(), s.kind)?.takes.length ?? 0) > 0);
  if (last === undefined) {
    tell("There is no step to repeat yet");
    return;
  }
  const kind = kindOf(editor.get(), last.kind);
  const allowed = kind === null ? [] : takenOn(kind, isCurve(part, partsOf(editor.get()), editor.get().kinds));
  if (pick === null || kind === null || !allowed.includes(pick.kind)) {
    tell(`${kind?.title ?? last.kind} works on ${allowed.join(" or ") || "a pick"}; pick some to repeat it on`);
    return;
  }
  const rule = pickRule(pick);
  const on = kind.picks === "through" ? { through: rule[pick.kind] } : { pick: rule };
  const { label: _, ...values } = last as unknown as Record<string, unknown>;
  const id = freeName(last.kind, (part.steps ?? []).map((s) => s.id));
  if (await change(`Repeat ${kind.title}`, addStep(part.id, { ...values, ...on, id }))) editor.set({ openStep: id });
}
