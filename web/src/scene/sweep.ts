import { Vector3 } from "three";

import type { MeshData } from "../api/packets";
import type { PickKind } from "../model/store";
import { EDGE_ON, isSeen, projectAll, type Sight, toScreen } from "./hit";
import { type Cutting, imaged, kept } from "./kept";
import type { PartView } from "./PartView";

/** An area of a pane, in pixels: a box, or what a lasso runs round. */
export class Area {
  private readonly low: [number, number];
  private readonly high: [number, number];

  constructor(private readonly outline: readonly (readonly [number, number])[]) {
    const xs = outline.map((p) => p[0]);
    const ys = outline.map((p) => p[1]);
    this.low = [Math.min(...xs), Math.min(...ys)];
    this.high = [Math.max(...xs), Math.max(...ys)];
  }

  static box(ax: number, ay: number, bx: number, by: number): Area {
    return new Area([[ax, ay], [bx, ay], [bx, by], [ax, by]]);
  }

  get points(): readonly (readonly [number, number])[] {
    return this.outline;
  }

  /** Even-odd rule. */
  holds(x: number, y: number): boolean {
    if (x < this.low[0] || y < this.low[1] || x > this.high[0] || y > this.high[1]) return false;
    return within(this.outline, x, y);
  }

  /** Whether a segment touches the area. */
  meets(ax: number, ay: number, bx: number, by: number): boolean {
    if (Math.max(ax, bx) < this.low[0] || Math.min(ax, bx) > this.high[0] || Math.max(ay, by) < this.low[1] || Math.min(ay, by) > this.high[1]) return false;
    if (this.holds(ax, ay) || this.holds(bx, by)) return true;
    return this.outline.some(([cx, cy], i) => {
      const [dx, dy] = this.outline[(i + 1) % this.outline.length] as readonly [number, number];
      return cross(ax, ay, bx, by, cx, cy) !== cross(ax, ay, bx, by, dx, dy) && cross(cx, cy, dx, dy, ax, ay) !== cross(cx, cy, dx, dy, bx, by);
    });
  }
}

function cross(ax: number, ay: number, bx: number, by: number, px: number, py: number): boolean {
  return (bx - ax) * (py - ay) - (by - ay) * (px - ax) > 0;
}

function within(outline: readonly (readonly [number, number])[], x: number, y: number): boolean {
  let inside = false;
  for (let i = 0, j = outline.length - 1; i < outline.length; j = i++) {
    const [ax, ay] = outline[i] as readonly [number, number];
    const [bx, by] = outline[j] as readonly [number, number];
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside;
  }
  return inside;
}

/** Where vertices of a part fall: those of its cage, and their images on the surface. */
interface Fallen {
  /** 1 where the area holds the vertex itself */
  readonly own: Uint8Array;
  /** 1 where it holds an image of it */
  readonly image: Uint8Array;
  readonly screen: Float32Array;
  /** where it counts which vertices: elements of these alone */
  readonly only?: Uint8Array | null;
  /** images alone count, not where the cage itself is */
  readonly images?: boolean;
  /** what a mirror leaves of an element that it cuts, in pixels: each of its outlines; null where that is nothing */
  readonly left?: (element: number) => readonly Outline[] | null;
}

type Outline = readonly (readonly [number, number])[];

interface Twice {
  /** 1 for vertices of the cage that the surface still has */
  readonly stays: Uint8Array;
  /** 1 for vertices whose images across the mirror an area holds */
  readonly image: (area: Area, view: PartView, sight: Sight) => Uint8Array;
}

/** A cage that its surface shows twice or more, as a live mirror does: of each vertex the nearest one is itself, the others are
 * images. Null where there are none. */
