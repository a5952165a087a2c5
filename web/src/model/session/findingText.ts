import type { FindingInfo } from "../../api/client";
import { addStep, freeName, type Intent, removeStep } from "../document/intents";
import { editor, kindOf, METRES, partOf, unitOf } from "../store";

/** What each kind of finding is called, for one and for several. */
const WORDS: Record<string, readonly [string, string]> = {
  zero_area_face: ["face without area", "faces without area"],
  doubled_vertex: ["doubled vertex", "doubled vertices"],
  coincident_faces: ["face on another", "faces on each other"],
  loose_vertex: ["loose vertex", "loose vertices"],
  open_border: ["open border edge", "open border edges"],
  non_manifold_edge: ["edge of three or more faces", "edges of three or more faces"],
  turned_face: ["face turned inside out", "faces turned inside out"],
  inner_face: ["face trapped inside", "faces trapped inside"],
  thin_wall: ["face of a thin wall", "faces of thin walls"],
  self_crossing: ["face that crosses another", "faces that cross each other"],
  long_face: ["long thin face", "long thin faces"],
  apart_at_mirror: ["point off the mirror's plane", "points off the mirror's plane"],
  folded_surface: ["face over which the smooth surface folds", "faces over which the smooth surface folds"],
  sharp_surface: ["face over which the smooth surface is sharp", "faces over which the smooth surface is sharp"],
  turned_island: ["face turned over on the texture square", "faces turned over on the texture square"],
  overlapping_islands: ["face that lies over another on the texture square", "faces that lie over each other on the texture square"],
  stretched_face: ["face stretched on the texture square", "faces stretched on the texture square"],
  uneven_density: ["face of another density than its part", "faces of another density than their part"],
  no_uv: ["face without a place on the texture square", "faces without a place on the texture square"],
  ngon: ["face of more than four sides", "faces of more than four sides"],
  triangle: ["triangle", "triangles"],
};

/** Found, but often meant: told apart from faults. */
const NOTES = new Set(["open_border", "long_face", "ngon", "triangle", "sharp_surface", "stretched_face", "uneven_density", "no_uv"]);

export function isFault(kind: string): boolean {
  return !NOTES.has(kind);
}

export function findingText(kind: string, count: number): string {
  const words = WORDS[kind] ?? [kind.replaceAll("_", " "), kind.replaceAll("_", " ")];
  return `${count} ${words[count === 1 ? 0 : 1]}`;
}

/** What one press does about a finding, where something does. */
export function repairOf(part: string, f: FindingInfo): { readonly title: string; readonly intent: Intent } | null {
  const steps = partOf(editor.get(), part)?.steps ?? [];
  const step = steps.find((s) => s.id === f.step);
  const add = (title: string, kind: string, more: Record<string, unknown>) => ({
    title,
    intent: addStep(part, { id: freeName(kind, steps.map((s) => s.id)), kind, ...more }),
  });
  const on = { pick: { [f.elements]: { ids: f.ids } } };
  const metres = METRES[unitOf(editor.get())];
  if (f.surface) return null;
  switch (f.kind) {
    case "zero_area_face":
      return step !== undefined && kindOf(editor.get(), step.kind)?.at_rest ? { title: "Take it out", intent: removeStep(part, f.step) } : null;
    case "doubled_vertex":
      return add("Weld them", "weld", { ...on, distance: Number((editor.get().limits.doubled / metres).toPrecision(6)) });
    case "loose_vertex":
    case "inner_face":
      return add("Delete them", "delete", on);
    case "open_border":
      return add("Fill", "fill", on);
    case "apart_at_mirror": {
      const mirror = step as { readonly axis?: string; readonly at?: number } | undefined;
      return add("Put them on the plane", "flatten", { ...on, to: mirror?.axis ?? "x", at: mirror?.at ?? 0 });
    }
    case "turned_face":
      return add("Flip them", "flip", on);
    case "turned_island":
      return add("Turn it back", "uv_transform", { ...on, flip: "u" });
    case "overlapping_islands":
    case "uneven_density":
      return add("Pack again", "pack", {});
    case "no_uv":
      return add("Unwrap them", "unwrap", on);
    case "ngon":
      return add("Make quads", "quad_cap", on);
    default:
      return null;
  }
}
