import type { MeshData } from "../../api/packets";
import { editor, METRES, type Picked, unitOf, type Values } from "../store";

/** What stands at one place is welded within so many metres. */
const AT_ONE_PLACE = 1e-5;

/** The least distance that welds something: a little more than the nearest two of the picked vertices stand apart. */
export function leastWeld(mesh: MeshData, pick: Picked): Values {
  const apart = nearest(mesh.positions, pick.elements);
  if (apart === null) return {};
  return { distance: roundUp(Math.max(apart, AT_ONE_PLACE) / METRES[unitOf(editor.get())]) };
}

/** Up to the next number of two digits, and never the number itself: points that stand just so far apart are not joined. */
function roundUp(value: number): number {
  const step = 10 ** (Math.floor(Math.log10(value)) - 1);
  return Number(((Math.floor((value / step) * (1 + 1e-6)) + 1) * step).toPrecision(2));
}

/** How far the nearest two of some points stand apart: along x only what is nearer than the best so far is looked at. */
function nearest(p: Float32Array, points: readonly number[]): number | null {
  const order = [...points].sort((a, b) => p[3 * a]! - p[3 * b]!);
  let best = Infinity;
  order.forEach((a, i) => {
    for (let k = i + 1; k < order.length; k++) {
      const b = order[k]!;
      if (p[3 * b]! - p[3 * a]! >= best) return;
      best = Math.min(best, Math.hypot(p[3 * a]! - p[3 * b]!, p[3 * a + 1]! - p[3 * b + 1]!, p[3 * a + 2]! - p[3 * b + 2]!));
    }
  });
  return Number.isFinite(best) ? best : null;
}