function mirrored(view: PartView, mesh: MeshData, sight: Sight): Twice | null {
  const surface = surfaceOf(view, sight);
  if (surface === null) return null;
  const count = mesh.shape.vertexCount;
  const nearest = new Int32Array(count).fill(-1);
  const least = new Float32Array(count).fill(Infinity);
  let twice = false;
  const { vertexCage } = surface.shape;
  for (let i = 0; i < vertexCage.length; i++) {
    const v = vertexCage[i]!;
    if (v < 0) continue;
    if (nearest[v] !== -1) twice = true;
    const away = Math.hypot(...[0, 1, 2].map((k) => surface.positions[3 * i + k]! - mesh.positions[3 * v + k]!));
    if (away < least[v]!) {
      least[v] = away;
      nearest[v] = i;
    }
  }
  if (!twice) return null;
  return {
    stays: Uint8Array.from(nearest, (i) => Number(i >= 0)),
    image: (area, of, seen) => {
      const there = projectAll(surface.positions, toScreen(of, seen.camera), seen.camera);
      const out = new Uint8Array(count);
      vertexCage.forEach((v, i) => {
        if (v >= 0 && nearest[v] !== i && Math.abs(there[3 * i + 2]!) <= 1 && area.holds(there[3 * i]!, there[3 * i + 1]!)) out[v] = 1;
      });
      return out;
    },
  };
}

function fall(area: Area, view: PartView, mesh: MeshData, sight: Sight): Fallen {
  const m = toScreen(view, sight.camera);
  const screen = projectAll(mesh.positions, m, sight.camera);
  const own = new Uint8Array(mesh.shape.vertexCount);
  for (let v = 0; v < own.length; v++) own[v] = Number(Math.abs(screen[3 * v + 2]!) <= 1 && area.holds(screen[3 * v]!, screen[3 * v + 1]!));
  const image = new Uint8Array(own.length);
  const surface = surfaceOf(view, sight);
  if (surface !== null) {
    const there = projectAll(surface.positions, m, sight.camera);
    surface.shape.vertexCage.forEach((v, i) => {
      if (v >= 0 && Math.abs(there[3 * i + 2]!) <= 1 && area.holds(there[3 * i]!, there[3 * i + 1]!)) image[v] = 1;
    });
  }
  return { own, image, screen };
}

function surfaceOf(view: PartView, sight: Sight): MeshData | null {
  return sight.look.showing === "cage" || sight.look.showing === "beside" ? null : (view.mesh?.surface ?? null);
}

/** What planes leave of the edges or faces they cut, where it falls; across the planes for images. */
function leftOf(kind: PickKind, view: PartView, mesh: MeshData, sight: Sight, planes: readonly Cutting[], images: boolean): (element: number) => readonly Outline[] | null {
  const m = toScreen(view, sight.camera);
  const fallen = (ring: readonly Vector3[]): Outline => {
    const at = projectAll(new Float32Array(ring.flatMap((p) => p.toArray())), m, sight.camera);
    return ring.map((_, i) => [at[3 * i]!, at[3 * i + 1]!] as const);
  };
  return (element) => {
    const ring = kept(placesOf(kind, mesh, element), planes, kind === "edges");
    if (ring === null) return null;
    return images ? imaged(ring, planes).map(fallen) : [fallen(ring)];
  };
}

function placesOf(kind: PickKind, mesh: MeshData, element: number): Vector3[] {
  const { edges: ends, offsets, corners } = mesh.shape;
  const of = kind === "edges" ? ends.subarray(2 * element, 2 * element + 2) : corners.subarray(offsets[element], offsets[element + 1]);
  return [...of].map((v) => new Vector3().fromArray(mesh.positions, 3 * v));
}

/**
 * Elements of the current part that an area takes: those wholly inside, or all it touches. Images on the mirrored side and
 * on the surface stand for what they came from; of an element that a mirror cuts, what it leaves counts.
 *
 * @param planes the mirrors that cut the part
 */
export function sweep(area: Area, kind: PickKind, sight: Sight, inside: boolean, planes: readonly Cutting[] = []): number[] {
  const view = sight.current === null ? undefined : sight.parts.get(sight.current);
  const mesh = view?.mesh?.cage;
  if (view === undefined || mesh === undefined || !view.group.visible) return [];
  const f = fall(area, view, mesh, sight);
  const elements = (of: Fallen) => (kind === "vertices" ? vertices(of) : kind === "edges" ? edges(of, area, mesh, inside) : faces(of, area, mesh, inside));
  const twice = mirrored(view, mesh, sight);
  const cut = twice === null ? [] : planes;
  const left = (images: boolean) => leftOf(kind, view, mesh, sight, cut, images);
  let found = elements(twice === null ? f : { ...f, image: new Uint8Array(f.image.length), only: twice.stays, left: left(false) });
  if (twice !== null && found.length === 0) {
    found = elements({ own: new Uint8Array(f.own.length), image: twice.image(area, view, sight), screen: f.screen, only: twice.stays, images: true, left: left(true) });
  }
  if (sight.through) return found.filter((e) => !hidden(view, mesh, kind, e, sight));
  const flat = kind === "faces" ? edgeOn(view, mesh, sight) : null;
  return found.filter((e) => flat?.[e] !== 1 && isElementSeen(view, kind, e, sight, cut));
}

