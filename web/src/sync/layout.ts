import { answer, api, type PartLayout, sentence } from "../api/client";
import { useLaid } from "../model/wrap/layout";
import { editor } from "../model/store";
import { tell } from "./build";

/** Ask how a part lies on the square, where that is not known for its mesh yet. */
export async function fetchLayout(part: string): Promise<void> {
  const { build, meshes } = editor.get();
  const key = meshes[part]?.key ?? "";
  const held = useLaid.getState();
  if (build === null || key === "" || (held.part === part && held.key === key)) return;
  try {
    const layout: PartLayout = await answer(api.GET("/api/builds/{build_id}/parts/{part_id}/layout", { params: { path: { build_id: build.id, part_id: part } } }));
    if (editor.get().meshes[part]?.key === key) useLaid.setState({ part, key, layout });
  } catch (error) {
    tell(sentence(error));
  }
}

/** Edges, by their ids, that would open a part where it shows least. */
export async function suggestedSeams(part: string): Promise<readonly string[]> {
  const { build } = editor.get();
  if (build === null) return [];
  const found = await answer(api.POST("/api/builds/{build_id}/seams", { params: { path: { build_id: build.id } }, body: { part, revision: build.revision } }));
  return found.edges;
}

/** Where the pieces of a part stand since it was packed last. */
export async function placesNow(part: string): Promise<{ readonly step: string; readonly density: number; readonly places: readonly object[] }> {
  const { build } = editor.get();
  return answer(api.POST("/api/builds/{build_id}/held", { params: { path: { build_id: build?.id ?? "" } }, body: { part, revision: build?.revision ?? null } }));
}

interface Portions {
  readonly resolution: number;
  readonly margin: number;
  readonly density: number;
  readonly portions: readonly { readonly part: string; readonly step: string | null; readonly area: readonly number[] }[];
}

/** How parts would be packed to lie on one square. */
export async function portionsOf(parts: readonly string[], given: { readonly resolution?: number; readonly margin?: number }): Promise<Portions> {
  const { build } = editor.get();
  return answer(api.POST("/api/builds/{build_id}/shared-square", { params: { path: { build_id: build?.id ?? "" } }, body: { parts: [...parts], revision: build?.revision ?? null, ...given } }));
}
