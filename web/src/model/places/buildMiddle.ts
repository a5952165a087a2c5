import type { Part } from "../../api/client";
import { groupsOf, METRES, type EditorState, unitOf } from "../store";
import { matrixOf } from "./frames";

type Axis = "x" | "y" | "z";

/** Where the build's own middle plane lies that a plane across one of a part's axes can be; null where the part stands as the build
 * does, so that both are one. */
export interface Middle {
  /** across which of the build's axes, null where the part's axis runs along none of them */
  readonly across: Axis | null;
  /** along the part's axis, in the build's unit */
  readonly at: number;
}

export function buildMiddle(state: EditorState, part: Part, axis: Axis): Middle | null {
  const metres = METRES[unitOf(state)];
  const e = matrixOf(part, metres, groupsOf(state)).elements;
  const k = "xyz".indexOf(axis);
  const column = [0, 1, 2].map((i) => e[4 * k + i] as number);
  const size = Math.hypot(...column);
  const b = column.findIndex((v) => Math.abs(v) > size * (1 - 1e-9));
  if (b < 0) return { across: null, at: 0 };
  const at = Number((-(e[12 + b] as number) / (column[b] as number) / metres).toPrecision(9)) + 0;
  return b === k && at === 0 && (column[b] as number) > 0 ? null : { across: "xyz"[b] as Axis, at };
}
