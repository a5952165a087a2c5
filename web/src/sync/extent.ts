import { answer, api, sentence } from "../api/client";
import type { components } from "../api/schema";
import { pickRule } from "../model/picks";
import { editor, type Picked } from "../model/store";
import { askOf, tell } from "./build";

export type Extent = components["schemas"]["ExtentInfo"];

/** How far a pick, or the whole of a part, reaches: exactly, as the core tells it. */
export async function extentOf(part: string, pick: Picked | null, space: "part" | "build"): Promise<Extent | null> {
  const { build } = editor.get();
  if (build === null) return null;
  const rule = pick === null ? { vertices: "all" } : pickRule(pick);
  try {
    return (await askOf((of) => answer(api.POST("/api/builds/{build_id}/extent", { params: { path: { build_id: of.id } }, body: { part, revision: of.revision, pick: rule as never, space } })))) as Extent;
  } catch (error) {
    tell(sentence(error));
    return null;
  }
}
