import { Matrix4, Quaternion, Vector3 } from "three";

import type { Group, Part, Unit } from "../../api/client";
import type { Placement } from "../document/members";
import { matrixAbove, matrixOf } from "./frames";
import { METRES, type Triple } from "../store";
import { turnsOf } from "./turns";

export type Axis = "x" | "y" | "z";
/** A plane of the build, in metres. */
export interface Plane {
  readonly point: Triple;
  readonly normal: Triple;
}
type Member = Pick<Part, "group" | "placement" | "pivot" | "joint">;

const tidy = (v: number) => Number(v.toPrecision(9)) + 0;

/** Pivot and joint of something reflected in a plane of its own axes. */
function ownAcross({ pivot, joint }: Member, k: number): Pick<Part, "pivot" | "joint"> {
  const across = (v: number, i: number) => (i === k ? -v + 0 : v);
  const turned = (v: number, i: number) => (i === k ? v : -v + 0);
  return {
    ...(pivot == null ? {} : { pivot: pivot.map(across) as Triple }),
    ...(joint == null ? {} : { joint: { ...joint, at: (joint.at ?? [0, 0, 0]).map(across) as Triple, axis: joint.axis.map(joint.kind === "turn" ? turned : across) as Triple } }),
  };
}

/**
 * Where something stands that is reflected across a plane of the axes it is placed in, itself reflected in the same plane of its
 * own: X·(T·R·S) = (X·T·X)·(X·R·X)·S·X, and turns about other axes run the other way.
 */
export function acrossAxis(member: Member, axis: Axis): Pick<Part, "placement" | "pivot" | "joint"> {
  const k = "xyz".indexOf(axis);
  const { placement } = member;
  const placed = {
    ...placement,
    ...(placement?.translate ? { translate: placement.translate.map((v, i) => (i === k ? -v + 0 : v)) as Triple } : {}),
    ...(placement?.rotate ? { rotate: placement.rotate.map((v, i) => (i === k ? v : -v + 0)) as Triple } : {}),
  };
  return { ...(Object.keys(placed).length > 0 ? { placement: placed } : {}), ...ownAcross(member, k) };
}

function reflection({ point, normal }: Plane): Matrix4 {
  const n = new Vector3(...normal).normalize();
  const rows = [0, 1, 2].map((i) => [0, 1, 2].map((j) => (i === j ? 1 : 0) - 2 * n.getComponent(i) * n.getComponent(j)));
  const away = n.clone().multiplyScalar(2 * n.dot(new Vector3(...point)));
  return new Matrix4().set(...(rows.flatMap((row, i) => [...row, away.getComponent(i)]) as [number, number, number, number, number, number, number, number, number, number, number, number]), 0, 0, 0, 1);
}

/** A placement that says a matrix, as near as one can. */
export function placementOf(matrix: Matrix4, metres: number): Placement {
  const [place, turn, scale] = [new Vector3(), new Quaternion(), new Vector3()];
  matrix.decompose(place, turn, scale);
  return { translate: place.toArray().map((v) => tidy(Number((v / metres).toFixed(7)))) as Triple, rotate: turnsOf(turn), scale: scale.toArray().map(tidy) as Triple };
}

/** Where something stands that is reflected across any plane of the build, itself reflected in the plane across its own x. */
export function acrossPlane(member: Member, plane: Plane, unit: Unit, groups: readonly Group[]): Pick<Part, "placement" | "pivot" | "joint"> {
  const metres = METRES[unit];
  const above = matrixAbove(member, metres, groups);
  const own = matrixOf({ ...member, group: null, joint: null } as Part, metres, []);
  const whole = above.clone().invert().multiply(reflection(plane)).multiply(above).multiply(own).multiply(new Matrix4().makeScale(-1, 1, 1));
  return { placement: placementOf(whole, metres), ...ownAcross(member, 0) };
}

/** The plane of a part's own axes across which a mirrored linked copy of it stands, in metres; null where it is another. */
export function planeBetween(source: Part, copy: Part, unit: Unit, groups: readonly Group[]): { readonly axis: Axis; readonly at: number } | null {
  const metres = METRES[unit];
  const signs = [1, 1, 1].map((s, i) => ("xyz"[i] === copy.mirrored ? -s : s)) as Triple;
  const e = matrixOf(source, metres, groups).invert().multiply(matrixOf(copy, metres, groups)).multiply(new Matrix4().makeScale(...signs)).elements;
  const k = [0, 1, 2].find((i) => (e[5 * i] as number) < 0) ?? -1;
  if (k < 0) return null;
  const ideal = new Matrix4().makeScale(...([0, 1, 2].map((i) => (i === k ? -1 : 1)) as Triple)).elements;
  const near = e.every((v, i) => Math.abs(v - (i === 12 + k ? v : (ideal[i] as number))) < 1e-6);
  return near ? { axis: "xyz"[k] as Axis, at: (e[12 + k] as number) / 2 } : null;
}
