import type { MeshData, Shape } from "../../api/packets";

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

/** The face under a place, the last drawn first; null where there is none. By the even–odd rule. */
export function faceAt(mesh: MeshData, [u, v]: Place): number | null {
  const { uv } = mesh;
  if (uv === null) return null;
  const { offsets, faceCount } = mesh.shape;
  for (let f = faceCount - 1; f >= 0; f--) {
    let inside = false;
    const from = offsets[f] as number;
    const to = offsets[f + 1] as number;
    for (let i = from, j = to - 1; i < to; j = i++) {
      const ay = uv[2 * i + 1] as number;
      const by = uv[2 * j + 1] as number;
      if (ay > v !== by > v && u < (((uv[2 * j] as number) - (uv[2 * i] as number)) * (v - ay)) / (by - ay) + (uv[2 * i] as number)) inside = !inside;
    }
    if (inside) return f;
  }
  return null;
}

/** What follows from a shape alone: for every corner the next one round its face, and the edge that leads there. */
interface Corners {
  readonly next: Int32Array;
  readonly edge: Int32Array;
}

const known = new WeakMap<Shape, Corners>();

export function cornersOf(shape: Shape): Corners {
  const held = known.get(shape);
  if (held !== undefined) return held;
  const { offsets, corners, edges, faceCount, vertexCount } = shape;
  const numbers = new Map<number, number>();
  for (let e = 0; e < edges.length / 2; e++) {
    const [a, b] = [edges[2 * e] as number, edges[2 * e + 1] as number];
    numbers.set(Math.min(a, b) * vertexCount + Math.max(a, b), e);
  }
  const next = new Int32Array(corners.length);
  const edge = new Int32Array(corners.length);
  for (let f = 0; f < faceCount; f++) {
    const from = offsets[f] as number;
    const to = offsets[f + 1] as number;
    for (let c = from; c < to; c++) {
      next[c] = c + 1 < to ? c + 1 : from;
      const [a, b] = [corners[c] as number, corners[next[c] as number] as number];
      edge[c] = numbers.get(Math.min(a, b) * vertexCount + Math.max(a, b)) ?? -1;
    }
  }
  const made = { next, edge };
  known.set(shape, made);
  return made;
}

/** Corners nearer than this on the square share their place. */
const SAME = 1e-6;

/** Sides of faces, by the corners they begin at: those within pieces, once each, and those on outlines. */
export function sidesOf(mesh: MeshData): { readonly inner: readonly number[]; readonly rim: readonly number[] } {
  const { uv, shape } = mesh;
  const inner: number[] = [];
  const rim: number[] = [];
  if (uv === null) return { inner, rim };
  const { next, edge } = cornersOf(shape);
  const first = new Int32Array(shape.edges.length / 2).fill(-1);
  const other = new Int32Array(first.length).fill(-1);
  for (let c = 0; c < edge.length; c++) {
    const e = edge[c] as number;
    if (e < 0) continue;
    if (first[e] === -1) first[e] = c;
    else other[e] = c;
  }
  const near = (a: number, b: number) => Math.abs((uv[2 * a] as number) - (uv[2 * b] as number)) <= SAME && Math.abs((uv[2 * a + 1] as number) - (uv[2 * b + 1] as number)) <= SAME;
  for (let c = 0; c < edge.length; c++) {
    if (Number.isNaN(uv[2 * c] as number)) continue;
    const e = edge[c] as number;
    const twin = e < 0 ? -1 : first[e] === c ? (other[e] as number) : (first[e] as number);
    const joined = twin >= 0 && twin !== c && near(c, next[twin] as number) && near(next[c] as number, twin);
    if (!joined) rim.push(c);
    else if (first[e] === c) inner.push(c);
  }
  return { inner, rim };
}

/** How far a place is from a line between two. */
function away([u, v]: Place, ax: number, ay: number, bx: number, by: number): number {
  const [dx, dy] = [bx - ax, by - ay];
  const long = dx * dx + dy * dy;
  const t = long === 0 ? 0 : Math.min(Math.max(((u - ax) * dx + (v - ay) * dy) / long, 0), 1);
  return Math.hypot(u - ax - t * dx, v - ay - t * dy);
}

/** The cage edge nearest to a place within a reach; null where there is none. */
export function edgeAt(mesh: MeshData, place: Place, reach: number): number | null {
  const { uv } = mesh;
  if (uv === null) return null;
  const { next, edge } = cornersOf(mesh.shape);
  let best = -1;
  let nearest = reach;
  for (let c = 0; c < edge.length; c++) {
    const n = next[c] as number;
    const far = away(place, uv[2 * c] as number, uv[2 * c + 1] as number, uv[2 * n] as number, uv[2 * n + 1] as number);
    if (far <= nearest && (edge[c] as number) >= 0) [best, nearest] = [edge[c] as number, far];
  }
  return best < 0 ? null : best;
}

/** The cage vertex nearest to a place within a reach; null where there is none. */
export function vertexAt(mesh: MeshData, [u, v]: Place, reach: number): number | null {
  const { uv, shape } = mesh;
  if (uv === null) return null;
  let best = -1;
  let nearest = reach;
  for (let c = 0; c < shape.corners.length; c++) {
    const far = Math.hypot((uv[2 * c] as number) - u, (uv[2 * c + 1] as number) - v);
    if (far <= nearest) [best, nearest] = [shape.corners[c] as number, far];
  }
  return best < 0 ? null : best;
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

/** Twice the vector area of a polygon of three-dimensional points: its length is twice the area, exactly where it is flat. */
function twiceArea(points: readonly (readonly [number, number, number])[]): number {
  const sum = [0, 0, 0];
  points.forEach(([x, y, z], i) => {
    const [p, q, r] = points[(i + 1) % points.length] as readonly [number, number, number];
    [y * r - z * q, z * p - x * r, x * q - y * p].forEach((v, k) => (sum[k] = (sum[k] as number) + v));
  });
  return Math.hypot(...sum);
}

/** Squares a metre of some faces together: the root of their area on the square by that on the model; 1 where there is none. */
export function densityOf(mesh: MeshData, faces: readonly number[]): number {
  let here = 0;
  let there = 0;
  for (const f of faces) {
    const places = placesOf(mesh, f);
    const [from] = span(mesh, f);
    here += twiceArea(places.map(([u, v]) => [u, v, 0]));
    there += twiceArea(places.map((_, i) => [0, 1, 2].map((k) => mesh.positions[3 * (mesh.shape.corners[from + i] as number) + k] as number) as [number, number, number]));
  }
  return here > 0 && there > 0 ? Math.sqrt(here / there) : 1;
}

/** The faces that have any of some elements. */
export function facesAt(shape: Shape, kind: "faces" | "edges" | "vertices", elements: readonly number[]): number[] {
  if (kind === "faces") return [...elements];
  const wanted = new Set(elements);
  const { edge } = cornersOf(shape);
  const out: number[] = [];
  for (let f = 0; f < shape.faceCount; f++) {
    for (let c = shape.offsets[f] as number; c < (shape.offsets[f + 1] as number); c++) {
      if (wanted.has((kind === "edges" ? edge[c] : shape.corners[c]) as number)) {
        out.push(f);
        break;
      }
    }
  }
  return out;
}
