import { Matrix4, Ray, Vector3 } from "three";

import type { MeshData } from "../api/packets";
import type { PickKind } from "../state/store";
import type { Camera } from "./Camera";
import type { PartView } from "./PartView";

export interface Hit {
  readonly part: string;
  readonly kind: PickKind;
  readonly element: number;
  /** how many elements lie under the pointer in all, this one included */
  readonly stacked: number;
}

/** A click takes what lies this near, in pixels. */
export const REACH = 8;

interface Candidate {
  readonly part: string;
  /** its number in the cage */
  readonly element: number;
  /** the mesh it was met in, the cage or a surface, and its number there */
  readonly met?: { readonly mesh: MeshData; readonly index: number };
  readonly near: number;
  readonly depth: number;
}

/**
 * What a click at a pixel takes: the vertex or edge within reach, or the cage face under the pointer.
 *
 * @param nth 0 for the first, 1 for what lies behind it, …
 */
export function hitAt(
  x: number,
  y: number,
  kind: PickKind,
  parts: ReadonlyMap<string, PartView>,
  camera: Camera,
  options: { current: string | null; through: boolean; nth: number },
): Hit | null {
  const ray = camera.ray(x, y);
  const found = kind === "faces" ? faces(ray, parts) : near(x, y, kind, parts, camera, options);
  if (found.length === 0) return null;
  const chosen = found[options.nth % found.length] as Candidate;
  return { part: chosen.part, kind, element: chosen.element, stacked: found.length };
}

function local(ray: Ray, view: PartView): { ray: Ray; scale: number } {
  const out = ray.clone().applyMatrix4(view.group.matrix.clone().invert());
  const scale = out.direction.length();
  out.direction.normalize();
  return { ray: out, scale };
}

function faces(ray: Ray, parts: ReadonlyMap<string, PartView>): Candidate[] {
  const out: Candidate[] = [];
  for (const [part, view] of parts) {
    if (!view.group.visible) continue;
    const inside = local(ray, view);
    for (const hit of view.picking()?.hits(inside.ray) ?? []) {
      out.push({ part, element: hit.face, near: 0, depth: hit.distance / inside.scale });
    }
  }
  return out.sort((a, b) => a.depth - b.depth);
}

/** The first thing a ray meets, in metres from its origin. */
export function firstDistance(ray: Ray, parts: ReadonlyMap<string, PartView>): number {
  let best = Infinity;
  for (const view of parts.values()) {
    if (!view.group.visible) continue;
    const inside = local(ray, view);
    best = Math.min(best, (view.picking()?.first(inside.ray) ?? Infinity) / inside.scale);
  }
  return best;
}

/** Whether a point of the build is not behind anything. */
export function isSeen(point: Vector3, camera: Camera, parts: ReadonlyMap<string, PartView>): boolean {
  const at = camera.project(point);
  const ray = camera.ray(at.x, at.y);
  const distance = point.clone().sub(ray.origin).dot(ray.direction);
  return firstDistance(ray, parts) >= distance - Math.max(2 * camera.pixel(point), 1e-6);
}

/** The vertex of a part's cage within reach of a pixel, or else the point of an edge; nothing that lies behind the model. */
export function nearestPoint(x: number, y: number, mesh: MeshData, view: PartView, camera: Camera): { vertex: number } | { edge: number; share: number } | null {
  const m = toScreen(view, camera);
  const place = (v: number) => new Vector3().fromArray(mesh.positions, v * 3).applyMatrix4(view.group.matrix);
  const only = new Map([["", view]]);
  const vertex = nearVertices(x, y, "", mesh, m, camera)
    .sort((a, b) => a.near - b.near || a.depth - b.depth)
    .find((c) => isSeen(place(c.element), camera, only));
  if (vertex !== undefined) return { vertex: vertex.element };
  for (const c of nearEdges(x, y, "", mesh, m, camera).sort((a, b) => a.near - b.near || a.depth - b.depth)) {
    const a = place(mesh.shape.edges[2 * c.element] as number);
    const b = place(mesh.shape.edges[2 * c.element + 1] as number);
    const [pa, pb] = [camera.project(a), camera.project(b)];
    const share = Math.min(Math.max(along(x, y, pa.x, pa.y, pb.x, pb.y), 0.02), 0.98);
    if (isSeen(a.lerp(b, share), camera, only)) return { edge: c.element, share };
  }
  return null;
}

function near(
  x: number,
  y: number,
  kind: PickKind,
  parts: ReadonlyMap<string, PartView>,
  camera: Camera,
  options: { current: string | null; through: boolean },
): Candidate[] {
  const out: Candidate[] = [];
  for (const [part, view] of parts) {
    const mesh = view.mesh?.cage;
    if (mesh === undefined || !view.group.visible) continue;
    const look = kind === "vertices" ? nearVertices : nearEdges;
    const met = look(x, y, part, mesh, toScreen(view, camera), camera);
    // images and pieces on the surface stand for what they came from; the cage itself is nearer to hand where it shows
    const surface = view.mesh?.surface ?? null;
    if (surface !== null) {
      const of = kind === "vertices" ? surface.shape.vertexCage : surface.shape.edgeCage;
      const known = new Set(met.map((c) => c.element));
      for (const c of look(x, y, part, surface, toScreen(view, camera), camera)) {
        const element = of[c.element] ?? -1;
        if (element >= 0 && !known.has(element)) met.push({ ...c, element });
      }
    }
    out.push(...met);
  }
  out.sort((a, b) => (a.part === options.current ? 0 : 1) - (b.part === options.current ? 0 : 1) || a.near - b.near || a.depth - b.depth);
  if (options.through) return out;
  return out.filter((c) => isSeen(middle(c, kind, parts, x, y, camera), camera, parts));
}

