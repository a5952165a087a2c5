import type { KindInfo } from "../../api/client";
import { ask, asking } from "../../model/session/asking";
import { cancelDrawing } from "../../model/drawing/plane";
import { setPath } from "../../model/drawing/pathPoints";
import { unedited } from "../../model/steps/freshForm";
import { drawnForms } from "../../model/steps/kinds";
import { changeKind, setPick } from "../../model/picks/picks";
import { prefs, setShown, setSnap } from "../../model/prefs";
import { MEASURES } from "../../model/brief/sizes";
import { chosenOf } from "../../model/document/members";
import { useAdding } from "../../model/session/adding";
import { useStock } from "../../model/session/shelf";
import { STATIONS } from "../../model/views";
import { boardsOf, editor, partOf, type PathWork } from "../../model/store";
import { tell } from "../../sync/build";
import { settleFields } from "../../sync/expression";
import { lookOf } from "../../tools/manifest";
import { suggestNudge } from "../brief/driveSizes";
import { finishDrawing, startDrawing } from "../curves/drawForm";
import { followEdges } from "../curves/followEdges";
import { endPath, pointsPut, removePoint, startPath } from "../curves/drawPath";
import { deletePick, startWord } from "./startKind";
import { pickAllPoints } from "../gestures/shape";
import { measurePick } from "../brief/measurePick";
import { nudge } from "./nudge";
import { PICK_COMMANDS, runPick } from "../picks/pickRules";
import { copyBeside } from "../parts/copyParts";
import { putPart, putPivot } from "../parts/placing";
import { repeatLast } from "./repeatStep";
import { armStep, armTransform } from "../session/arming";
import { accept, cancel } from "../session/storing";
import { copyOn, faceOntoFace, groupMembers, placeByHand } from "../parts/wholes";
import { undoAtWork } from "../session/strokes";
import { closeTopmost } from "../topmost";
import * as views from "../viewing";

/** What begins a number: never a shortcut while a tool is at work. */
export const TYPED = /^[0-9.,+\-*/]$/;

export type Group = "brief" | "pick" | "work" | "view" | "switch" | "place" | "draw" | "build";

export interface Command {
  readonly id: string;
  readonly title: string;
  readonly group: Group;
  /** a key, or `Ctrl+key`, `Shift+key`; shown as it is */
  readonly keys: readonly string[];
  readonly run: () => unknown;
}

function pickAll(): void {
  if (pickAllPoints()) return;
  const { current, meshes, pickKind } = editor.get();
  const shape = current === null ? undefined : meshes[current]?.mesh.cage.shape;
  if (current === null || shape === undefined) return;
  const count = pickKind === "faces" ? shape.faceCount : pickKind === "vertices" ? shape.vertexCount : shape.edges.length / 2;
  setPick(current, pickKind, Array.from({ length: count }, (_, i) => i));
}

/** Move what is picked: freely, or along its edges while that constraint is on. */
function move(): Promise<void> {
  const { pick } = editor.get();
  const slides = prefs.get().alongEdges && pick !== null && pick.kind !== "faces";
  return slides ? startWord("slide") : armTransform("translate");
}

async function sizeOfForm(): Promise<void> {
  const part = partOf(editor.get(), editor.get().current);
  const form = part === null ? null : unedited(part);
  if (part?.id != null && form?.id != null) await armStep(part.id, form.id);
}

/** For the board of the view at work that has an outline, else the first that has one. */
async function suggestHere(): Promise<void> {
  const boards = boardsOf(editor.get()).filter((b) => b.outline);
  const board = boards.find((b) => b.view === editor.get().view || (b.view === undefined && editor.get().view === "front")) ?? boards[0];
  if (board === undefined) tell("Take the outline of a board first");
  else await suggestNudge(board.id);
}

function lock(axis: 0 | 1 | 2): void {
  editor.set({ axisLock: editor.get().axisLock === axis ? null : axis });
}

const COPIES = [
  ["plain", "Copy the part, with a recipe of its own"],
  ["linked", "Copy the part, linked: it follows this one"],
  ["x", "Mirror the part as a linked copy across x"],
  ["y", "Mirror the part as a linked copy across y"],
  ["z", "Mirror the part as a linked copy across z"],
] as const;

const c = (group: Group, id: string, title: string, keys: readonly string[], run: Command["run"]): Command => ({ id, title, group, keys, run });

