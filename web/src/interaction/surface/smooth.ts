import type { Part, PartStatus, Step } from "../../api/client";
import { addStep, addSteps, freeName, removeStep, setStep } from "../../model/document/intents";
import { change } from "../../sync/build";
import { accept } from "../session/storing";

/** Levels that are drawn without asking. */
export const FREE_LEVELS = 3;
/** No mesh beyond this many faces; the core refuses them too. */
export const MOST_FACES = 10_000_000;

type Smooth = Step & { kind: "subdivision"; levels?: number; handover?: number | null };

/** The smooth surface of a part: its last subdivision step. */
export function smoothStep(part: Part): Smooth | null {
  return ([...(part.steps ?? [])].reverse().find((s) => s.kind === "subdivision") as Smooth | undefined) ?? null;
}

/** Faces of the surface at a level, known before it is made: one for each corner of what stands above it, mirrored or copied as that
 * is, then four for each; and so many times as many as the steps below it make of them. */
export function facesAt(status: PartStatus, level: number): number {
  const own = level === 0 ? status.smooth_faces : status.smooth_corners * 4 ** (level - 1);
  return Math.round(own * status.smooth_times);
}

/** Show the smooth surface at a level, or not at all. */
export async function smooth(part: Part, level: number | null): Promise<void> {
  await accept();
  const id = part.id ?? "";
  const step = smoothStep(part);
  if (level === null) {
    if (step?.id) await change("Smooth off", setStep(id, step.id, { enabled: false }));
  } else if (step?.id) {
    await change("Smooth surface", setStep(id, step.id, { enabled: true, levels: level }));
  } else {
    const free = freeName("subdivision", (part.steps ?? []).map((s) => s.id));
    await change("Smooth surface", addStep(id, { id: free, kind: "subdivision", levels: level }));
  }
}

export async function handOverAt(part: Part, level: number): Promise<void> {
  const step = smoothStep(part);
  if (step?.id) await change("Handover level", setStep(part.id ?? "", step.id, { handover: level }), `${part.id}/handover`);
}

export async function takeSmoothOut(part: Part): Promise<void> {
  await accept();
  const step = smoothStep(part);
  if (step?.id) await change("Remove smooth surface", removeStep(part.id ?? "", step.id));
}

/** Put steps in front of the smooth surface that make it come out better. */
export async function prepareSmooth(part: string, label: string, steps: readonly Readonly<Record<string, unknown>>[]): Promise<void> {
  await accept();
  await change(label, addSteps(part, steps));
}
