import { Matrix4, Ray, Vector3 } from "three";

import type { MeshData } from "../api/packets";
import type { PaneLook } from "../model/prefs";
import type { PickKind, Section } from "../model/store";
import type { Camera } from "./Camera";
import type { PartView } from "./PartView";
import { isCutAway } from "./section";

export interface Hit {
  readonly part: string;
  readonly kind: PickKind;
  readonly element: number;
  /** whether what lies there faces another way than the face it comes of: a rim, an end */
  readonly aside?: boolean;
  /** how many elements lie under the pointer in all, this one included */
  readonly stacked: number;
}

/** A click takes what lies this near, in pixels. */
export const REACH = 8;
/** And what stands no further off than this beside the first stands behind it. */
const BEHIND = 2;
/** The face of a triangle that comes of none: −1 as the core tells it. */
const NO_FACE = 0xffffffff;
/** The sine up to which a face counts as seen by its edge. */
export const EDGE_ON = 0.02;

interface Candidate {
  readonly part: string;
  /** its number in the cage */
  readonly element: number;
  /** the mesh it was met in, the cage or a surface, and its number there */
  readonly met?: { readonly mesh: MeshData; readonly index: number };
  readonly near: number;
  readonly depth: number;
  readonly aside?: boolean;
  /** a face that is seen by its edge: what is seen flat comes first */
  readonly edgeOn?: boolean;
}

/** What there is to hit, and from where it is seen. */
export interface Sight {
  readonly parts: ReadonlyMap<string, PartView>;
  readonly camera: Camera;
  readonly look: PaneLook;
  readonly section: Section | null;
  /** the part whose elements come first */
  readonly current: string | null;
  /** whether what lies behind the model counts too */
  readonly through: boolean;
}

/**
 * What a click at a pixel takes: the vertex or edge within reach, or the cage face under the pointer. Automatically, the
 * first of the three that is there.
 *
 * @param nth 0 for the first, 1 for what lies behind it, …
 */
export function hitAt(x: number, y: number, kind: PickKind | "auto", sight: Sight, nth: number, dots: boolean): Hit | null {
  if (kind === "auto") return hitAt(x, y, "vertices", sight, nth, dots) ?? hitAt(x, y, "edges", sight, nth, dots) ?? hitAt(x, y, "faces", sight, nth, dots);
  let found: Candidate[] = [];
  if (kind !== "faces") found = near(x, y, kind, sight);
  else {
    if (dots) found = nearDots(x, y, sight);
    if (found.length === 0) found = faces(sight.camera.ray(x, y), sight);
  }
  if (found.length === 0) return null;
  const chosen = found[nth % found.length] as Candidate;
  return { part: chosen.part, kind, element: chosen.element, stacked: found.length, ...(chosen.aside === true ? { aside: true } : {}) };
}

function faceNormal(mesh: MeshData, face: number): Vector3 {
  const { offsets, corners } = mesh.shape;
  const ring = [...corners.subarray(offsets[face], offsets[face + 1])].map((v) => new Vector3().fromArray(mesh.positions, 3 * v));
  const out = new Vector3();
  ring.forEach((p, i) => out.add(new Vector3().crossVectors(p, ring[(i + 1) % ring.length] as Vector3)));
  return out.normalize();
}

function local(ray: Ray, view: PartView): { ray: Ray; scale: number } {
  const out = ray.clone().applyMatrix4(view.group.matrix.clone().invert());
  const scale = out.direction.length();
  out.direction.normalize();
  return { ray: out, scale };
}

function faces(ray: Ray, sight: Sight): Candidate[] {
  const out: Candidate[] = [];
  for (const [part, view] of sight.parts) {
    if (!view.group.visible || view.ghosted) continue;
    const inside = local(ray, view);
    for (const hit of view.picking(sight.look)?.hits(inside.ray, keeps(inside.ray, view, sight.section)) ?? []) {
      const aside = view.mesh !== null && hit.normal !== null && hit.face !== NO_FACE && Math.abs(faceNormal(view.mesh.cage, hit.face).dot(hit.normal)) < 0.5;
      const edgeOn = hit.normal !== null && Math.abs(hit.normal.dot(inside.ray.direction)) < EDGE_ON;
      out.push({ part, element: hit.face, near: 0, depth: hit.distance / inside.scale, aside, edgeOn });
    }
  }
  out.sort((a, b) => Number(a.edgeOn) - Number(b.edgeOn) || a.depth - b.depth);
  // what comes of no face of the cage cannot be picked, and stands before what lies behind it
  return out[0]?.element === NO_FACE ? [] : out.filter((c) => c.element !== NO_FACE);
}

/** The first place of a part, as it is or as it was when a hull of it was kept, that the ray through a pixel meets, and its normal
 * there; in the part's axes and metres. */
