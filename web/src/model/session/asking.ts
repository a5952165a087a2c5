import { create } from "zustand";

import type { Board, Guide, View } from "../../api/client";
import { viewOf } from "../places/boardPlane";
import { boardsOf, editor, type Triple, withEachBuild } from "../store";

/** A point clicked in a view: in the build and metres, what the view does not tell being not a number. */
export interface Asked {
  readonly at: Triple;
  readonly view: View | "perspective";
  /** a point of the picture was asked for, and this is none */
  readonly beside?: boolean;
}

/** Points that are being asked for, one click after the other. */
export type Asking =
  | { readonly kind: "scale"; readonly board: string; readonly points: readonly Asked[] }
  | { readonly kind: "line up"; readonly board: string; readonly points: readonly Asked[] }
  | { readonly kind: "guide"; readonly shape: Guide["kind"]; readonly axis: "x" | "y" | "z"; readonly points: readonly Asked[] };

interface State {
  readonly asking: Asking | null;
  /** the board the Brief panel is about */
  readonly board: string | null;
  /** whether that panel shows where boards stand, by numbers */
  readonly details: boolean;
  /** the guide whose distances are told */
  readonly guide: string | null;
}

export const useAsking = create<State>()(() => ({ asking: null, board: null, details: false, guide: null }));

export const asking = { get: useAsking.getState, set: useAsking.setState, subscribe: useAsking.subscribe };

// what is asked about a board goes with it
editor.subscribe((state) => {
  const what = asking.get().asking;
  if (what !== null && what.kind !== "guide" && state.build !== null && boardOf(what.board) === null) asking.set({ asking: null });
});

withEachBuild(() => asking.set({ asking: null, board: null, details: false, guide: null }));

export function ask(what: Asking | null): void {
  asking.set({ asking: what });
}

/** What the next click is for. */
export function askText(what: Asking): string {
  const n = what.points.length;
  if (what.kind === "scale") return ["Click one end of a length you know.", "Click its other end.", "Type its real length."][Math.min(n, 2)] as string;
  if (what.kind === "line up") return n === 0 ? "Click a point of the board." : "Click where that point belongs: on another board, a vertex or a guide, in any view.";
  if (what.shape === "line") return n === 0 ? "Click one point of the line." : "Click another point of the line.";
  return what.shape === "point" ? "Click where the point is; snapping takes vertices and boards." : `Click where the level across ${what.axis} is.`;
}

/** Whether what is asked for is a number by now, not a point. */
export function wantsNumber(what: Asking | null): boolean {
  return what?.kind === "scale" && what.points.length === 2;
}

/** Whether a click in this view can be taken. */
export function takes(what: Asking, view: View | "perspective"): boolean {
  const board = what.kind === "guide" ? null : boardOf(what.board);
  if (board !== null && (what.kind === "scale" || what.points.length === 0)) return view === viewOf(board);
  return view !== "perspective";
}

export function boardOf(id: string): Board | null {
  return boardsOf(editor.get()).find((b) => b.id === id) ?? null;
}

/** How far apart the first two points are, in metres; what a view does not tell counts as nothing. */
export function apart(points: readonly Asked[]): number {
  const [a, b] = points;
  if (a === undefined || b === undefined) return 0;
  return Math.hypot(...a.at.map((v, k) => (Number.isNaN(v - b.at[k]!) ? 0 : v - b.at[k]!)));
}