/** How an area takes the outlines of an element, or the line of an edge: 2 wholly, 1 in part, 0 not at all. */
function taken(area: Area, outlines: readonly Outline[], closed: boolean): 0 | 1 | 2 {
  const [px, py] = area.points[0] as readonly [number, number];
  let out: 0 | 1 = 0;
  for (const outline of outlines) {
    if (outline.every(([x, y]) => area.holds(x, y))) return 2;
    const met = outline.some(([x, y], i) => {
      if (!closed && i + 1 === outline.length) return false;
      const [u, w] = outline[(i + 1) % outline.length] as readonly [number, number];
      return area.meets(x, y, u, w);
    });
    if (met || (closed && within(outline, px, py))) out = 1;
  }
  return out;
}

function vertices(f: Fallen): number[] {
  const out: number[] = [];
  f.own.forEach((own, v) => {
    if ((own === 1 || f.image[v] === 1) && f.only?.[v] !== 0) out.push(v);
  });
  return out;
}

/** How an area takes an element some of whose vertices the surface no longer has: 0 where a mirror leaves nothing of it. */
function ofCut(f: Fallen, vertices: ArrayLike<number>, element: number, area: Area, closed: boolean): 0 | 1 | 2 {
  if (Array.from(vertices).every((v) => f.only?.[v] === 0)) return 0;
  const outlines = f.left?.(element) ?? null;
  return outlines === null ? 0 : taken(area, outlines, closed);
}

function edges(f: Fallen, area: Area, mesh: MeshData, inside: boolean): number[] {
  const out: number[] = [];
  const ends = mesh.shape.edges;
  const s = f.screen;
  for (let e = 0; e < ends.length / 2; e++) {
    const [a, b] = [ends[2 * e]!, ends[2 * e + 1]!];
    if (f.only?.[a] === 0 || f.only?.[b] === 0) {
      if (ofCut(f, [a, b], e, area, false) >= (inside ? 2 : 1)) out.push(e);
      continue;
    }
    const whole = (f.own[a] === 1 && f.own[b] === 1) || (f.image[a] === 1 && f.image[b] === 1);
    const touched = whole || f.image[a] === 1 || f.image[b] === 1 || (f.images !== true && area.meets(s[3 * a]!, s[3 * a + 1]!, s[3 * b]!, s[3 * b + 1]!));
    if (inside ? whole : touched) out.push(e);
  }
  return out;
}

function faces(f: Fallen, area: Area, mesh: MeshData, inside: boolean): number[] {
  const out: number[] = [];
  const { offsets, corners, faceCount } = mesh.shape;
  const [px, py] = area.points[0] as readonly [number, number];
  for (let face = 0; face < faceCount; face++) {
    const ring = corners.subarray(offsets[face], offsets[face + 1]);
    if (f.only != null && ring.some((v) => f.only?.[v] === 0)) {
      if (ofCut(f, ring, face, area, true) >= (inside ? 2 : 1)) out.push(face);
      continue;
    }
    if (ring.every((v) => f.own[v] === 1) || ring.every((v) => f.image[v] === 1)) out.push(face);
    else if (!inside) {
      const outline = [...ring].map((v) => [f.screen[3 * v]!, f.screen[3 * v + 1]!] as const);
      const crossed = f.images !== true && outline.some(([x, y], i) => {
        const [u, w] = outline[(i + 1) % outline.length] as readonly [number, number];
        return area.meets(x, y, u, w);
      });
      if (crossed || ring.some((v) => f.image[v] === 1) || (f.images !== true && within(outline, px, py))) out.push(face);
    }
  }
  return out;
}

