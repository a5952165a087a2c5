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
  readonly element: number;
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
    out.push(...(kind === "vertices" ? nearVertices : nearEdges)(x, y, part, mesh, toScreen(view, camera), camera));
  }
  out.sort((a, b) => (a.part === options.current ? 0 : 1) - (b.part === options.current ? 0 : 1) || a.near - b.near || a.depth - b.depth);
  if (options.through) return out;
  return out.filter((c) => isSeen(middle(c, kind, parts, x, y, camera), camera, parts));
}

/** Where a candidate stands: the vertex, or the point of the edge under the pointer. */
function middle(c: Candidate, kind: PickKind, parts: ReadonlyMap<string, PartView>, x: number, y: number, camera: Camera): Vector3 {
  const view = parts.get(c.part) as PartView;
  const mesh = view.mesh?.cage as MeshData;
  const point = (v: number) => new Vector3().fromArray(mesh.positions, v * 3).applyMatrix4(view.group.matrix);
  if (kind === "vertices") return point(c.element);
  const a = point(mesh.shape.edges[2 * c.element] as number);
  const b = point(mesh.shape.edges[2 * c.element + 1] as number);
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
    if (near <= REACH && Math.abs(p[3 * v + 2]!) <= 1) out.push({ part, element: v, near, depth: p[3 * v + 2]! });
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
    if (near <= REACH && Math.abs(depth) <= 1) out.push({ part, element: e, near, depth });
  }
  return out;
}