/** Kinds of step with a key of their own, and a hand-drawn form for each form: as many as the core has. */
function ofKinds(kinds: readonly KindInfo[]): Command[] {
  const keyed = kinds.filter((k) => lookOf(k.word).key !== undefined);
  return [
    ...keyed.map((k) => c("work", k.word, lookOf(k.word).title ?? k.title, [lookOf(k.word).key as string], () => startWord(k.word))),
    ...drawnForms(kinds).map((k) => c("draw", `draw-${k.word}`, `Draw a ${k.title.toLowerCase()} by hand`, [], () => startDrawing(k.word))),
  ];
}

let told: { readonly kinds: readonly KindInfo[]; readonly commands: readonly Command[] } = { kinds: [], commands: [] };

/** Every command there is, with its key. Shown in the help sheet and found by search; no digit, sign or point may be a key. */
export function commands(): readonly Command[] {
  const { kinds } = editor.get();
  if (told.kinds !== kinds || told.commands.length === 0) told = { kinds, commands: [...STANDING.slice(0, WORK), ...ofKinds(kinds), ...STANDING.slice(WORK)] };
  return told.commands;
}

/** Commands that do not depend on which kinds of step there are. */
const STANDING: readonly Command[] = [
  c("pick", "vertices", "Pick vertices", ["V"], () => pickAs("vertices")),
  c("pick", "edges", "Pick edges", ["E"], () => pickAs("edges")),
  c("pick", "faces", "Pick faces", ["F"], () => pickAs("faces")),
  c("pick", "auto", "Pick whichever is nearest", ["Shift+V"], () => editor.set({ auto: !editor.get().auto })),
  c("pick", "all", "Pick everything of the part", ["Ctrl+A"], pickAll),
  ...PICK_COMMANDS.map((p) => c("pick", p.id, `Pick: ${p.title}`, p.keys, () => runPick(p))),
  c("pick", "box", "Drag a box to pick", [], () => prefs.set({ sweep: "box" })),
  c("pick", "lasso", "Drag a lasso to pick", [], () => prefs.set({ sweep: "lasso" })),
  c("pick", "paint", "Paint to pick", [], () => prefs.set({ sweep: "paint" })),
  c("pick", "inside", "Take what lies inside, or all that is touched", ["Z"], () => prefs.set({ inside: !prefs.get().inside })),
  c("pick", "through", "Pick through, or only what is seen", ["Shift+Z"], views.toggleThrough),
  c("pick", "face-dots", "Dots in the middle of faces", [], () => prefs.set({ faceDots: !prefs.get().faceDots })),
  c("work", "move", "Move", ["M"], move),
  c("work", "turn", "Turn", ["T"], () => armTransform("rotate")),
  c("work", "scale", "Scale", ["L"], () => armTransform("scale")),
  c("work", "form-size", "Size of the base form, by its end bars", ["Shift+L"], sizeOfForm),
  c("work", "delete", "Delete what is picked", ["Delete", "Backspace"], deleteHere),
  c("work", "edge-curve", "Curve along the picked edges", [], () => followEdges("curve")),
  c("work", "piping", "Piping along the picked edges", [], () => followEdges("piping")),
  c("draw", "path", "Draw a path: click points, drag for soft ones", ["Shift+N"], () => startPath()),
  c("draw", "freehand", "Draw a shape freehand", [], () => startPath(true, true)),
  c("work", "repeat", "Last step again, on the present pick", ["Q"], repeatLast),
  c("work", "accept", "Accept the tool's values", ["Enter"], take),
  c("work", "cancel", "Take the tool's values back; lay it down; unpick", ["Escape"], escape),
  c("work", "nudge-left", "Nudge to the left by the snap step", ["ArrowLeft"], () => nudge(-1, 0)),
  c("work", "nudge-right", "Nudge to the right", ["ArrowRight"], () => nudge(1, 0)),
  c("work", "nudge-up", "Nudge up", ["ArrowUp"], () => nudge(0, 1)),
  c("work", "nudge-down", "Nudge down", ["ArrowDown"], () => nudge(0, -1)),
  ...MEASURES.map((m) => c("brief", `measure-${m.value}`, `Measure ${m.label} of the pick`, [], () => measurePick(m.value))),
  c("brief", "suggest", "Suggest the nudge that fits the board of this view best", [], suggestHere),
  c("brief", "guide-point", "Guide: a point", [], () => ask({ kind: "guide", shape: "point", axis: "y", points: [] })),
  c("brief", "guide-line", "Guide: a line", [], () => ask({ kind: "guide", shape: "line", axis: "y", points: [] })),
  c("brief", "guide-level", "Guide: a height", [], () => ask({ kind: "guide", shape: "level", axis: "y", points: [] })),
  c("switch", "snap", "Snap on or off", ["Shift+M"], () => setSnap({ on: !prefs.get().snap.on })),
  c("switch", "soft", "Soft selection on or off", ["Shift+S"], () => prefs.set({ soft: { ...prefs.get().soft, on: !prefs.get().soft.on } })),
  c("switch", "along-edges", "Move along edges only", ["Shift+E"], () => prefs.set({ alongEdges: !prefs.get().alongEdges })),
  c("switch", "hold", "Hold points to the middle plane", ["Shift+H"], () => prefs.set({ hold: prefs.get().hold === "none" ? "x" : "none" })),
  c("switch", "lock-x", "Drag along x alone", ["Shift+X"], () => lock(0)),
  c("switch", "lock-y", "Drag along y alone", ["Shift+Y"], () => lock(1)),
  c("switch", "lock-z", "Drag along z alone", ["Shift+D"], () => lock(2)),
  c("switch", "pivot", "Move the part's pivot", ["Shift+P"], () => editor.set({ pivoting: !editor.get().pivoting, placing: false })),
  c("place", "placing", "Place whole parts by hand", ["Shift+T"], () => placeByHand(!editor.get().placing)),
  c("place", "face-onto-face", "Last picked face onto this one", [], faceOntoFace),
  c("place", "stock", "Put something in from stock", ["Shift+B"], () => useStock.setState({ open: true })),
  c("place", "copy-on", "One more copy, as far on as the last", ["Shift+R"], copyOn),
  c("view", "frame", "Show everything", ["A"], views.frame),
  c("view", "frame-pick", "Show what is picked", ["Shift+A"], views.framePick),
  c("view", "face", "Look straight at what is picked", ["Shift+F"], views.facePick),
  c("view", "maximise", "The view under the pointer alone, or the sheet", ["O"], views.maximise),
  c("view", "sheet", "The sheet: four views", [], () => views.setLayout("sheet")),
  c("view", "one", "One view", [], () => views.setLayout("one")),
  c("view", "swap", "The opposite side in the view under the pointer", ["Shift+O"], () => views.swapSide()),
  c("view", "perspective", "3D view", ["P"], () => views.look("perspective")),
  c("view", "front", "Front view", ["J"], () => views.look("front")),
  c("view", "right", "Right view", ["R"], () => views.look("right")),
  c("view", "top", "Top view", ["U"], () => views.look("top")),
  c("view", "cage", "Show or hide the cage over the smooth surface", ["C"], views.toggleCage),
  c("view", "ghost", "Ghost shading in the view under the pointer", ["Shift+G"], () => views.shade("ghost")),
  c("view", "wire", "Wire in the view under the pointer", ["Shift+W"], () => views.shade("wire")),
  c("view", "flat", "Flat shading in the view under the pointer", [], () => views.shade("flat")),
  c("view", "section-x", "Cut the views open across x", [], () => views.cutOpen(0)),
  c("view", "section-y", "Cut the views open across y", [], () => views.cutOpen(1)),
  c("view", "section-z", "Cut the views open across z", ["Shift+C"], () => views.cutOpen(2)),
  c("view", "section-off", "Close the section", [], () => editor.set({ section: null })),
  c("view", "isolate", "The current part alone, or all", ["Shift+I"], views.isolate),
  c("view", "grid", "Show or hide the grid", [], () => setShown({ grid: !prefs.get().shown.grid })),
  c("view", "floor", "Show or hide floor and shadow", [], () => setShown({ floor: !prefs.get().shown.floor })),
  c("view", "origin", "Show or hide the origin's axes", [], () => setShown({ origin: !prefs.get().shown.origin })),
  c("view", "axes", "Show or hide the axis letters", [], () => setShown({ axes: !prefs.get().shown.axes })),
  c("view", "lines", "Show or hide projection lines", [], () => setShown({ lines: !prefs.get().shown.lines })),
  c("place", "to-origin", "Part to the origin", [], () => putPart("origin")),
  c("place", "to-floor", "Stand the part on the floor", [], () => putPart("floor")),
  c("place", "centre-x", "Centre the part on x", [], () => putPart("x")),
  c("place", "centre-y", "Centre the part on y", [], () => putPart("y")),
  c("place", "centre-z", "Centre the part on z", [], () => putPart("z")),
  c("place", "pivot-pick", "Pivot to the pick's centre", [], () => putPivot("pick centre")),
  c("place", "pivot-pick-base", "Pivot to the pick's base", [], () => putPivot("pick base")),
  c("place", "pivot-part", "Pivot to the middle of the part's bounds", [], () => putPivot("part centre")),
  c("place", "pivot-part-base", "Pivot to the base of the part's bounds", [], () => putPivot("part base")),
  c("place", "pivot-origin", "Pivot to the part's origin", [], () => putPivot("origin")),
  c("place", "new-part", "A new part", ["Insert"], () => useAdding.setState({ open: true })),
  ...COPIES.map(([how, title]) => c("place", `copy-${how}`, title, [], () => withChosen((keys) => copyBeside(keys, how)))),
  c("place", "keep-in-stock", "Keep the part or group in stock", [], () => withChosen((keys) => useStock.setState({ keeping: keys[keys.length - 1] as string }))),
  c("place", "group", "Group what is chosen", [], () => withChosen(groupMembers)),
  ...STATIONS.map((s) => c("build", `station-${s.id}`, `Station ${s.title}`, [], () => editor.set({ station: s.id }))),
  c("build", "station-next", "The next station", ["PageDown"], () => turnTo(1)),
  c("build", "station-before", "The station before", ["PageUp"], () => turnTo(-1)),
  c("build", "undo", "Undo", ["Ctrl+Z"], () => undoAtWork("undo")),
  c("build", "redo", "Redo", ["Ctrl+Shift+Z", "Ctrl+Y"], () => undoAtWork("redo")),
];

