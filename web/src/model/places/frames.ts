import { Matrix3, Matrix4, Vector3 } from "three";

import type { Group, Part, Unit } from "../../api/client";
import type { MeshData } from "../../api/packets";
import { groupsAround } from "../document/parts";
import { verticesOf } from "../picks/picks";
import { type Frame, prefs } from "../prefs";
import { editor, groupsOf, METRES, type Picked, type Triple } from "../store";
import { turning } from "./turns";

type Member = Pick<Part, "placement" | "joint">;

/** A placement: scales, then turns about x, y, z, then moves. */
function ofPlacement(member: Member, metres: number): Matrix4 {
  const { translate = [0, 0, 0], rotate = [0, 0, 0], scale = [1, 1, 1] } = member.placement ?? {};
  return new Matrix4().compose(new Vector3(...(translate as Triple)).multiplyScalar(metres), turning(rotate as Triple), new Vector3(...(scale as Triple)));
}

/** What a joint does where it stands now. */
function ofJoint(joint: NonNullable<Member["joint"]>, metres: number): Matrix4 {
  const axis = new Vector3(...(joint.axis as Triple)).normalize();
  const now = joint.now ?? 0;
  if (joint.kind === "slide") return new Matrix4().makeTranslation(axis.multiplyScalar(now * metres));
  const at = new Vector3(...((joint.at ?? [0, 0, 0]) as Triple)).multiplyScalar(metres);
  const out = new Matrix4().makeRotationAxis(axis, (now * Math.PI) / 180);
  return out.setPosition(at.clone().sub(at.clone().applyMatrix4(out)));
}

function ofMember(member: Member, metres: number): Matrix4 {
  const own = ofPlacement(member, metres);
  return member.joint == null ? own : own.multiply(ofJoint(member.joint, metres));
}

/** Where a part stands in the build: its joint, then its placement, then those of its groups from the inmost out. */
export function matrixOf(part: Part, metres: number, groups: readonly Group[]): Matrix4 {
  const out = ofMember(part, metres);
  for (const group of groupsAround(part, groups)) out.premultiply(ofMember(group, metres));
  return out;
}

/** From a part's own axes to those of a group it is in, before that group's joint and placement. */
export function matrixWithin(part: Part, metres: number, groups: readonly Group[], group: string): Matrix4 {
  const out = ofMember(part, metres);
  for (const g of groupsAround(part, groups)) {
    if (g.id === group) break;
    out.premultiply(ofMember(g, metres));
  }
  return out;
}

/** From the axes that a part's or group's placement is told in to the build's. */
export function matrixAbove(member: Pick<Part, "group">, metres: number, groups: readonly Group[]): Matrix4 {
  const out = new Matrix4();
  for (const g of groupsAround(member, groups)) out.premultiply(ofMember(g, metres));
  return out;
}

/** The middle of what is picked, or of the part, and its greatest extent; metres, in the part's axes. */
export function middle(mesh: MeshData | undefined, pick: Picked | null): { at: Triple; size: number; low: Triple } {
  if (mesh === undefined || mesh.positions.length === 0) return { at: [0, 0, 0], size: 0.1, low: [0, 0, 0] };
  const low: Triple = [Infinity, Infinity, Infinity];
  const high: Triple = [-Infinity, -Infinity, -Infinity];
  const vertices = pick === null ? Array.from({ length: mesh.positions.length / 3 }, (_, i) => i) : verticesOf(mesh, pick.kind, pick.elements);
  for (const v of vertices) {
    for (let k = 0; k < 3; k++) {
      low[k] = Math.min(low[k] as number, mesh.positions[3 * v + k] as number);
      high[k] = Math.max(high[k] as number, mesh.positions[3 * v + k] as number);
    }
  }
  const at = low.map((l, k) => (l + (high[k] as number)) / 2) as Triple;
  return { at, size: Math.max(...high.map((h, k) => h - (low[k] as number)), 1e-4), low };
}

/** What a pick turns and scales about, in the part's axes and metres. */
export function pivotOf(part: Part, mesh: MeshData | undefined, pick: Picked | null, unit: Unit): Triple {
  const kind = prefs.get().pivot;
  if (kind === "origin") return [0, 0, 0];
  if (kind === "part") return (part.pivot ?? [0, 0, 0]).map((v) => v * METRES[unit]) as Triple;
  return middle(mesh, pick).at;
}

const OWN: readonly [Triple, Triple, Triple] = [[1, 0, 0], [0, 1, 0], [0, 0, 1]];

/** Axes of a frame as columns in the part's axes, as the core lays them. */
export function axesOf(frame: Frame, part: Part, mesh: MeshData | undefined, pick: Picked | null): readonly [Triple, Triple, Triple] {
  if (frame === "part" || mesh === undefined) return OWN;
  if (frame === "build") {
    const inverse = new Matrix3().setFromMatrix4(matrixOf(part, 1, groupsOf(editor.get()))).invert().elements as number[];
    return [0, 3, 6].map((i) => inverse.slice(i, i + 3) as Triple) as [Triple, Triple, Triple];
  }
  const z = pick === null ? new Vector3() : normalOf(mesh, pick);
  if (z.lengthSq() === 0) return OWN;
  const up = Math.abs(z.y) > 1 - 1e-9 ? new Vector3(0, 0, -1) : new Vector3(0, 1, 0);
  const x = new Vector3().crossVectors(up, z).normalize();
  const y = new Vector3().crossVectors(z, x);
  return [x.toArray() as Triple, y.toArray() as Triple, z.toArray() as Triple];
}

/** Area-weighted normal of the picked faces, or of the faces round other elements; for where handles stand. */
export function normalOf(mesh: MeshData, pick: Picked): Vector3 {
  const { offsets, corners, faceCount } = mesh.shape;
  const vertices = new Set(verticesOf(mesh, pick.kind, pick.elements));
  const out = new Vector3();
  const [o, p, q] = [new Vector3(), new Vector3(), new Vector3()];
  const add = (f: number) => {
    const [a, b] = [offsets[f] as number, offsets[f + 1] as number];
    o.fromArray(mesh.positions, (corners[a] as number) * 3);
    for (let c = a + 1; c + 1 < b; c++) {
      p.fromArray(mesh.positions, (corners[c] as number) * 3).sub(o);
      q.fromArray(mesh.positions, (corners[c + 1] as number) * 3).sub(o);
      out.add(p.cross(q));
    }
  };
  if (pick.kind === "faces") pick.elements.forEach(add);
  else for (let f = 0; f < faceCount; f++) if (corners.subarray(offsets[f], offsets[f + 1]).some((v) => vertices.has(v))) add(f);
  return out.lengthSq() > 1e-24 ? out.normalize() : new Vector3();
}