/** Where a candidate stands: the vertex, or the point of the edge under the pointer. */
function middle(c: Candidate, kind: PickKind, parts: ReadonlyMap<string, PartView>, x: number, y: number, camera: Camera): Vector3 {
  const view = parts.get(c.part) as PartView;
  const mesh = c.met?.mesh ?? (view.mesh?.cage as MeshData);
  const index = c.met?.index ?? c.element;
  const point = (v: number) => new Vector3().fromArray(mesh.positions, v * 3).applyMatrix4(view.group.matrix);
  if (kind === "vertices") return point(index);
  const a = point(mesh.shape.edges[2 * index] as number);
  const b = point(mesh.shape.edges[2 * index + 1] as number);
  const pa = camera.project(a);
  const pb = camera.project(b);
  const t = along(x, y, pa.x, pa.y, pb.x, pb.y);
  return a.lerp(b, Math.min(Math.max(t, 0.02), 0.98));
}

function toScreen(view: PartView, camera: Camera): Matrix4 {
  return new Matrix4()
    .multiplyMatrices(camera.camera.projectionMatrix, camera.camera.matrixWorldInverse)
    .multiply(view.group.matrix);
}

/** Pixels and depth of all vertices at once. */
function projectAll(mesh: MeshData, m: Matrix4, camera: Camera): Float32Array {
  const e = m.elements as number[];
  const p = mesh.positions;
  const out = new Float32Array(p.length);
  for (let i = 0; i < p.length; i += 3) {
    const x = p[i]!, y = p[i + 1]!, z = p[i + 2]!;
    const w = e[3]! * x + e[7]! * y + e[11]! * z + e[15]!;
    out[i] = (((e[0]! * x + e[4]! * y + e[8]! * z + e[12]!) / w + 1) / 2) * camera.width;
    out[i + 1] = ((1 - (e[1]! * x + e[5]! * y + e[9]! * z + e[13]!) / w) / 2) * camera.height;
    out[i + 2] = w > 0 ? (e[2]! * x + e[6]! * y + e[10]! * z + e[14]!) / w : 2;
  }
  return out;
}

function nearVertices(x: number, y: number, part: string, mesh: MeshData, m: Matrix4, camera: Camera): Candidate[] {
  const p = projectAll(mesh, m, camera);
  const out: Candidate[] = [];
  for (let v = 0; v < mesh.shape.vertexCount; v++) {
    const near = Math.hypot(p[3 * v]! - x, p[3 * v + 1]! - y);
    if (near <= REACH && Math.abs(p[3 * v + 2]!) <= 1) out.push({ part, element: v, met: { mesh, index: v }, near, depth: p[3 * v + 2]! });
  }
  return out;
}

function along(x: number, y: number, ax: number, ay: number, bx: number, by: number): number {
  const dx = bx - ax, dy = by - ay;
  const size = dx * dx + dy * dy;
  return size === 0 ? 0 : ((x - ax) * dx + (y - ay) * dy) / size;
}

function nearEdges(x: number, y: number, part: string, mesh: MeshData, m: Matrix4, camera: Camera): Candidate[] {
  const p = projectAll(mesh, m, camera);
  const { edges } = mesh.shape;
  const out: Candidate[] = [];
  for (let e = 0; e < edges.length / 2; e++) {
    const a = 3 * (edges[2 * e] as number);
    const b = 3 * (edges[2 * e + 1] as number);
    const t = Math.min(Math.max(along(x, y, p[a]!, p[a + 1]!, p[b]!, p[b + 1]!), 0), 1);
    const near = Math.hypot(p[a]! + t * (p[b]! - p[a]!) - x, p[a + 1]! + t * (p[b + 1]! - p[a + 1]!) - y);
    const depth = p[a + 2]! + t * (p[b + 2]! - p[a + 2]!);
    if (near <= REACH && Math.abs(depth) <= 1) out.push({ part, element: e, met: { mesh, index: e }, near, depth });
  }
  return out;
}

/** The edge of a face that passes nearest to a pixel. */
export function nearestEdgeOf(mesh: MeshData, face: number, view: PartView, camera: Camera, x: number, y: number): number {
  const { offsets, corners, edges } = mesh.shape;
  const ring = [...corners.subarray(offsets[face], offsets[face + 1])];
  const on = new Set(ring.map((v, i) => pairKey(v, ring[(i + 1) % ring.length] as number)));
  let best = { edge: -1, off: Infinity };
  for (let e = 0; e < edges.length / 2; e++) {
    if (!on.has(pairKey(edges[2 * e] as number, edges[2 * e + 1] as number))) continue;
    const [a, b] = [0, 1].map((k) => camera.project(new Vector3().fromArray(mesh.positions, (edges[2 * e + k] as number) * 3).applyMatrix4(view.group.matrix))) as [Vector3, Vector3];
    const t = Math.min(Math.max(along(x, y, a.x, a.y, b.x, b.y), 0), 1);
    const off = Math.hypot(a.x + t * (b.x - a.x) - x, a.y + t * (b.y - a.y) - y);
    if (off < best.off) best = { edge: e, off };
  }
  return best.edge;
}

function pairKey(a: number, b: number): string {
  return a < b ? `${a}-${b}` : `${b}-${a}`;
}
