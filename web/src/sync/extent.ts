import { answer, api, sentence } from "../api/client";
import type { components } from "../api/schema";
import { pickRule } from "../model/picks/picks";
import { matrixOf } from "../model/places/frames";
import { editor, groupsOf, METRES, partOf, type Picked, type Triple, unitOf } from "../model/store";
import { askOf, tell } from "./build";
import { Vector3 } from "three";

export type Extent = components["schemas"]["ExtentInfo"];

/**
 * How far a pick, or the whole of a part, reaches: exactly, as the core tells it.
 *
 * @param above the step above which it is measured; null for the working mark
 * @param rule a pick as a step tells it, in place of one by hand
 */
export async function extentOf(part: string, pick: Picked | null, space: "part" | "build", above: string | null = null, rule: object | null = null): Promise<Extent | null> {
  const { build } = editor.get();
  if (build === null) return null;
  const told = rule ?? (pick === null ? { vertices: "all" } : pickRule(pick));
  try {
    return (await askOf((of) => answer(api.POST("/api/builds/{build_id}/extent", { params: { path: { build_id: of.id } }, body: { part, revision: of.revision, pick: told as never, space, ...(above === null ? {} : { above }) } })))) as Extent;
  } catch (error) {
    tell(sentence(error));
    return null;
  }
}

/** How far a part reaches in the axes of another: the box round the corners of its own. */
export async function extentIn(part: string, other: string): Promise<Pick<Extent, "low" | "high"> | null> {
  const own = await extentOf(part, null, "part");
  const [from, to] = [partOf(editor.get(), part), partOf(editor.get(), other)];
  if (own === null || from === null || to === null) return null;
  const metres = METRES[unitOf(editor.get())];
  const way = matrixOf(to, metres, groupsOf(editor.get())).invert().multiply(matrixOf(from, metres, groupsOf(editor.get())));
  const corners = [0, 1, 2, 3, 4, 5, 6, 7].map((i) => new Vector3(...([0, 1, 2].map((k) => ((i >> k) & 1 ? own.high : own.low)[k] as number) as Triple)).multiplyScalar(metres).applyMatrix4(way).divideScalar(metres));
  const along = (most: (...of: number[]) => number) => [0, 1, 2].map((k) => Number(most(...corners.map((c) => c.getComponent(k))).toPrecision(9))) as Triple;
  return { low: along(Math.min), high: along(Math.max) };
}
