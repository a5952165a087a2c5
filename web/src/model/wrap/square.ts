import type { MeshData } from "../../api/packets";

/** A place on the texture square, u to the right and v up. */
export type Place = readonly [number, number];

/** Corners of a face: from, to, in the mesh's corners. */
function span(mesh: MeshData, face: number): readonly [number, number] {
  return [mesh.shape.offsets[face] as number, mesh.shape.offsets[face + 1] as number];
}

/** The places of a face's corners, in order; empty where it has none. */
export function placesOf(mesh: MeshData, face: number): Place[] {
  const { uv } = mesh;
  if (uv === null) return [];
  const [from, to] = span(mesh, face);
  const out: Place[] = [];
  for (let c = from; c < to; c++) out.push([uv[2 * c] as number, uv[2 * c + 1] as number]);
  return out.some(([u, v]) => Number.isNaN(u) || Number.isNaN(v)) ? [] : out;
}

/** Whether a place lies in an outline, by the even–odd rule. */
function within(outline: readonly Place[], [u, v]: Place): boolean {
  let inside = false;
  for (let i = 0, j = outline.length - 1; i < outline.length; j = i++) {
    const [ax, ay] = outline[i] as Place;
    const [bx, by] = outline[j] as Place;
    if (ay > v !== by > v && u < ((bx - ax) * (v - ay)) / (by - ay) + ax) inside = !inside;
  }
  return inside;
}

/** The face under a place, the last drawn first; null where there is none. */
export function faceAt(mesh: MeshData, place: Place): number | null {
  for (let f = mesh.shape.faceCount - 1; f >= 0; f--) if (within(placesOf(mesh, f), place)) return f;
  return null;
}

/** The cage's edges by their two vertices. */
export function edgeNumbers(mesh: MeshData): Map<string, number> {
  const out = new Map<string, number>();
  const { edges } = mesh.shape;
  for (let e = 0; e < edges.length / 2; e++) out.set(`${edges[2 * e]},${edges[2 * e + 1]}`, e);
  return out;
}

export function edgeKey(a: number, b: number): string {
  return a < b ? `${a},${b}` : `${b},${a}`;
}

/** Runs of every laid-out half-edge: its face, its two vertices, and where it lies. */
export function eachSide(mesh: MeshData, tell: (face: number, a: number, b: number, from: Place, to: Place) => void): void {
  for (let f = 0; f < mesh.shape.faceCount; f++) {
    const places = placesOf(mesh, f);
    const [from] = span(mesh, f);
    places.forEach((place, i) => {
      const next = (i + 1) % places.length;
      tell(f, mesh.shape.corners[from + i] as number, mesh.shape.corners[from + next] as number, place, places[next] as Place);
    });
  }
}

/** How far a place is from a line between two. */
function away([u, v]: Place, [ax, ay]: Place, [bx, by]: Place): number {
  const [dx, dy] = [bx - ax, by - ay];
  const long = dx * dx + dy * dy;
  const t = long === 0 ? 0 : Math.min(Math.max(((u - ax) * dx + (v - ay) * dy) / long, 0), 1);
  return Math.hypot(u - ax - t * dx, v - ay - t * dy);
}

/** The cage edge nearest to a place within a reach; null where there is none. */
export function edgeAt(mesh: MeshData, place: Place, reach: number): number | null {
  const numbers = edgeNumbers(mesh);
  let best: { edge: number; far: number } | null = null;
  eachSide(mesh, (_, a, b, from, to) => {
    const far = away(place, from, to);
    const edge = numbers.get(edgeKey(a, b));
    if (edge !== undefined && far <= reach && (best === null || far < best.far)) best = { edge, far };
  });
  return (best as { edge: number } | null)?.edge ?? null;
}

/** The cage vertex nearest to a place within a reach; null where there is none. */
export function vertexAt(mesh: MeshData, place: Place, reach: number): number | null {
  let best: { vertex: number; far: number } | null = null;
  eachSide(mesh, (_, a, _b, from) => {
    const far = Math.hypot(from[0] - place[0], from[1] - place[1]);
    if (far <= reach && (best === null || far < best.far)) best = { vertex: a, far };
  });
  return (best as { vertex: number } | null)?.vertex ?? null;
}

/** All faces of the islands that some faces lie on. */
export function wholeIslands(island: readonly number[], faces: readonly number[]): number[] {
  const wanted = new Set(faces.map((f) => island[f]).filter((i) => i !== undefined && i >= 0));
  return island.flatMap((i, f) => (wanted.has(i) ? [f] : []));
}

/** The box of some faces on the square: lower left and upper right; null where none is laid out. */
export function boxOf(mesh: MeshData, faces: readonly number[]): readonly [Place, Place] | null {
  const low: [number, number] = [Infinity, Infinity];
  const high: [number, number] = [-Infinity, -Infinity];
  for (const f of faces) {
    for (const place of placesOf(mesh, f)) {
      for (const k of [0, 1] as const) {
        low[k] = Math.min(low[k], place[k]);
        high[k] = Math.max(high[k], place[k]);
      }
    }
  }
  return low[0] <= high[0] ? [low, high] : null;
}

/** Which way some faces go up on the model, as they lie: the direction on the square in which y grows most, −z where they
 * lie level. */
export function grainOf(mesh: MeshData, faces: readonly number[]): Place {
  const sums = [0, 0, 0, 0, 0, 0, 0]; // dd 00, 01, 11; d·y; d·z
  for (const f of faces) {
    const places = placesOf(mesh, f);
    const [from] = span(mesh, f);
    places.forEach((place, i) => {
      const next = (i + 1) % places.length;
      const [p, q] = [mesh.shape.corners[from + i] as number, mesh.shape.corners[from + next] as number];
      const to = places[next] as Place;
      const [dx, dy] = [to[0] - place[0], to[1] - place[1]];
      const up = (mesh.positions[3 * q + 1] as number) - (mesh.positions[3 * p + 1] as number);
      const back = (mesh.positions[3 * p + 2] as number) - (mesh.positions[3 * q + 2] as number);
      [dx * dx, dx * dy, dy * dy, dx * up, dy * up, dx * back, dy * back].forEach((value, k) => (sums[k] = (sums[k] as number) + value));
    });
  }
  const [a, b, c, x, y, z, w] = sums as [number, number, number, number, number, number, number];
  const det = a * c - b * b;
  if (Math.abs(det) < 1e-18) return [0, 1];
  const way = (p: number, q: number): Place => [(p * c - q * b) / det, (q * a - p * b) / det];
  const upward = way(x, y);
  const back = way(z, w);
  const best = Math.hypot(...upward) >= 0.2 * Math.hypot(...back) ? upward : back;
  const size = Math.hypot(...best);
  return size === 0 ? [0, 1] : [best[0] / size, best[1] / size];
}
