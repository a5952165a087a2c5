import { create } from "zustand";

import type { Board, Guide, View } from "../api/client";
import { onView, scaledAbout, viewOf, type Place } from "../viewport/boards/plane";
import { change, tell } from "./editor";
import { addGuide, freeName, setBoard } from "./intents";
import { boardsOf, editor, METRES, unitOf, type Triple } from "./store";

/** A point clicked in a view: in the build and metres, what the view does not tell being not a number. */
export interface Asked {
  readonly at: Triple;
  readonly view: View | "perspective";
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
  /** the guide whose distances are told */
  readonly guide: string | null;
}

export const useAsking = create<State>()(() => ({ asking: null, board: null, guide: null }));

export const asking = { get: useAsking.getState, set: useAsking.setState, subscribe: useAsking.subscribe };

// points, board and guide belong to the build that is open
editor.subscribe((state, before) => {
  if (state.build?.id !== before.build?.id) asking.set({ asking: null, board: null, guide: null });
});

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

/** Whether a click in this view can be taken. */
export function takes(what: Asking, view: View | "perspective"): boolean {
  const board = what.kind === "guide" ? null : boardOf(what.board);
  if (board !== null && (what.kind === "scale" || what.points.length === 0)) return view === viewOf(board);
  return view !== "perspective";
}

function boardOf(id: string): Board | null {
  return boardsOf(editor.get()).find((b) => b.id === id) ?? null;
}

/** One click more. */
export async function answerPoint(point: Asked): Promise<void> {
  const what = asking.get().asking;
  if (what === null) return;
  if (!takes(what, point.view)) {
    tell("Click in the view the board stands in");
    return;
  }
  const points = [...what.points, point];
  if (what.kind === "scale") {
    if (points.length > 2) return;
    if (points.length === 2 && apart(points) < 1e-9) {
      tell("The two points are one; click the other end of the length");
      return;
    }
    ask({ ...what, points });
  } else if (what.kind === "line up") {
    ask(points.length < 2 ? { ...what, points } : null);
    if (points.length === 2) await lineUp(what.board, points[0]!.at, points[1]!.at);
  } else {
    const enough = points.length >= (what.shape === "line" ? 2 : 1);
    ask(enough ? null : { ...what, points });
    if (enough) await placeGuide(what, points);
  }
}

/** How far apart the first two points are, in metres; what a view does not tell counts as nothing. */
export function apart(points: readonly Asked[]): number {
  const [a, b] = points;
  if (a === undefined || b === undefined) return 0;
  return Math.hypot(...a.at.map((v, k) => (Number.isNaN(v - b.at[k]!) ? 0 : v - b.at[k]!)));
}

function tidy(value: number): number {
  return Number(value.toPrecision(9)) + 0;
}

/** The two points clicked are so far apart in reality, in the build's unit: the board takes that scale, the first point stays. */
export async function finishScale(real: number): Promise<void> {
  const what = asking.get().asking;
  const board = what?.kind === "scale" ? boardOf(what.board) : null;
  if (what?.kind !== "scale" || board === null || what.points.length < 2 || !(real > 0)) return;
  const metres = METRES[unitOf(editor.get())];
  const by = (real * metres) / apart(what.points);
  const view = viewOf(board);
  if (view === null) return;
  const values = scaledAbout(board, inPlane(view, what.points[0]!.at, metres), by);
  ask(null);
  await change("Scale board", setBoard(board.id, { width: tidy(values.width as number), at: (values.at as Place).map(tidy) as Place }));
}

/** A point of the build as across and up of a view, in the build's unit. */
function inPlane(view: View, at: Triple, metres: number): Place {
  const told = at.map((v) => (Number.isNaN(v) ? 0 : v));
  const dot = (d: { x: number; y: number; z: number }) => (d.x * told[0]! + d.y * told[1]! + d.z * told[2]!) / metres;
  return [dot(onView(view, [1, 0])), dot(onView(view, [0, 1]))];
}

/** Move a board so that one point of it comes to another; only by coordinates that both views tell. */
async function lineUp(id: string, from: Triple, to: Triple): Promise<void> {
  const board = boardOf(id);
  const view = board === null ? null : viewOf(board);
  if (board === null || view === null) return;
  const metres = METRES[unitOf(editor.get())];
  const by = from.map((v, k) => (Number.isNaN(v) || Number.isNaN(to[k]!) ? 0 : to[k]! - v)) as Triple;
  const [du, dv] = inPlane(view, by, metres);
  const [u, v] = board.at ?? [0, 0];
  await change("Line up board", setBoard(id, { at: [tidy(u! + du), tidy(v! + dv)] }));
}

async function placeGuide(what: Extract<Asking, { kind: "guide" }>, points: readonly Asked[]): Promise<void> {
  const metres = METRES[unitOf(editor.get())];
  const guides = editor.get().build?.document.guides ?? [];
  const place = (p: Asked) => p.at.map((v) => (Number.isNaN(v) ? 0 : Number((v / metres).toFixed(6)) + 0)) as Triple;
  const [first, second] = points.map(place);
  const word = what.shape === "level" ? "Level" : what.shape === "line" ? "Line" : "Point";
  const id = freeName("guide", guides.map((g) => g.id));
  const at: Triple = what.shape === "level" ? ([0, 1, 2].map((k) => ("xyz"[k] === what.axis ? first![k]! : 0)) as Triple) : first!;
  const guide: Guide = { id, name: freeName(word, guides.map((g) => g.name), " "), kind: what.shape, at, ...(what.shape === "line" ? { to: second as Triple } : {}), axis: what.axis };
  if (await change("Add guide", addGuide(guide))) asking.set({ guide: id });
}
