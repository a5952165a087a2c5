import type { BuildDocument, KindInfo, Part, Step } from "../../api/client";
import { cageEnd, freeName } from "../document/intents";
import { isCurve, needsOf } from "../document/parts";
import type { Axis } from "./mirroring";

const ALL = { not: { ids: [] } };
/** Live steps whose numbers say nothing of a side. */
const EVEN = ["subdivision", "shell"];

/**
 * The recipe of a part that is the mirror image of another across a plane of its own axes: the same steps, and at the end of the cage
 * all of it reflected, its faces turned right side out. Null where it would not be that image: where steps need other parts,
 * which stand elsewhere for the image, or live steps below tell sides.
 */
export function ownMirrored(part: Part, axis: Axis, document: BuildDocument, kinds: readonly KindInfo[]): Step[] | null {
  const steps = part.steps;
  if (steps == null || part.mark || needsOf(part, document, kinds).length > 0) return null;
  const end = cageEnd(part, kinds);
  const below = steps.slice(end).map((s) => reflectedLive(s, axis));
  if (below.includes(null)) return null;
  const ids = steps.map((s) => s.id);
  const curve = isCurve({ ...part, steps: steps.slice(0, end) }, document.parts ?? [], kinds);
  const scale = [0, 1, 2].map((i) => ("xyz"[i] === axis ? -1 : 1));
  const reflect = { id: freeName("transform", ids), kind: "transform", label: "Mirrored", pick: { [curve ? "vertices" : "faces"]: ALL }, about: "origin", scale };
  const turn = { id: freeName("flip", ids), kind: "flip", label: "Right side out", pick: { faces: ALL } };
  return [...steps.slice(0, end), ...([reflect, ...(curve ? [] : [turn])] as unknown as Step[]), ...(below as Step[])];
}

function reflectedLive(step: Step, axis: Axis): Step | null {
  if (step.kind !== "mirror") return EVEN.includes(step.kind) || step.enabled === false ? step : null;
  if ((step.axis ?? "x") !== axis) return step;
  return { ...step, keep: step.keep === "-" ? "+" : "-", at: -(step.at ?? 0) + 0 };
}
