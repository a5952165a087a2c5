import { Vector3 } from "three";

import { type Key } from "../document/members";
import { groupsAround } from "../document/parts";
import { type EditorState, groupsOf, METRES, partsOf, unitOf } from "../store";
import { matrixOf } from "./frames";

/** How far along x copies go so that they land beside what they are copies of: its width in the build and a tenth more, in metres,
 * told in two figures of the build's unit. 0 where nothing of it is there yet. */
export function stepAside(state: EditorState, keys: readonly Key[]): number {
  const [groups, metres] = [groupsOf(state), METRES[unitOf(state)]];
  const at = new Vector3();
  let [low, high] = [Infinity, -Infinity];
  for (const part of partsOf(state)) {
    if (!keys.includes(`p:${part.id}`) && !groupsAround(part, groups).some((g) => keys.includes(`g:${g.id}`))) continue;
    const positions = state.meshes[part.id ?? ""]?.mesh.cage.positions;
    const matrix = matrixOf(part, metres, groups);
    for (let i = 0; positions !== undefined && i < positions.length; i += 3) {
      const { x } = at.fromArray(positions, i).applyMatrix4(matrix);
      low = Math.min(low, x);
      high = Math.max(high, x);
    }
  }
  if (high < low) return 0;
  return Number(((1.1 * (high - low)) / metres).toPrecision(2)) * metres;
}
