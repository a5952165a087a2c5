import type { MeshData } from "../api/packets";
import { bentAlong, latticeRound, upright } from "../model/shaping/latticeBox";
import type { Picked, Triple, Values } from "../model/store";
import { leastWeld } from "../model/steps/leastWeld";
import { ArrayTool } from "./array";
import { BendTool } from "./bend";
import { BrushTool } from "./brush";
import { CutTool } from "./cut";
import { EndsTool } from "./ends";
import { ExtrudeTool } from "./extrude";
import { LatticeTool } from "./lattice";
import { LoopTool } from "./loops";
import { NoHandle } from "./none";
import { OtherPartTool } from "./otherPart";
import { SliceTool } from "./slice";
import { SlideTool } from "./slide";
import type { Tool } from "./Tool";
import { TransformTool } from "./transform";

/** How a kind of step looks and is reached here. Nothing of it has to be given: a kind that is not listed has the knob of all
 * kinds, stands behind the others and is found by its name. */
export interface Look {
  /** its tool, where that is not the knob */
  readonly tool?: Tool;
  /** a tool that points out the value which is missing at first, always or while nothing that fits is picked */
  readonly points?: { readonly tool: Tool; readonly value: string; readonly when: "always" | "unpicked"; readonly sentence: string };
  /** its command's key and title */
  readonly key?: string;
  readonly title?: string;
  /** `first` stands in the tray by itself, `own` is reached by a place of its own, all others by their rank */
  readonly place?: "first" | "own";
  /** what becomes of the other parts a step takes: they are drawn see-through, or not at all */
  readonly others?: (values: Values) => "ghosted" | "hidden";
  /** it leaves holes on both sides, which its card offers to close */
  readonly tears?: boolean;
  /** it makes faces of its own beside those above it */
  readonly adds?: boolean;
  /** sets of values that its card offers to give and to take out again */
  readonly gives?: readonly string[];
  /** values that what is picked suggests */
  readonly begins?: (mesh: MeshData, pick: Picked) => Values;
  /** what is told while it is at work */
  readonly hint?: string;
  /** it needs to know how far reaches what it acts on, and what it begins with then */
  readonly boxed?: boolean;
  readonly fitted?: (box: readonly [Triple, Triple]) => Values;
  /** other parts chosen with the one at work follow it, and whether they count for how far it reaches */
  readonly leads?: boolean;
  readonly spans?: boolean;
  /** its card offers to take it up by hand again */
  readonly byHand?: string;
}

const none = new NoHandle();
const slice = new SliceTool();
const cut = new CutTool();
const otherPart = new OtherPartTool();
const brush = new BrushTool();
const ends = new EndsTool();
const ENDS = "Drag its ends";
const HINT = "Drag the corner of the end that moves, or type. Enter stores it and is done, Esc takes it back.";

