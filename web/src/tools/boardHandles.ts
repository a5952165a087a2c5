import { Vector3 } from "three";

import type { Board } from "../api/client";
import { atOf, type BoardValues, cornersOf, cropOf, fromPlane, inBuild, type Place, planeOf, scaledAbout, toPlane, viewOf } from "../model/places/boardPlane";
import { prefs } from "../model/prefs";
import { boardsOf, editor, isLocked, METRES, unitOf } from "../model/store";
import { lengthText, tidy as tidyText, toShown } from "../model/units";
import type { Boards, MovedBoard } from "../scene/boards/Boards";
import { rounded } from "../scene/numbers";
import type { Overlay } from "../scene/overlay";
import type { Pointer } from "../scene/pointer";
import type { Pane } from "../scene/Sheet";
import { snapping, toStep } from "../scene/snap";
import { token } from "../theme/theme";

/** `move`, `turn`, a corner that scales by number, or a side that crops. */
export type BoardHandle = "move" | "turn" | 0 | 1 | 2 | 3 | "left" | "lower" | "right" | "upper";

export interface BoardHit {
  readonly board: Board;
  readonly handle: BoardHandle;
}

const REACH = 7;
/** The knob that turns stands so far above the upper edge, in pixels. */
const STALK = 22;
const SIDES = ["lower", "right", "upper", "left"] as const;
const MIDDLE = { lower: [0, 1], right: [1, 2], upper: [2, 3], left: [3, 0] } as const;

/** Where the handles of a board stand on a pane, in its pixels. */
function spots(board: Board, boards: Boards, pane: Pane): { corners: Place[]; middles: Record<(typeof SIDES)[number], Place>; knob: Place } | null {
  const view = viewOf(board);
  if ((view !== null && view !== pane.view) || boards.standing(board, 1) === null) return null;
  const metres = METRES[unitOf(editor.get())];
  const corners = cornersOf(board, boards.aspectOf(board)).map((c): Place => {
    const p = pane.camera.project(inBuild(board, c, metres));
    return [p.x, p.y];
  });
  const between = ([i, j]: readonly [number, number]): Place => [(corners[i]![0] + corners[j]![0]) / 2, (corners[i]![1] + corners[j]![1]) / 2];
  const middles = Object.fromEntries(SIDES.map((s) => [s, between(MIDDLE[s])])) as Record<(typeof SIDES)[number], Place>;
  const [up, down] = [middles.upper, middles.lower];
  const size = Math.max(Math.hypot(up[0] - down[0], up[1] - down[1]), 1e-6);
  return { corners, middles, knob: [up[0] + ((up[0] - down[0]) / size) * STALK, up[1] + ((up[1] - down[1]) / size) * STALK] };
}

/** The handle of an unlocked board under the pointer; boards are held by their borders, never by what they show. */
export function boardHandleAt(boards: Boards, pane: Pane, at: Pointer): BoardHit | null {
  const near = ([x, y]: Place) => Math.hypot(x - at.x, y - at.y) <= REACH;
  for (const board of [...boardsOf(editor.get())].reverse()) {
    const s = isLocked(board) || board.hidden ? null : spots(board, boards, pane);
    if (s === null) continue;
    if (near(s.knob)) return { board, handle: "turn" };
    const corner = s.corners.findIndex(near);
    if (corner >= 0) return { board, handle: corner as 0 | 1 | 2 | 3 };
    const side = SIDES.find((k) => near(s.middles[k]));
    if (side !== undefined) return { board, handle: side };
    for (let i = 0; i < 4; i++) {
      const [a, b] = [s.corners[i]!, s.corners[(i + 1) % 4]!];
      const size = Math.hypot(b[0] - a[0], b[1] - a[1]);
      const t = ((at.x - a[0]) * (b[0] - a[0]) + (at.y - a[1]) * (b[1] - a[1])) / (size * size);
      const off = Math.abs((at.x - a[0]) * (b[1] - a[1]) - (at.y - a[1]) * (b[0] - a[0])) / size;
      if (off <= 6 && t >= 0 && t <= 1) return { board, handle: "move" };
    }
  }
  return null;
}

/** What dragging a handle makes of a board. Release stores it. */
export class BoardHandleDrag {
  private readonly from: Place;

  constructor(
    private readonly hit: BoardHit,
    private readonly boards: Boards,
    private readonly pane: Pane,
    start: Pointer,
  ) {
    this.from = this.plane(start);
  }

  /** The pointer in the board's plane, in the build's unit. */
  private plane(at: Pointer): Place {
    const metres = METRES[unitOf(editor.get())];
    const plane = planeOf(this.hit.board, metres);
    const origin = new Vector3().setFromMatrixPosition(plane);
    const out = new Vector3().setFromMatrixColumn(plane, 2);
    const p = (this.pane.camera.onAnyPlane(at.x, at.y, origin, out) ?? origin).applyMatrix4(plane.invert());
    return [p.x / metres, p.y / metres];
  }

  private round(value: number, at: Pointer): number {
    const metres = METRES[unitOf(editor.get())];
    const { gridStep, snap } = prefs.get();
    if (snapping(at.invert) && snap.grid) return toStep(value * metres, gridStep) / metres;
    const middle = inBuild(this.hit.board, [0, 0], metres);
    return rounded(value * metres, this.pane.camera.pixel(middle), metres, at.fine);
  }