/** 1 for each face of the cage of which the view shows nothing but an edge. */
function edgeOn(view: PartView, cage: MeshData, sight: Sight): Uint8Array {
  const out = new Uint8Array(cage.shape.faceCount);
  const mesh = view.meshFor(sight.look) ?? cage;
  const inverse = view.group.matrix.clone().invert();
  const away = sight.camera.camera.getWorldDirection(new Vector3()).transformDirection(inverse);
  const eye = !sight.camera.isFlat ? sight.camera.camera.position.clone().applyMatrix4(inverse) : null;
  const [a, b, c, n] = [new Vector3(), new Vector3(), new Vector3(), new Vector3()];
  const { triangles, triangleFace } = mesh.shape;
  const shown = new Uint8Array(out.length);
  triangleFace.forEach((face, t) => {
    if (face >= out.length || shown[face] === 1) return;
    a.fromArray(mesh.positions, 3 * triangles[3 * t]!);
    b.fromArray(mesh.positions, 3 * triangles[3 * t + 1]!);
    c.fromArray(mesh.positions, 3 * triangles[3 * t + 2]!);
    n.crossVectors(b.sub(a), c.sub(a)).normalize();
    if (eye !== null) away.copy(a).sub(eye).normalize();
    out[face] = Number(Math.abs(n.dot(away)) < EDGE_ON);
    shown[face] = 1 - out[face]!;
  });
  return out;
}

/** A point by which an element is judged seen: on what is drawn, in the build. */
function judged(view: PartView, kind: PickKind, element: number, sight: Sight, cut: readonly Cutting[] = []): Vector3 {
  const cage = (view.mesh as NonNullable<PartView["mesh"]>).cage;
  const place = (mesh: MeshData, v: number) => new Vector3().fromArray(mesh.positions, v * 3);
  if (kind === "vertices") return place(cage, element).applyMatrix4(view.group.matrix);
  if (kind === "edges") {
    const ends = placesOf(kind, cage, element);
    const [a, b] = kept(ends, cut, true) ?? ends;
    return (a as Vector3).lerp(b as Vector3, 0.5).applyMatrix4(view.group.matrix);
  }
  const mesh = view.meshFor(sight.look) ?? cage;
  const t = middleTriangles(mesh, cage.shape.faceCount)[element] ?? 0;
  const at = [0, 1, 2].map((k) => place(mesh, mesh.shape.triangles[3 * t + k]!));
  return (at[0] as Vector3).add(at[1] as Vector3).add(at[2] as Vector3).multiplyScalar(1 / 3).applyMatrix4(view.group.matrix);
}

const middles = new WeakMap<object, Uint32Array>();

/** One triangle of each cage face, from the midst of those it has. */
function middleTriangles(mesh: MeshData, faceCount: number): Uint32Array {
  const held = middles.get(mesh.shape);
  if (held !== undefined) return held;
  const first = new Uint32Array(faceCount).fill(0xffffffff);
  const count = new Uint32Array(faceCount);
  const of = mesh.shape.triangleFace;
  for (let t = 0; t < of.length; t++) {
    const f = of[t]!;
    if (first[f] === 0xffffffff) first[f] = t;
    count[f]!++;
  }
  const out = first.map((t, f) => (t === 0xffffffff ? 0 : t + (count[f]! >> 1)));
  for (let f = 0; f < faceCount; f++) if (of[out[f]!] !== f && first[f] !== 0xffffffff) out[f] = first[f]!;
  middles.set(mesh.shape, out);
  return out;
}

function isElementSeen(view: PartView, kind: PickKind, element: number, sight: Sight, cut: readonly Cutting[] = []): boolean {
  return isSeen(judged(view, kind, element, sight, cut), sight);
}

/** Even with all in reach, what the section cuts away is not there. */
function hidden(view: PartView, mesh: MeshData, kind: PickKind, element: number, sight: Sight): boolean {
  if (sight.section === null || mesh.positions.length === 0) return false;
  const point = judged(view, kind, element, sight);
  const along = point.getComponent(sight.section.axis);
  return sight.section.below ? along < sight.section.at - 1e-9 : along > sight.section.at + 1e-9;
}

/** Most elements whose sight is asked for after a pick. */
const MOST_JUDGED = 3000;

/** How many of the picked elements a view does not show; null where they are too many to ask. */
export function unseen(view: PartView, kind: PickKind, elements: readonly number[], sight: Sight): number | null {
  if (elements.length > MOST_JUDGED) return null;
  return elements.filter((e) => !isElementSeen(view, kind, e, { ...sight, through: false })).length;
}