export function surfaceAt(x: number, y: number, view: PartView, sight: Sight, hull = view.picking(sight.look)): { readonly at: Vector3; readonly normal: Vector3 } | null {
  const { ray } = local(sight.camera.ray(x, y), view);
  const hit = hull?.hits(ray, keeps(ray, view, sight.section))[0];
  return hit === undefined ? null : { at: ray.at(hit.distance, new Vector3()), normal: hit.normal?.clone() ?? ray.direction.clone().negate() };
}

/** Whether a hit so far along a ray in a part's axes is not cut away. */
function keeps(ray: Ray, view: PartView, section: Section | null): ((distance: number) => boolean) | null {
  if (section === null) return null;
  return (distance) => !isCutAway(ray.at(distance, new Vector3()).applyMatrix4(view.group.matrix), section);
}

/** The first thing a ray meets, in metres from its origin. */
export function firstDistance(ray: Ray, sight: Sight): number {
  let best = Infinity;
  for (const view of sight.parts.values()) {
    if (!view.group.visible || view.ghosted) continue;
    const inside = local(ray, view);
    const hull = view.picking(sight.look);
    const keep = keeps(inside.ray, view, sight.section);
    const distance = keep === null ? (hull?.first(inside.ray) ?? Infinity) : (hull?.hits(inside.ray, keep)[0]?.distance ?? Infinity);
    best = Math.min(best, distance / inside.scale);
  }
  return best;
}

/** The part that is a curve whose line runs nearest under a pixel; null where none is within reach. */
export function curveUnder(x: number, y: number, sight: Sight): string | null {
  let best: Candidate | null = null;
  for (const [part, view] of sight.parts) {
    const line = view.mesh?.surface;
    if (!view.isCurve || line == null || !view.group.visible) continue;
    for (const found of nearEdges(x, y, part, line, toScreen(view, sight.camera), sight.camera)) {
      if (part === sight.current) return part; // of lines on one another that of the part at work is meant
      if (best === null || found.near < best.near) best = found;
    }
  }
  return best?.part ?? null;
}

/** The first part a ray meets that is drawn see-through and so never picked; null where there is none. */
export function ghostUnder(x: number, y: number, sight: Sight): string | null {
  const ray = sight.camera.ray(x, y);
  let best: { part: string; distance: number } | null = null;
  for (const [part, view] of sight.parts) {
    if (!view.group.visible || !view.ghosted) continue;
    const inside = local(ray, view);
    const distance = (view.picking(sight.look)?.first(inside.ray) ?? Infinity) / inside.scale;
    if (Number.isFinite(distance) && (best === null || distance < best.distance)) best = { part, distance };
  }
  return best?.part ?? null;
}

/** Whether a point of the build is not behind anything, nor cut away. */
export function isSeen(point: Vector3, sight: Sight): boolean {
  if (isCutAway(point, sight.section)) return false;
  const { camera } = sight;
  const at = camera.project(point);
  const ray = camera.ray(at.x, at.y);
  const distance = point.clone().sub(ray.origin).dot(ray.direction);
  return firstDistance(ray, sight) >= distance - Math.max(2 * camera.pixel(point), 1e-6);
}

/** The vertex of a part's cage within reach of a pixel, or else the point of an edge; nothing that lies behind the model. */
export function nearestPoint(x: number, y: number, mesh: MeshData, view: PartView, sight: Sight): { vertex: number } | { edge: number; share: number } | null {
  const { camera } = sight;
  const m = toScreen(view, camera);
  const place = (v: number) => new Vector3().fromArray(mesh.positions, v * 3).applyMatrix4(view.group.matrix);
  const alone = { ...sight, parts: new Map([["", view]]) };
  const vertex = nearVertices(x, y, "", mesh, m, camera)
    .sort((a, b) => a.near - b.near || a.depth - b.depth)
    .find((c) => isSeen(place(c.element), alone));
  if (vertex !== undefined) return { vertex: vertex.element };
  for (const c of nearEdges(x, y, "", mesh, m, camera).sort((a, b) => a.near - b.near || a.depth - b.depth)) {
    const a = place(mesh.shape.edges[2 * c.element] as number);
    const b = place(mesh.shape.edges[2 * c.element + 1] as number);
    const [pa, pb] = [camera.project(a), camera.project(b)];
    const share = Math.min(Math.max(along(x, y, pa.x, pa.y, pb.x, pb.y), 0.02), 0.98);
    if (isSeen(a.lerp(b, share), alone)) return { edge: c.element, share };
  }
  return null;
}