  values(at: Pointer): BoardValues {
    const { board, handle } = this.hit;
    const to = this.plane(at);
    const [u, v] = atOf(board);
    if (handle === "move") return { at: [this.round(u + to[0] - this.from[0], at), this.round(v + to[1] - this.from[1], at)] };
    const corners = cornersOf(board, this.boards.aspectOf(board));
    const inPlane = corners.map((c) => toPlane(board, c));
    if (handle === "turn") {
      const middle: Place = [(inPlane[0]![0] + inPlane[2]![0]) / 2, (inPlane[0]![1] + inPlane[2]![1]) / 2];
      const angle = (p: Place) => (Math.atan2(p[1] - middle[1], p[0] - middle[0]) * 180) / Math.PI;
      let turn = (board.turn ?? 0) + angle(to) - angle(this.from);
      const { snap, angleStep } = prefs.get();
      turn = snapping(at.invert) && snap.angle ? toStep(turn, angleStep) : Number(turn.toFixed(at.fine ? 2 : 1));
      turn = ((((turn + 180) % 360) + 360) % 360) - 180;
      const by = ((turn - (board.turn ?? 0)) * Math.PI) / 180;
      const [x, y] = [u - middle[0], v - middle[1]];
      return { turn, at: [middle[0] + Math.cos(by) * x - Math.sin(by) * y, middle[1] + Math.sin(by) * x + Math.cos(by) * y].map(tidy) as Place };
    }
    if (typeof handle === "number") {
      const fixed = inPlane[(handle + 2) % 4]!;
      const reach = (p: Place) => Math.hypot(p[0] - fixed[0], p[1] - fixed[1]);
      const wanted = board.width * Math.max(reach(to) / Math.max(reach(inPlane[handle]!), 1e-9), 1e-3);
      const width = Math.max(this.round(wanted, at), 1e-6) || wanted;
      const scaled = scaledAbout(board, fixed, width / board.width);
      return { width, at: (scaled.at as Place).map(tidy) as Place };
    }
    const [x, y] = fromPlane(board, to);
    const share = handle === "left" || handle === "right" ? x / board.width + 0.5 : y / (board.width * this.boards.aspectOf(board));
    const crop = cropOf(board);
    const i = { left: 0, lower: 1, right: 2, upper: 3 }[handle];
    const [low, high] = i < 2 ? [0, (crop[i + 2] as number) - 0.01] : [(crop[i - 2] as number) + 0.01, 1];
    crop[i] = Number(Math.min(Math.max(share, low), high).toFixed(5));
    return { crop };
  }
}

function tidy(value: number): number {
  return Number(value.toFixed(6)) + 0;
}

/** Borders of the boards of a pane; of unlocked ones the handles too. */
export function drawBoardFrames(boards: Boards, pane: Pane, o: Overlay, hot: BoardHit | null, moved: MovedBoard | null): void {
  const unit = unitOf(editor.get());
  for (const stored of boardsOf(editor.get())) {
    const locked = isLocked(stored);
    if (viewOf(stored) === null && locked) continue;
    const corners = boards.outline(stored, pane.view, unit, moved);
    if (corners === null) continue;
    const here = hot?.board.id === stored.id && !locked;
    o.polyline(corners, here ? token("pick") : token("ink"), here ? 2 : 0.8, { close: true, dash: locked ? [] : [6, 4] });
    if (locked) continue;
    const board = moved?.id === stored.id ? { ...stored, ...moved.values } : stored;
    const s = spots(board, boards, pane);
    if (s === null) continue;
    const c = o.context;
    const ink = (handle: BoardHandle) => (here && hot?.handle === handle ? token("pick") : token("ink"));
    c.lineWidth = 1.4;
    c.fillStyle = token("panel");
    const dab = (handle: BoardHandle, path: () => void) => {
      c.beginPath();
      path();
      c.strokeStyle = ink(handle);
      c.fill();
      c.stroke();
    };
    const up = s.middles.upper;
    dab("turn", () => { c.moveTo(up[0], up[1]); c.lineTo(s.knob[0], s.knob[1]); });
    dab("turn", () => c.arc(s.knob[0], s.knob[1], 5, 0, 2 * Math.PI));
    s.corners.forEach(([x, y], i) => dab(i as 0, () => c.rect(x - 4, y - 4, 8, 8)));
    for (const side of SIDES) {
      const [x, y] = s.middles[side];
      const [a, b] = MIDDLE[side].map((i) => s.corners[i] as Place) as [Place, Place];
      const size = Math.max(Math.hypot(b[0] - a[0], b[1] - a[1]), 1e-6);
      const [dx, dy] = [((b[0] - a[0]) / size) * 8, ((b[1] - a[1]) / size) * 8];
      c.lineWidth = 4;
      dab(side, () => { c.moveTo(x - dx, y - dy); c.lineTo(x + dx, y + dy); });
      c.lineWidth = 1.4;
    }
    if (moved?.id === stored.id) o.label(corners[3]!, toldOf(moved.values), token("pick"));
  }
}

function toldOf(values: BoardValues): string {
  if (values.turn !== undefined) return `turn ${values.turn.toFixed(1)}°`;
  if (values.width !== undefined) return `width ${lengthText(values.width)}`;
  if (values.crop !== undefined) return "crop";
  return values.at === undefined ? "" : values.at.map((v) => tidyText(toShown(v))).join(", ");
}