/** Where the kinds of step stand among them. */
const WORK = STANDING.findIndex((command) => command.group === "work");

/** Does something with what is chosen in the list, else the current part. */
function withChosen(deed: (keys: readonly string[]) => unknown): unknown {
  const keys = chosenOf(editor.get());
  return keys.length > 0 ? deed(keys) : tell("Make a part first");
}

function turnTo(by: 1 | -1): void {
  const at = STATIONS.findIndex((s) => s.id === editor.get().station);
  const to = STATIONS[at + by];
  if (to !== undefined) editor.set({ station: to.id });
}

function pickAs(kind: "vertices" | "edges" | "faces"): void {
  editor.set({ auto: false });
  changeKind(kind);
}

async function take(): Promise<void> {
  await settleFields(); // a number typed just before is meant
  if (editor.get().path !== null) {
    await pointsPut();
    endPath();
  } else await (editor.get().drawing !== null ? finishDrawing() : accept());
}

/** The picked point of a path is let go first, then the path. */
async function leavePath(path: PathWork): Promise<void> {
  if (path.picked !== null) {
    setPath({ picked: null });
    return;
  }
  await pointsPut();
  endPath();
}

async function deleteHere(): Promise<void> {
  const { path } = editor.get();
  if (path === null) return deletePick();
  if (path.picked !== null) await removePoint(path.picked);
  else tell("Click a point of the path to pick it; Delete takes it out");
}

