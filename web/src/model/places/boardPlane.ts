import { Euler, Matrix4, Vector3 } from "three";

import type { Board, View } from "../../api/client";
import { BASES } from "../views";

/** What a drag makes of a board before it is stored. */
export type BoardValues = Partial<Pick<Board, "at" | "width" | "turn" | "crop" | "place">>;
export type Place = [number, number];

/** The view a board belongs to, null for one that stands free. */
export function viewOf(board: Board): View | null {
  const view = board.view ?? "front";
  return view === "free" ? null : view;
}

export function atOf(board: Board): Place {
  return [...(board.at ?? [0, 0])] as Place;
}

export function cropOf(board: Board): [number, number, number, number] {
  return [...(board.crop ?? [0, 0, 1, 1])] as [number, number, number, number];
}

function turned(x: number, y: number, degrees: number): Place {
  const a = (degrees * Math.PI) / 180;
  return [Math.cos(a) * x - Math.sin(a) * y, Math.sin(a) * x + Math.cos(a) * y];
}

/** A place on a board, across from its middle and up from its lower edge, as across and up of its view; all in one unit. */
export function toPlane(board: Board, [x, y]: Place): Place {
  const [u, v] = turned(board.mirrored ? -x : x, y, board.turn ?? 0);
  const at = atOf(board);
  return [u + at[0], v + at[1]];
}

export function fromPlane(board: Board, [u, v]: Place): Place {
  const at = atOf(board);
  const [x, y] = turned(u - at[0], v - at[1], -(board.turn ?? 0));
  return [board.mirrored ? -x : x, y];
}

/** From the plane a board lies in, that of its view or its own, to the build; lengths in metres. */
export function planeOf(board: Board, metres: number): Matrix4 {
  const view = viewOf(board);
  if (view !== null) {
    const { right, up, eye } = BASES[view];
    return new Matrix4().makeBasis(right, up, eye);
  }
  const { translate = [0, 0, 0], rotate = [0, 0, 0] } = board.place ?? {};
  const [a, b, c] = (rotate as number[]).map((d) => (d * Math.PI) / 180) as [number, number, number];
  const out = new Matrix4().makeRotationFromEuler(new Euler(a, b, c, "ZYX")); // about x, then y, then z
  return out.setPosition(...((translate as number[]).map((v) => v * metres) as [number, number, number]));
}

/** From a board's own axes (across and up in metres, out of it) to the build. */
export function frameOf(board: Board, metres: number): Matrix4 {
  const [u, v] = atOf(board);
  const out = planeOf(board, metres)
    .multiply(new Matrix4().makeTranslation(u * metres, v * metres, 0))
    .multiply(new Matrix4().makeRotationZ(((board.turn ?? 0) * Math.PI) / 180));
  return board.mirrored ? out.multiply(new Matrix4().makeScale(-1, 1, 1)) : out;
}

/** Corners of what is shown of a board, in its own axes: lower left, lower right, upper right, upper left. */
export function cornersOf(board: Board, aspect: number): Place[] {
  const [left, lower, right, upper] = cropOf(board);
  const w = board.width;
  const [x0, x1, y0, y1] = [(left - 0.5) * w, (right - 0.5) * w, lower * w * aspect, upper * w * aspect];
  return [[x0, y0], [x1, y0], [x1, y1], [x0, y1]];
}

export function inBuild(board: Board, [x, y]: Place, metres: number): Vector3 {
  return new Vector3(x * metres, y * metres, 0).applyMatrix4(frameOf(board, metres));
}

/** A place of a view's plane in the build, in metres. */
export function onView(view: View, [u, v]: Place, metres = 1): Vector3 {
  const { right, up } = BASES[view];
  return right.clone().multiplyScalar(u * metres).addScaledVector(up, v * metres);
}

/** The board moved, then scaled about a place of its plane. */
export function scaledAbout(board: Board, [u, v]: Place, by: number): BoardValues {
  const at = atOf(board);
  return { width: board.width * by, at: [u + by * (at[0] - u), v + by * (at[1] - v)] };
}

/** A board's traced outline in its view, in the build's unit. */
export function outlineInPlane(board: Board): Place[][] {
  const scale = board.width / (board.outline?.width ?? board.width);
  return (board.outline?.rings ?? []).map((ring) => ring.map((p) => toPlane(board, [p[0]! * scale, p[1]! * scale])));
}
