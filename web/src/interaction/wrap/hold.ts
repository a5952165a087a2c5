import { sentence } from "../../api/client";
import { setStep } from "../../model/document/intents";
import { isLockedPart } from "../../model/document/parts";
import { editor, partOf } from "../../model/store";
import { change, tell } from "../../sync/build";
import { placesNow } from "../../sync/layout";
import { accept } from "../session/storing";

/** The step that packs a part last; null where none does. */
export function packing(part: string): { readonly id: string; readonly held: number } | null {
  const steps = partOf(editor.get(), part)?.steps ?? [];
  const last = steps.filter((s) => s.kind === "pack" && s.enabled !== false).at(-1);
  return last?.id == null || last.kind !== "pack" ? null : { id: last.id, held: last.places?.length ?? 0 };
}

/** Hold the pieces of a part where they lie, so that what changes upstream moves none of them. */
export async function hold(part: string): Promise<void> {
  await accept();
  if (packing(part) === null) return tell("pieces are held where they were packed; pack them first");
  try {
    const { step, density, places } = await placesNow(part);
    await change("Hold the pieces", setStep(part, step, { density, places }));
  } catch (error) {
    tell(sentence(error));
  }
}

/** The layout goes out to be painted on: what is packed is held from now on. */
export async function holdWhatGoesOut(part: string): Promise<void> {
  const step = packing(part);
  if (step === null || step.held > 0 || isLockedPart(editor.get(), part)) return;
  await hold(part);
  tell("its pieces are held where they lie from now on, since they may be painted on; Let go frees them");
}

/** Have the pieces packed anew whenever something changes. */
export async function letGo(part: string): Promise<void> {
  await accept();
  const step = packing(part);
  if (step !== null) await change("Let the pieces go", setStep(part, step.id, { places: undefined }));
}
