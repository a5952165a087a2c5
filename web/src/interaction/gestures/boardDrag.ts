import { deepEqual } from "fast-equals";

import { setBoard } from "../../model/document/intents";
import type { Pointer } from "../../scene/pointer";
import type { Pane } from "../../scene/Sheet";
import { change } from "../../sync/build";
import { BoardHandleDrag, type BoardHit } from "../../tools/boardHandles";
import type { Asker } from "../brief/Asker";
import { answerPoint } from "../brief/answerPoint";
import type { Marks } from "../Marks";
import type { Views } from "../views";
import type { Gesture } from "./Gesture";

/** Moves, scales, turns or crops an unlocked board by its border and handles. */
export class BoardDrag implements Gesture {
  private readonly drag: BoardHandleDrag;

  constructor(
    private readonly views: Pick<Views, "boards" | "invalidate" | "sync">,
    private readonly marks: Marks,
    pane: Pane,
    private readonly hit: BoardHit,
    start: Pointer,
  ) {
    this.drag = new BoardHandleDrag(hit, views.boards, pane, start);
  }

  move(at: Pointer): void {
    this.marks.movedBoard = { id: this.hit.board.id, values: this.drag.values(at) };
    this.views.invalidate();
  }

  async up(): Promise<void> {
    const { board, handle } = this.hit;
    const values = this.marks.movedBoard?.values;
    const same = values === undefined || Object.entries(values).every(([k, v]) => deepEqual(v, board[k as keyof typeof values]));
    const what = handle === "move" ? "Move board" : handle === "turn" ? "Turn board" : typeof handle === "number" ? "Scale board" : "Crop board";
    if (!same) await change(what, setBoard(board.id, values));
    this.cancel();
  }

  cancel(): void {
    this.marks.movedBoard = null;
    this.views.sync();
  }
}

/** A click that answers what is being asked for; a drag shows where it would. */
export class AskPoint implements Gesture {
  constructor(
    private readonly asker: Asker,
    private readonly pane: Pane,
    at: Pointer,
  ) {
    this.move(at);
  }

  move(at: Pointer): void {
    this.asker.hover(this.pane, at);
  }

  async up(at: Pointer): Promise<void> {
    await answerPoint(this.asker.point(this.pane, at));
  }

  cancel(): void {
    this.asker.leave();
  }
}
