import type { Part, Step } from "../../api/client";
import { isCurve } from "../document/parts";
import { editor, type EditorState, METRES, partOf, partsOf, type PathWork, type Triple, unitOf } from "../store";

export type Corner = "sharp" | "fillet" | "chamfer" | "soft";

export const CORNERS: readonly { readonly value: Corner; readonly label: string }[] = [
  { value: "sharp", label: "sharp" },
  { value: "fillet", label: "fillet" },
  { value: "chamfer", label: "chamfer" },
  { value: "soft", label: "soft" },
];

/** A point of a path, as recipes have it, in the unit of the build and the part's axes. */
export interface PathPoint {
  readonly at: Triple;
  readonly corner?: Corner;
  readonly size?: number;
  readonly in?: Triple;
  readonly out?: Triple;
}

/** The path that a recipe begins with. */
export function pathOf(part: Part | null): Step | null {
  const first = part?.steps?.[0];
  return first?.kind === "path" ? first : null;
}

export function pointsOf(step: Step | null): PathPoint[] {
  const held = ((step as unknown as { points?: readonly unknown[] } | null)?.points ?? []) as readonly (Triple | PathPoint)[];
  return held.map((p) => (Array.isArray(p) ? { at: p as unknown as Triple } : (p as PathPoint)));
}

export function isClosed(step: Step | null): boolean {
  return (step as unknown as { closed?: boolean } | null)?.closed ?? false;
}

/** As a recipe says it: a plain point by its place alone. */
export function told(points: readonly PathPoint[]): unknown[] {
  return points.map((p) => (Object.keys(p).length === 1 ? p.at : p));
}

/** The path of the part at work, where that is still being drawn: a path and nothing below it but what keeps it a curve. */
export function pathAtHand(state: EditorState): { readonly part: string; readonly step: string } | null {
  const part = partOf(state, state.current);
  const step = pathOf(part);
  return part?.id != null && step?.id != null && isCurve(part, partsOf(state), state.kinds) ? { part: part.id, step: step.id } : null;
}

/** The points of the path under way. */
export function underWay(state: EditorState): PathPoint[] {
  return state.path === null ? [] : pointsOf(pathOf(partOf(state, state.path.part)));
}

/** A place in metres as a recipe has it, without the noise of pointing. */
export function tidy(v: readonly number[]): Triple {
  const metres = METRES[unitOf(editor.get())];
  return v.map((x) => Number((x / metres).toFixed(6)) + 0) as unknown as Triple;
}

export function setPath(values: Partial<PathWork>): void {
  const { path } = editor.get();
  if (path !== null) editor.set({ path: { ...path, ...values } });
}