/** In the order of their rank in the tray. */
export const MANIFEST: Readonly<Record<string, Look>> = {
  extrude: { tool: new ExtrudeTool(), key: "X", place: "first", hint: "Drag the collar or type a depth; Enter stores it and is done, Esc takes it back." },
  transform: { tool: new TransformTool(), place: "first", hint: "Drag arrows, patches, arcs, bars; collars extrude, inset." },
  inset: { key: "I" },
  bevel: { key: "B" },
  insert_loop: {
    key: "D",
    points: { tool: new LoopTool(), value: "through", when: "unpicked", sentence: "Point at an edge, click to insert; Shift is free of round shares. Esc ends." },
    hint: "Drag the knob to shift the loops, or type. Enter stores it and is done, Esc takes it back.",
  },
  ridge: {},
  bridge: {},
  connect: {},
  cut: {
    key: "W",
    title: "Cut: click points on edges and vertices",
    tool: cut,
    points: { tool: cut, value: "path", when: "always", sentence: "Click vertices and edges one after the other, each two on one face. Enter accepts." },
  },
  slice: {
    key: "Y",
    title: "Slice: draw a line",
    tool: slice,
    points: { tool: slice, value: "point", when: "always", sentence: "Draw a line over a view: in steps of 15°, freely with Shift or onto corners. Drag it to move the plane." },
  },
  slide: { tool: new SlideTool(), hint: "Drag the knob along the dashed edge, or type a share from −1 to 1." },
  extrude_edges: {},
  dissolve: {},
  weld: { begins: leastWeld },
  boolean: {
    points: { tool: otherPart, value: "parts", when: "always", sentence: "Click the other part, or choose it. Enter accepts." },
    others: (values) => (values["operation"] === "unite" ? "hidden" : "ghosted"),
  },
  join: {
    points: { tool: otherPart, value: "parts", when: "always", sentence: "Click the parts that come in, or choose them. Enter accepts." },
    others: () => "hidden",
  },
  extrude_curve: { title: "Extrude" },
  lathe: {},
  sweep: {},
  thicken: {},
  offset: {},
  round_corner: {},
  combine: {
    points: { tool: otherPart, value: "parts", when: "always", sentence: "Click the other outline, or choose it. Enter accepts." },
  },
  respace: {},
  smooth_curve: {},
  split_off: { tears: true },
  brush: {
    key: "Shift+K",
    title: "Brush: strokes over the surface",
    tool: brush,
    points: { tool: brush, value: "strokes", when: "always", sentence: "Drag over the part. Ctrl-drag: size sideways, strength upwards. Esc ends." },
    byHand: "Brush on",
  },
  lattice: {
    key: "Shift+J",
    title: "Lattice: control points round the part or the pick",
    tool: new LatticeTool(),
    boxed: true,
    fitted: latticeRound,
    leads: true,
    spans: true,
    byHand: "Move its points",
    hint: "Click or sweep control points, then drag the handles. Enter ends it.",
  },
  bend: { key: "Shift+U", title: "Bend the part along an axis", tool: new BendTool(), boxed: true, fitted: bentAlong, leads: true, byHand: ENDS, hint: "Drag an end of the bent line, or type the angle; marks on the straight line tell its range. Enter stores it and is done." },
  twist: { tool: ends, boxed: true, fitted: upright, leads: true, byHand: ENDS, hint: HINT },
  taper: { tool: ends, boxed: true, fitted: upright, leads: true, byHand: ENDS, hint: HINT },
  stretch: { tool: ends, boxed: true, fitted: upright, leads: true, byHand: ENDS, hint: HINT },
  noise: {},
  bead: {
    points: { tool: otherPart, value: "along", when: "unpicked", sentence: "Click the curve it runs along, or pick edges first." },
    adds: true,
  },
  follow: { points: { tool: otherPart, value: "part", when: "always", sentence: "Click the part whose bend, lattice or twist is to be followed." } },
  array: { tool: new ArrayTool(), gives: ["jitter"], hint: "Drag the knob for their number, the last copy to where it belongs, or type. Enter stores it and is done." },
  unwrap: { tool: none, hint: "Enter stores it. Pieces are cut at seams; station Wrap shows them." },
  project: { tool: none, hint: "Give a size for a pattern that repeats in world size; left as it is, all is fitted to the square. Enter stores it." },
  pack: { tool: none, hint: "Type pixels to the centimetre; left as it is, the largest density that fits. Enter stores it." },
  straighten_uv: {},
  uv_transform: { tool: none, hint: "Drag pieces on the square, or type; Enter stores it and is done, Esc takes it back." },
  relief: { hint: "Drag the knob or type a height; Enter stores it and is done, Esc takes it back." },
  delete: { place: "own" },
  subdivision: { place: "own" },
  shell: { adds: true },
};

const NONE: Look = {};
const RANKS = Object.keys(MANIFEST);

export function lookOf(word: string): Look {
  return MANIFEST[word] ?? NONE;
}

/** What is reached for most stands first. */
export function rankOf(word: string): number {
  const at = RANKS.indexOf(word);
  return at < 0 ? RANKS.length : at;
}
