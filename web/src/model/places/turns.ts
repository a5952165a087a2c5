import { Euler, Matrix3, type Matrix4, Quaternion, Vector3 } from "three";

import type { Triple } from "../store";

const RADIANS = Math.PI / 180;

/** Turns about x, then y, then z, in degrees: what three calls ZYX, the last one first. */
export function turning(degrees: Triple): Quaternion {
  const [x, y, z] = degrees.map((angle) => angle * RADIANS) as [number, number, number];
  return new Quaternion().setFromEuler(new Euler(x, y, z, "ZYX"));
}

/** A rotation as turns about x, then y, then z, in degrees. */
export function turnsOf(q: Quaternion): Triple {
  const { x, y, z } = new Euler().setFromQuaternion(q, "ZYX");
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
