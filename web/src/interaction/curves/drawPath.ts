import type { View } from "../../api/client";
import { planeOf } from "../../model/drawing/plane";
import { addPart, freeName, setStep } from "../../model/document/intents";
import { type Corner, isClosed, pathAtHand, pathOf, type PathPoint, pointsOf, setPath, told, underWay } from "../../model/drawing/pathPoints";
import { keepsOut } from "../../model/document/parts";
import { editor, METRES, partOf, partsOf, type Triple, unitOf } from "../../model/store";
import { change, storedAs, tell } from "../../sync/build";
import { settleFields } from "../../sync/expression";
import { accept } from "../session/storing";

/** Go on with the path of the part at work, open or closed; else, or asked for afresh, begin one. */
export async function startPath(afresh = false, freehand = false): Promise<void> {
  await accept();
  const hand = afresh || freehand ? null : pathAtHand(editor.get());
  const kept = hand === null ? null : keepsOut(editor.get(), hand.part);
  if (kept !== null) {
    tell(kept);
    return;
  }
  editor.set({ drawing: null, pick: null, path: { part: hand?.part ?? null, step: hand?.step ?? null, plane: null, end: "last", picked: null, freehand, added: false, fixed: false } });
}

export function endPath(): void {
  editor.set({ path: null });
}

/** Store the points of the path under way; a new part where there is none yet. */
async function put(label: string, points: readonly PathPoint[], more: Record<string, unknown> = {}): Promise<boolean> {
  const { path } = editor.get();
  if (path === null) return false;
  // undone, or removed in another window, it begins anew
  if (path.part !== null && path.step !== null && pathOf(partOf(editor.get(), path.part)) !== null) return change(label, setStep(path.part, path.step, { points: told(points), ...more }));
  const parts = partsOf(editor.get());
  const id = freeName("part", parts.map((p) => p.id));
  const name = freeName("Path", parts.map((p) => p.name), " ");
  if (!(await change("New path", addPart({ name, id, steps: [{ id: "path1", kind: "path", points: told(points) }] })))) return false;
  editor.set({ current: storedAs(id), pick: null, openStep: null });
  setPath({ part: storedAs(id), step: "path1" });
  return true;
}

/** A closed stroke becomes a body: its outline with points as close as told, its thickness to be typed. */
export async function takeStroke(stroke: readonly Triple[], metres: number): Promise<void> {
  endPath();
  if (stroke.length < 6) {
    tell("Draw round the shape in one stroke, from its beginning back to it");
    return;
  }
  const parts = partsOf(editor.get());
  const id = freeName("part", parts.map((p) => p.id));
  const name = freeName("Shape", parts.map((p) => p.name), " ");
  const unit = METRES[unitOf(editor.get())];
  const low = [0, 1, 2].map((k) => Math.min(...stroke.map((p) => p[k] as number)));
  const size = Math.max(...[0, 1, 2].map((k) => Math.max(...stroke.map((p) => p[k] as number)) - (low[k] as number)), metres / unit);
  const near = Number((size / 24).toPrecision(2));
  const steps = [
    { id: "path1", kind: "path", closed: true, points: stroke },
    { id: "respace1", kind: "respace", spacing: near, label: "How close points stand" },
    { id: "extrude_curve1", kind: "extrude_curve", depth: Number((size / 5).toPrecision(2)) },
  ];
  if (await change("Shape drawn freehand", addPart({ name, id, steps }))) editor.set({ current: storedAs(id), pick: null, openStep: "extrude_curve1" });
}

let turn: Promise<unknown> = Promise.resolve();
let ahead = 0;

/** Points that were typed, one after the other in the order of their Enters, however long each takes to be read and stored. */
export function inTurn(add: () => Promise<unknown>): Promise<unknown> {
  ahead += 1;
  setPath({ fixed: true });
  const read = settleFields();
  turn = turn
    .then(() => read)
    .then(add)
    .catch(() => undefined)
    .finally(() => (ahead -= 1));
  return turn;
}

/** A click takes its turn among the points that are typed: what was typed before it comes first, what is typed after it waits. */
export function reserve(): { readonly before: Promise<unknown>; readonly release: () => void } {
  let free: () => void = () => undefined;
  const done = new Promise<void>((resolve) => (free = resolve));
  const before = turn;
  ahead += 1;
  turn = turn.then(() => done);
  setPath({}); // the fields are those of the next point at once
  return {
    before,
    release: () => {
      ahead -= 1;
      free();
    },
  };
}

