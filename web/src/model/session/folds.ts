import type { Step, StepStatus } from "../../api/client";

/** Steps that put points where they belong; a row of so many says no more than that. */
const MOVES = new Set(["transform", "flatten", "slide"]);
const LEAST = 4;

/** Lines of a recipe: a step by its place in it, or several moves in a row that are shown as one. */
export type Line = { readonly at: number } | { readonly from: number; readonly to: number };

/** A recipe with its rows of moves folded. What is open, named, switched off or broken stands by itself, and the working mark is
 * never within a fold. */
export function folded(steps: readonly Step[], status: readonly (StepStatus | undefined)[], open: string | null, mark: number): Line[] {
  const plain = (step: Step, i: number) => MOVES.has(step.kind) && step.label == null && step.enabled !== false && step.id !== open && status[i]?.error == null && (status[i]?.missing ?? 0) === 0;
  const out: Line[] = [];
  for (let i = 0; i < steps.length; ) {
    let end = i;
    while (end < steps.length && (end === i || end !== mark) && plain(steps[end] as Step, end)) end += 1;
    if (end - i >= LEAST) out.push({ from: i, to: end });
    else for (let k = i; k < Math.max(end, i + 1); k++) out.push({ at: k });
    i = Math.max(end, i + 1);
  }
  return out;
}
