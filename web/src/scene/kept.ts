import { Vector3 } from "three";

/** A plane of a live mirror that cuts off what lies beyond it; in the part's axes, in metres. */
export interface Cutting {
  readonly axis: 0 | 1 | 2;
  readonly at: number;
  /** the side that stays */
  readonly side: 1 | -1;
}

/** Nearer a plane than this, in metres, a point lies on it. */
const ON = 1e-9;

/** What planes leave of a ring of points, or of the line through them where it is open; null where that is nothing. Each plane in
 * turn, as Sutherland and Hodgman, "Reentrant polygon clipping", 1974. */
export function kept(points: readonly Vector3[], planes: readonly Cutting[], open = false): Vector3[] | null {
  let left = [...points];
  for (const plane of planes) {
    const far = left.map((p) => plane.side * (p.getComponent(plane.axis) - plane.at));
    if (!far.some((d) => d > ON)) return null;
    const next: Vector3[] = [];
    left.forEach((p, i) => {
      const d = far[i] as number;
      if (d >= -ON) next.push(p);
      if (open && i + 1 === left.length) return;
      const j = (i + 1) % left.length;
      const e = far[j] as number;
      if ((d > ON && e < -ON) || (d < -ON && e > ON)) next.push(p.clone().lerp(left[j] as Vector3, d / (d - e)));
    });
    left = next;
  }
  return left;
}

/** A ring as planes show it again: itself across each of them, and across several. The ring itself is not among them. */
export function imaged(ring: readonly Vector3[], planes: readonly Cutting[]): Vector3[][] {
  let out: Vector3[][] = [[...ring]];
  for (const { axis, at } of planes) {
    out = [...out, ...out.map((of) => of.map((p) => p.clone().setComponent(axis, 2 * at - p.getComponent(axis))))];
  }
  return out.slice(1);
}