/** Once all points typed and clicked so far are put: whatever ends the path comes after them. */
export function pointsPut(): Promise<unknown> {
  return turn;
}

/** How many points are on their way. */
export function waiting(): number {
  return ahead;
}

/** Draw in the plane of a view from now on. */
export function drawIn(view: View): void {
  setPath({ plane: { ...planeOf(view), origin: editor.get().path?.plane?.origin ?? [0, 0, 0] }, fixed: true });
}

/** One more point at the end that is drawn on; with a handle it is soft. */
export async function addPoint(at: Triple, handle: Triple | null = null): Promise<void> {
  const { path } = editor.get();
  if (path === null) return;
  const points = underWay(editor.get());
  const last = path.end === "last" ? points.at(-1) : points[0];
  if (last !== undefined && last.at.every((v, k) => Math.abs(v - (at[k] as number)) < 1e-9)) return;
  const back = handle?.map((v) => -v + 0) as Triple | undefined;
  const forth = path.end === "last" ? { in: back, out: handle } : { in: handle, out: back };
  const point: PathPoint = handle === null || back === undefined ? { at } : { at, corner: "soft", in: forth.in as Triple, out: forth.out as Triple };
  await put("Point of a path", path.end === "last" ? [...points, point] : [point, ...points]);
}

/** The next point so far from the last, in a direction of the plane told in degrees from its across. */
export async function addByLength(length: number, degrees: number): Promise<void> {
  const { path } = editor.get();
  const points = underWay(editor.get());
  const last = path?.end === "first" ? points[0] : points.at(-1);
  if (path === null || last === undefined) {
    tell("Click the first point in a view; lengths and angles go on from it");
    return;
  }
  const { view } = editor.get();
  const { across, up } = path.plane ?? planeOf(view === "perspective" ? null : view); // typed before the pointer was over a view
  const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  await addPoint(last.at.map((v, k) => Number((v + length * (c * (across[k] as number) + s * (up[k] as number))).toFixed(6)) + 0) as unknown as Triple);
}

export async function closePath(): Promise<void> {
  const points = underWay(editor.get());
  if (points.length < 3) {
    tell(`A closed path needs 3 points or more, and this has ${points.length}`);
    return;
  }
  if (await put("Close path", points, { closed: true })) endPath();
}

/** A point between two that are there. */
export async function insertPoint(after: number, at: Triple): Promise<void> {
  const points = underWay(editor.get());
  if (await put("Insert point", [...points.slice(0, after + 1), { at }, ...points.slice(after + 1)])) setPath({ picked: after + 1 });
}

export async function removePoint(index: number): Promise<void> {
  const points = underWay(editor.get());
  const closed = isClosed(pathOf(partOf(editor.get(), editor.get().path?.part ?? null)));
  if (points.length < (closed ? 4 : 2)) {
    tell(closed ? "A closed path keeps 3 points" : "A path keeps one point; remove the part to be rid of it");
    return;
  }
  setPath({ picked: null });
  await put("Take out point", points.filter((_, i) => i !== index));
}

export async function movePoint(index: number, at: Triple): Promise<void> {
  await put("Move point", underWay(editor.get()).map((p, i) => (i === index ? { ...p, at } : p)));
}

/** What the picked point is like; a corner without a size takes a tenth of the shorter side beside it. */
export async function setCorner(index: number, corner: Corner, size?: number): Promise<void> {
  const points = underWay(editor.get());
  await put("Corner of a path", points.map((p, i) => (i === index ? cornered(points, i, corner, size) : p)));
}

export function cornered(points: readonly PathPoint[], index: number, corner: Corner, size?: number): PathPoint {
  const p = points[index] as PathPoint;
  if (corner === "sharp" || corner === "soft") return { at: p.at, ...(corner === "soft" ? { corner, ...(p.in === undefined ? {} : { in: p.in }), ...(p.out === undefined ? {} : { out: p.out }) } : {}) };
  const beside = [points[index - 1], points[index + 1]].flatMap((q) => (q === undefined ? [] : [Math.hypot(...q.at.map((v, k) => v - (p.at[k] as number)))]));
  const held = size ?? p.size ?? Number((Math.min(...beside, 1 / METRES[unitOf(editor.get())]) / 5).toPrecision(1));
  return { at: p.at, corner, size: held };
}

/** All points as sharp corners again. */
export async function sharpenPath(part: string): Promise<void> {
  const step = pathOf(partOf(editor.get(), part));
  if (step?.id != null) await change("Sharp corners", setStep(part, step.id, { points: told(pointsOf(step).map((p) => ({ at: p.at }))) }));
}
