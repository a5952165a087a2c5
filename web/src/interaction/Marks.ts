import type { Vector3 } from "three";

import type { MovedBoard } from "../scene/boards/Boards";
import type { Hit } from "../scene/hit";
import type { Pane } from "../scene/Sheet";
import type { Area } from "../scene/sweep";
import type { BoardHit } from "../tools/boardHandles";
import type { Handle } from "../tools/Handle";

/** What hands are over or hold just now, to be drawn; nothing of it outlasts the pointer. */
export class Marks {
  /** the element under the pointer */
  hover: Hit | null = null;
  /** the way a band runs that a double click there takes, in the view under the pointer */
  way: { readonly pane: Pane; readonly line: readonly Vector3[] } | null = null;
  hotHandle: Handle | null = null;
  hotBoard: BoardHit | null = null;
  movedBoard: MovedBoard | null = null;
  /** the area being swept, in a pane */
  swept: { readonly pane: Pane; readonly area: Area } | null = null;
}
