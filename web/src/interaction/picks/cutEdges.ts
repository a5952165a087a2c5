import type { KindInfo, Part } from "../../api/client";
import type { MeshData } from "../../api/packets";
import { cageEnd } from "../../model/document/intents";

const CUT = "cut_edge";

/** The steps of a part's cage that leave edges of a cut. */
export function cutting(part: Part, kinds: readonly KindInfo[]): string[] {
  const cuts = (word: string) => kinds.find((k) => k.word === word)?.roles.includes(CUT) === true;
  return (part.steps ?? []).slice(0, cageEnd(part, kinds)).flatMap((s) => (s.id != null && s.enabled !== false && cuts(s.kind) ? [s.id] : []));
}

/** What finds the edges that steps cut. */
export function cutRule(steps: readonly string[]): { any_of: { made_by: string; role: string }[] } {
  return { any_of: steps.map((made_by) => ({ made_by, role: CUT })) };
}

/** The run of some edges through one of them: on at each vertex by the only other, of several by the one that goes straightest on. */
export function runThrough(mesh: MeshData, edges: readonly number[], start: number): number[] {
  const ends = (e: number) => [mesh.shape.edges[2 * e] as number, mesh.shape.edges[2 * e + 1] as number] as const;
  const at = new Map<number, number[]>();
  for (const e of edges) for (const v of ends(e)) at.set(v, [...(at.get(v) ?? []), e]);
  const way = (from: number, to: number) => {
    const d = [0, 1, 2].map((k) => (mesh.positions[3 * to + k] as number) - (mesh.positions[3 * from + k] as number));
    const size = Math.hypot(...d) || 1;
    return d.map((v) => v / size);
  };
  const taken = new Set([start]);
  for (const end of ends(start)) {
    let [edge, vertex] = [start, end];
    for (;;) {
      const [a, b] = ends(edge);
      const came = way(a === vertex ? b : a, vertex);
      const straight = (e: number) => {
        const [p, q] = ends(e);
        return way(vertex, p === vertex ? q : p).reduce((sum, v, k) => sum + v * (came[k] as number), 0);
      };
      const next = (at.get(vertex) ?? []).filter((e) => e !== edge).sort((p, q) => straight(q) - straight(p))[0];
      if (next === undefined || taken.has(next)) break;
      taken.add(next);
      const [p, q] = ends(next);
      [edge, vertex] = [next, p === vertex ? q : p];
    }
  }
  return [...taken];
}