/** Faces of the current part whose middle is within reach. */
function nearDots(x: number, y: number, sight: Sight): Candidate[] {
  const { camera, current } = sight;
  const view = current === null ? undefined : sight.parts.get(current);
  const mesh = view?.mesh?.cage;
  if (view === undefined || mesh === undefined || !view.group.visible) return [];
  const centres = projectAll(faceCentres(mesh), toScreen(view, camera), camera);
  const out: Candidate[] = [];
  for (let f = 0; f < mesh.shape.faceCount; f++) {
    const near = Math.hypot(centres[3 * f]! - x, centres[3 * f + 1]! - y);
    if (near <= REACH) out.push({ part: current as string, element: f, near, depth: centres[3 * f + 2]! });
  }
  return out.sort((a, b) => a.near - b.near || a.depth - b.depth).filter((c) => sight.through || isSeen(faceCentre(mesh, c.element).applyMatrix4(view.group.matrix), sight));
}

function near(x: number, y: number, kind: PickKind, sight: Sight): Candidate[] {
  const { camera, parts, current } = sight;
  const out: Candidate[] = [];
  for (const [part, view] of parts) {
    const mesh = view.mesh?.cage;
    if (mesh === undefined || !view.group.visible || view.ghosted) continue;
    const look = kind === "vertices" ? nearVertices : nearEdges;
    const met = look(x, y, part, mesh, toScreen(view, camera), camera);
    // images and pieces on the surface stand for what they came from; the cage itself is nearer to hand where it shows
    const surface = sight.look.showing === "cage" || sight.look.showing === "beside" ? null : (view.mesh?.surface ?? null);
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
  out.sort((a, b) => (a.part === current ? 0 : 1) - (b.part === current ? 0 : 1) || a.near - b.near || a.depth - b.depth);
  const there = out.filter((c) => sight.section === null || !isCutAway(middle(c, kind, x, y, sight), sight.section));
  if (sight.through) return there;
  const seen = there.filter((c) => isSeen(middle(c, kind, x, y, sight), sight));
  const first = seen[0];
  // clicks that go on at one place go on to what stands behind there
  return first === undefined ? [] : [...seen, ...there.filter((c) => !seen.includes(c) && c.near <= first.near + BEHIND)];
}

/** Where a candidate stands: the vertex, or the point of the edge under the pointer. */
function middle(c: Candidate, kind: PickKind, x: number, y: number, sight: Sight): Vector3 {
  const { parts, camera } = sight;
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

/** The mean of a face's corners, in the part's axes. */
export function faceCentre(mesh: MeshData, face: number): Vector3 {
  const { offsets, corners } = mesh.shape;
  const out = new Vector3();
  const [from, to] = [offsets[face] as number, offsets[face + 1] as number];
  const v = new Vector3();
  for (let c = from; c < to; c++) out.add(v.fromArray(mesh.positions, (corners[c] as number) * 3));
  return out.multiplyScalar(1 / (to - from));
}

/** Means of the corners of all faces, three numbers each. */
export function faceCentres(mesh: MeshData): Float32Array {
  const { offsets, corners, faceCount } = mesh.shape;
  const p = mesh.positions;
  const out = new Float32Array(3 * faceCount);
  for (let f = 0; f < faceCount; f++) {
    const [from, to] = [offsets[f]!, offsets[f + 1]!];
    let [x, y, z] = [0, 0, 0];
    for (let c = from; c < to; c++) {
      const v = corners[c]! * 3;
      x += p[v]!;
      y += p[v + 1]!;
      z += p[v + 2]!;
    }
    const n = to - from;
    out[3 * f] = x / n;
    out[3 * f + 1] = y / n;
    out[3 * f + 2] = z / n;
  }
  return out;
}

export function toScreen(view: PartView, camera: Camera): Matrix4 {
  return new Matrix4()
    .multiplyMatrices(camera.camera.projectionMatrix, camera.camera.matrixWorldInverse)
    .multiply(view.group.matrix);
}

/** Pixels and depth of points at once, three numbers each. */
export function projectAll(p: Float32Array, m: Matrix4, camera: Camera): Float32Array {
  const e = m.elements as number[];
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
  const p = projectAll(mesh.positions, m, camera);
  const out: Candidate[] = [];
  for (let v = 0; v < mesh.shape.vertexCount; v++) {
    const near = Math.hypot(p[3 * v]! - x, p[3 * v + 1]! - y);
    if (near <= REACH && Math.abs(p[3 * v + 2]!) <= 1) out.push({ part, element: v, met: { mesh, index: v }, near, depth: p[3 * v + 2]! });
  }
  return out;
}

export function along(x: number, y: number, ax: number, ay: number, bx: number, by: number): number {
  const dx = bx - ax, dy = by - ay;
  const size = dx * dx + dy * dy;
  return size === 0 ? 0 : ((x - ax) * dx + (y - ay) * dy) / size;
}

function nearEdges(x: number, y: number, part: string, mesh: MeshData, m: Matrix4, camera: Camera): Candidate[] {
  const p = projectAll(mesh.positions, m, camera);
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
