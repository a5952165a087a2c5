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
  hotHandle: Handle | null = null;
  hotBoard: BoardHit | null = null;
  movedBoard: MovedBoard | null = null;
  /** the area being swept, in a pane */
  swept: { readonly pane: Pane; readonly area: Area } | null = null;
}
