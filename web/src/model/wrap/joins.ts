import type { MeshData } from "../../api/packets";
import { cornersOf, type Place, sidesOf } from "./square";

/** Two stretches of outline that are one on the model. */
export interface Join {
  /** the corners that the sides of the one begin at, in a row; those of the other, each opposite to its own */
  readonly sides: readonly number[];
  readonly twins: readonly number[];
}

/** Ends of sides nearer than this on the square are one. */
const GRAIN = 1e6;

/** Where outlines belong together: sides of faces that are one edge of the model and two on the square, in unbroken rows,
 * the longest first. */
export function joinsOf(mesh: MeshData): Join[] {
  const { uv, shape } = mesh;
  if (uv === null) return [];
  const { next, edge } = cornersOf(shape);
  const { rim } = sidesOf(mesh);
  const at = (c: number) => `${shape.corners[c]} ${Math.round((uv[2 * c] as number) * GRAIN)} ${Math.round((uv[2 * c + 1] as number) * GRAIN)}`;
  const of = new Map<number, number[]>();
  const begins = new Map<string, number[]>();
  for (const c of rim) {
    of.set(edge[c] as number, [...(of.get(edge[c] as number) ?? []), c]);
    begins.set(at(c), [...(begins.get(at(c)) ?? []), c]);
  }
  const twin = new Map<number, number>();
  for (const [e, both] of of) {
    const [a, b] = both;
    if (e >= 0 && both.length === 2 && a !== undefined && b !== undefined) twin.set(a, b).set(b, a);
  }
  /** the side that follows on both outlines, where there is but one */
  const follows = (c: number): number | null => {
    const [here, more] = begins.get(at(next[c] as number)) ?? [];
    if (here === undefined || more !== undefined) return null;
    const there = twin.get(here);
    const mine = twin.get(c);
    if (there === undefined || mine === undefined || at(next[there] as number) !== at(mine)) return null;
    return begins.get(at(mine))?.length === 1 ? here : null;
  };
  const length = (c: number) => Math.hypot((uv[2 * (next[c] as number)] as number) - (uv[2 * c] as number), (uv[2 * (next[c] as number) + 1] as number) - (uv[2 * c + 1] as number));
  const before = new Map<number, number>();
  for (const c of twin.keys()) {
    const on = follows(c);
    if (on !== null) before.set(on, c);
  }
  const done = new Set<number>();
  const joins: { readonly join: Join; readonly long: number }[] = [];
  for (const c of twin.keys()) {
    if (done.has(c)) continue;
    let first = c;
    for (let b = before.get(first); b !== undefined && b !== c; b = before.get(first)) first = b;
    const sides: number[] = [];
    for (let s: number | null = first; s !== null && !done.has(s); s = follows(s)) {
      sides.push(s);
      done.add(s).add(twin.get(s) as number);
    }
    joins.push({ join: { sides, twins: sides.map((s) => twin.get(s) as number) }, long: sides.reduce((sum, s) => sum + length(s), 0) });
  }
  return joins.sort((a, b) => b.long - a.long).map(({ join }) => join);
}

/** A, B … Z, AA, AB …, as sheets of a pattern are lettered. */
export function letter(n: number): string {
  return (n >= 26 ? letter(Math.floor(n / 26) - 1) : "") + String.fromCharCode(65 + (n % 26));
}

/** The middle of a row of sides along its length, and which way the row runs there; `back` where it is told from its end. */
export function middleOf(mesh: MeshData, sides: readonly number[], back = false): { readonly at: Place; readonly way: Place; readonly long: number } | null {
  const { uv } = mesh;
  if (uv === null) return null;
  const { next } = cornersOf(mesh.shape);
  const ordered = back ? [...sides].reverse() : sides;
  const ends = ordered.map((c) => [uv[2 * c], uv[2 * c + 1], uv[2 * (next[c] as number)], uv[2 * (next[c] as number) + 1]] as [number, number, number, number]);
  const long = ends.reduce((sum, [a, b, c, d]) => sum + Math.hypot(c - a, d - b), 0);
  let left = long / 2;
  for (const [a, b, c, d] of ends) {
    const own = Math.hypot(c - a, d - b);
    if (own >= left && own > 0) {
      const t = left / own;
      return { at: [a + t * (c - a), b + t * (d - b)], way: [(c - a) / own, (d - b) / own], long };
    }
    left -= own;
  }
  return null;
}
