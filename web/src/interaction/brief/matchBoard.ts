import type { Board } from "../../api/client";
import { setBoard } from "../../model/document/intents";
import { atOf, onView, outlineInPlane, type Place, viewOf } from "../../model/places/boardPlane";
import { editor, partOf } from "../../model/store";
import { change, tell } from "../../sync/build";
import { extentOf } from "../../sync/extent";

/** Scale and move a board so that its outline fills the box of the current part: the larger side decides the scale. */
export async function matchToBounds(board: Board): Promise<void> {
  const view = viewOf(board);
  const part = partOf(editor.get(), editor.get().current);
  if (view === null || part?.id == null) {
    tell("Make a part to match first");
    return;
  }
  const reach = await extentOf(part.id, null, "build");
  if (reach === null) return;
  const span = (axis: { x: number; y: number; z: number }): [number, number] => {
    const ends = [reach.low, reach.high].map((p) => p[0]! * axis.x + p[1]! * axis.y + p[2]! * axis.z);
    return [Math.min(...ends), Math.max(...ends)];
  };
  const model = [span(onView(view, [1, 0])), span(onView(view, [0, 1]))] as const;
  const points = outlineInPlane(board).flat();
  const drawn = [0, 1].map((k) => [Math.min(...points.map((p) => p[k]!)), Math.max(...points.map((p) => p[k]!))] as const);
  const size = (s: readonly [number, number] | undefined) => (s === undefined ? 0 : s[1] - s[0]);
  const wide = size(model[0]) > size(model[1]) ? 0 : 1;
  const by = size(model[wide]) / size(drawn[wide]);
  if (!Number.isFinite(by) || by <= 0) {
    tell("The outline or the part has no size to match");
    return;
  }
  const [u, v] = atOf(board);
  // the outline's middle across, its lower edge up, go where the part's are
  const from: Place = [(drawn[0]![0] + drawn[0]![1]) / 2, drawn[1]![0]];
  const to: Place = [(model[0][0] + model[0][1]) / 2, model[1][0]];
  const at = [to[0] + by * (u - from[0]), to[1] + by * (v - from[1])].map((x) => Number(x.toPrecision(9)) + 0) as Place;
  await change("Match board to part", setBoard(board.id, { width: Number((board.width * by).toPrecision(9)), at }));
}
