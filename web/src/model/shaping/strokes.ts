import { deepEqual } from "fast-equals";

import type { Step } from "../../api/client";
import { addStep, cageEnd, freeName, type Intent } from "../document/intents";
import { asStep } from "../session/toolStep";
import { editor, METRES, type ToolSession, unitOf, type Value } from "../store";

export const BRUSHES = [
  { value: "grab", label: "Grab" },
  { value: "smooth", label: "Smooth" },
  { value: "relax", label: "Relax: even spacing" },
  { value: "inflate", label: "Inflate" },
  { value: "pinch", label: "Pinch" },
  { value: "flatten", label: "Flatten" },
  { value: "groove", label: "Groove" },
] as const;

/** A stroke as a step tells it: samples with pressure, in the part's axes and the build's unit; how far a grab went. */
export interface Stroke {
  readonly points: readonly (readonly number[])[];
  readonly move?: readonly number[];
}

/** A step holds no more strokes than this, so that adding one stays quick. */
const MOST_STROKES = 60;

/** Radius in metres. */
export function radiusOf(session: ToolSession): number {
  return Number(session.values["radius"] ?? 1) * METRES[unitOf(editor.get())];
}

/** The strokes of a session, as the core takes them. */
export function strokes(...list: readonly Stroke[]): Value {
  return list as unknown as Value;
}

/** What of a brush step all its strokes share. */
function shared(step: Readonly<Record<string, unknown>>): Record<string, unknown> {
  const plain = { strength: 0.5, fullness: 0.5, mirror: "none", hold: true, live: false, ...Object.fromEntries(Object.entries(step).filter(([, v]) => v != null)) } as Record<string, unknown>;
  for (const key of ["id", "label", "enabled", "v", "strokes"]) delete plain[key];
  const pick = plain["pick"];
  // beside its ids a stored pick keeps what it meant
  if (pick !== undefined) plain["pick"] = Object.fromEntries(Object.entries(pick as Record<string, { ids?: unknown }>).filter(([, rule]) => rule != null).map(([kind, rule]) => [kind, rule.ids ?? rule]));
  return plain;
}

/** One stroke more: in the step just above where it would go, where that has the same settings, else in a step of its own. */
export function addStroke(session: ToolSession): Intent {
  const step = asStep(session);
  const added = (step["strokes"] as readonly Stroke[])[0];
  return (document, kinds) => {
    const at = document.parts?.findIndex((p) => p.id === session.part) ?? -1;
    const part = document.parts?.[at];
    if (part === undefined || added === undefined) return null;
    const end = step["live"] === true ? (part.steps?.length ?? 0) : cageEnd(part, kinds);
    const last = part.steps?.[end - 1] as (Step & { strokes?: readonly unknown[] }) | undefined;
    const goesOn = last?.kind === "brush" && last.enabled !== false && (last.strokes?.length ?? 0) < MOST_STROKES && deepEqual(shared(last as never), shared(step));
    if (goesOn) return [{ op: "add", path: `/parts/${at}/steps/${end - 1}/strokes/-`, value: added }];
    return addStep(session.part, { id: freeName("brush", (part.steps ?? []).map((s) => s.id)), ...step })(document, kinds);
  };
}
