import { Vector3 } from "three";

import type { Triple } from "../model/store";
import type { PartView } from "../scene/PartView";
import type { Pane } from "../scene/Sheet";

/** Ways along a part's axes, those that hands expect first. */
const WAYS: readonly Triple[] = [[1, 0, 0], [0, 1, 0], [0, 0, 1], [-1, 0, 0], [0, -1, 0], [0, 0, -1]];
/** Of a way, at least so much is to be seen from where the pane looks. */
const SEEN = 0.4;

/**
 * Along which axis of a part something can be moved so far that it is seen there, whole if that can be, in a pane.
 *
 * @param at its middle, in the part's axes and metres
 * @param size how far it reaches, metres
 * @param by how far it is moved, metres
 */
export function clearWay({ camera }: Pane, view: PartView, at: Triple, size: number, by: number): Triple {
  const { eye } = camera.basis();
  const from = new Vector3(...at).applyMatrix4(view.group.matrix);
  let best: Triple = WAYS[0] as Triple;
  let most = -Infinity;
  for (const way of WAYS) {
    const moved = new Vector3(...at).addScaledVector(new Vector3(...way), by).applyMatrix4(view.group.matrix);
    const along = moved.clone().sub(from);
    const share = Math.sqrt(Math.max(0, 1 - (along.dot(eye) / Math.max(along.length(), 1e-12)) ** 2));
    if (share < SEEN) continue;
    const p = camera.project(moved);
    const half = size / 2 / camera.pixel(moved);
    const room = Math.min(p.x - half, camera.width - p.x - half, p.y - half, camera.height - p.y - half);
    if (room >= 0) return way;
    if (room > most) [best, most] = [way, room];
  }
  return best;
}
