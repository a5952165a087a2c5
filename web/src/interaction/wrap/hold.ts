import { sentence } from "../../api/client";
import { setStep, together } from "../../model/document/intents";
import { isLockedPart } from "../../model/document/parts";
import { editor, partOf, partsOf } from "../../model/store";
import { sharing } from "../../model/wrap/sharing";
import { change, tell } from "../../sync/build";
import { placesNow } from "../../sync/layout";
import { accept } from "../session/storing";

/** The step that packs a part last; null where none does. */
export function packing(part: string): { readonly id: string; readonly held: number } | null {
  const steps = partOf(editor.get(), part)?.steps ?? [];
  const last = steps.filter((s) => s.kind === "pack" && s.enabled !== false).at(-1);
  return last?.id == null || last.kind !== "pack" ? null : { id: last.id, held: last.places?.length ?? 0 };
}

/** Hold the pieces of parts where they lie, as one change, so that what changes upstream moves none of them. */
async function holdAll(parts: readonly string[]): Promise<boolean> {
  try {
    const found = await Promise.all(parts.map(async (part) => ({ part, ...(await placesNow(part)) })));
    return await change("Hold the pieces", together(...found.map(({ part, step, density, places }) => setStep(part, step, { density, places }))));
  } catch (error) {
    tell(sentence(error));
    return false;
  }
}

/** Hold the pieces of a part where they lie. */
export async function hold(part: string): Promise<void> {
  await accept();
  if (packing(part) === null) return tell("pieces are held where they were packed; pack them first");
  await holdAll([part]);
}

/** The layout goes out to be painted on: what is packed is held from now on, of all parts that share the square. */
export async function holdWhatGoesOut(part: string): Promise<void> {
  await accept();
  const parts = partsOf(editor.get());
  const one = parts.find((p) => p.id === part);
  const loose = one === undefined ? [] : sharing(one, parts).filter((id) => packing(id)?.held === 0 && !isLockedPart(editor.get(), id));
  if (loose.length > 0 && (await holdAll(loose))) tell("pieces are held where they lie from now on, since they may be painted on; in Wrap they can be let go");
}

/** Have the pieces packed anew whenever something changes. */
export async function letGo(part: string): Promise<void> {
  await accept();
  const step = packing(part);
  if (step !== null) await change("Let the pieces go", setStep(part, step.id, { places: undefined }));
}
