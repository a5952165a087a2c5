import { answerPoint } from "../../state/asking";
import { change } from "../../state/editor";
import { setBoard } from "../../state/intents";
import type { Pointer } from "../../tools/Tool";
import { BoardHandleDrag, type BoardHit } from "../boards/handles";
import type { Pane } from "../Sheet";
import type { Viewport } from "../Viewport";
import type { Gesture } from "./Gesture";

/** Moves, scales, turns or crops an unlocked board by its border and handles. */
export class BoardDrag implements Gesture {
  private readonly drag: BoardHandleDrag;

  constructor(
    private readonly view: Viewport,
    pane: Pane,
    private readonly hit: BoardHit,
    start: Pointer,
  ) {
    this.drag = new BoardHandleDrag(hit, view.boards, pane, start);
  }

  move(at: Pointer): void {
    this.view.movedBoard = { id: this.hit.board.id, values: this.drag.values(at) };
    this.view.invalidate();
  }

  async up(): Promise<void> {
    const { board, handle } = this.hit;
    const values = this.view.movedBoard?.values;
    const same = values === undefined || Object.entries(values).every(([k, v]) => JSON.stringify(v) === JSON.stringify(board[k as keyof typeof values]));
    const what = handle === "move" ? "Move board" : handle === "turn" ? "Turn board" : typeof handle === "number" ? "Scale board" : "Crop board";
    if (!same) await change(what, setBoard(board.id, values));
    this.cancel();
  }

  cancel(): void {
    this.view.movedBoard = null;
    this.view.sync();
  }
}

/** A click that answers what is being asked for; a drag shows where it would. */
export class AskPoint implements Gesture {
  constructor(
    private readonly view: Viewport,
    private readonly pane: Pane,
    at: Pointer,
  ) {
    this.move(at);
  }

  move(at: Pointer): void {
    this.view.asker.hover(this.pane, at);
  }

  async up(at: Pointer): Promise<void> {
    await answerPoint(this.view.asker.point(this.pane, at));
  }

  cancel(): void {
    this.view.asker.leave();
  }
}
