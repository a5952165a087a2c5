import { sentence } from "../../api/client";
import { addSteps, setStep, together } from "../../model/document/intents";
import { chosenOf } from "../../model/document/members";
import { editor, partOf } from "../../model/store";
import { change, tell } from "../../sync/build";
import { portionsOf } from "../../sync/layout";
import { accept } from "../session/storing";

/** Have the parts chosen in the list lie on one square: each in a portion of it, all at one density. */
export async function oneSquare(): Promise<void> {
  await accept();
  const state = editor.get();
  const parts = chosenOf(state).flatMap((key) => (key.startsWith("p:") ? [partOf(state, key.slice(2))] : [])).filter((p) => p !== null && p.of == null);
  if (parts.length < 2) return tell("choose two or more parts with recipes of their own in the list first; Ctrl or Shift adds");
  try {
    const first = parts.flatMap((p) => p?.steps ?? []).find((s) => s.kind === "pack"); // its numbers are everyone's
    const given = first?.kind === "pack" ? { resolution: first.resolution ?? 2048, margin: first.margin ?? 8 } : {};
    const { resolution, margin, density, portions } = await portionsOf(parts.map((p) => p?.id ?? ""), given);
    const kept = { resolution, margin, density };
    await change("One square", together(...portions.map(({ part, step, area }) => (step === null
      ? addSteps(part, [{ kind: "pack", ...kept, area }])
      : setStep(part, step, { ...kept, area, places: undefined })))));
  } catch (error) {
    tell(sentence(error));
  }
}