function escape(): void | Promise<void> {
  if (closeTopmost()) return;
  const { session, pick, drawing, path, gridPick, pivoting, placing } = editor.get();
  if (asking.get().asking !== null) ask(null);
  else if (path !== null) return leavePath(path);
  else if (drawing !== null) cancelDrawing();
  else if (session?.tool === "lattice" && gridPick.length > 0 && !session.dragging) editor.set({ gridPick: [] });
  else if (session !== null) cancel();
  else if (pivoting) editor.set({ pivoting: false });
  else if (placing) void placeByHand(false);
  else if (pick !== null) setPick(pick.part, pick.kind, []);
}

/** The keys of a command: the person's own in place of the first, where there is one. */
export function keysOf(command: Command): readonly string[] {
  const own = prefs.get().keys[command.id];
  return own === undefined ? command.keys : own === "" ? [] : [own];
}

/** A pressed key as it is written in the table. */
export function keyName(event: { key: string; ctrlKey: boolean; metaKey: boolean; shiftKey: boolean }): string {
  const letter = event.key.length === 1 && /[a-z]/i.test(event.key);
  const key = letter ? event.key.toUpperCase() : event.key;
  return (event.ctrlKey || event.metaKey ? "Ctrl+" : "") + (event.shiftKey && letter ? "Shift+" : "") + key;
}

export function commandFor(event: KeyboardEvent): Command | undefined {
  const name = keyName(event);
  return commands().find((command) => keysOf(command).includes(name));
}

export function commandOf(id: string): Command | undefined {
  return commands().find((command) => command.id === id);
}

export function keyOf(id: string): string {
  const command = commandOf(id);
  return command === undefined ? "" : (keysOf(command)[0] ?? "").replaceAll("+", " ");
}
