import type { Guide, View } from "../../api/client";
import { apart, ask, type Asked, asking, type Asking, boardOf, takes } from "../../model/session/asking";
import { addGuide, freeName, setBoard } from "../../model/document/intents";
import { onView, type Place, scaledAbout, viewOf } from "../../model/places/boardPlane";
import { editor, METRES, type Triple, unitOf } from "../../model/store";
import { change, tell } from "../../sync/build";

/** One click more. */
export async function answerPoint(point: Asked): Promise<void> {
  const what = asking.get().asking;
  if (what === null) return;
  if (!takes(what, point.view)) {
    tell("Click in the view the board stands in");
    return;
  }
  if (point.beside === true) {
    tell("That is beside the picture; click a point of it");
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

function tidy(value: number): number {
  return Number(value.toPrecision(9)) + 0;
}

/** The two points clicked are so far apart in reality, in the build's unit: the board takes that scale, the first point stays. */
export async function finishScale(real: number): Promise<void> {
  const what = asking.get().asking;
  const board = what?.kind === "scale" ? boardOf(what.board) : null;
  if (what?.kind !== "scale" || board === null || what.points.length < 2) return;
  if (!(real > 0)) {
    tell("A real length is above 0");
    return;
  }
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
