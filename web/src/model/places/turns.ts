import { Matrix3, Matrix4, Quaternion, Vector3 } from "three";

import type { Triple } from "../store";

const RADIANS = Math.PI / 180;

/** Turns about x, then y, then z, in degrees. */
export function turning(degrees: Triple): Quaternion {
  const out = new Quaternion();
  degrees.forEach((angle, i) => out.premultiply(new Quaternion().setFromAxisAngle(new Vector3().setComponent(i, 1), angle * RADIANS)));
  return out;
}

/** A rotation as turns about x, then y, then z, in degrees. */
export function turnsOf(q: Quaternion): Triple {
  const e = new Matrix4().makeRotationFromQuaternion(q).elements as number[];
  const y = Math.asin(Math.min(Math.max(-e[2]!, -1), 1));
  const level = Math.abs(e[2]!) < 1 - 1e-9;
  const x = level ? Math.atan2(e[6]!, e[10]!) : Math.atan2(-e[9]!, e[5]!);
  const z = level ? Math.atan2(e[1]!, e[0]!) : 0;
  return [x, y, z].map((a) => Number((a / RADIANS).toFixed(6)) + 0) as Triple;
}

/** A further turn about one axis, after those there are: exact where they are about that axis alone. */
export function turned(degrees: Triple, axis: number, by: number): Triple {
  const last = [0, 1, 2].every((k) => k <= axis || degrees[k] === 0);
  if (last) return degrees.map((d, k) => (k === axis ? d + by : d)) as Triple;
  const further = new Quaternion().setFromAxisAngle(new Vector3().setComponent(axis, 1), by * RADIANS);
  return turnsOf(turning(degrees).premultiply(further));
}

/** The linear part of a placement. */
export function linearOf(matrix: Matrix4): Matrix3 {
  return new Matrix3().setFromMatrix4(matrix);
}
