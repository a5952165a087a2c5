import { create } from "zustand";
import { subscribeWithSelector } from "zustand/middleware";

import type { Board, Build, FindingInfo, Group, KindInfo, Part, PartStatus, Unit, View } from "../api/client";
import type { PartMesh } from "../api/packets";

export type PickKind = "faces" | "edges" | "vertices";
export type ViewName = "perspective" | View;
export type Station = "brief" | "form" | "shape" | "handover";
/** the word of a step kind, worked by handles and fields */
export type ToolName = string;
export type Value = number | string | boolean | readonly number[] | readonly string[] | readonly Record<string, unknown>[] | Readonly<Record<string, unknown>>;
export type Values = Record<string, Value>;
export type TransformField = "translate" | "rotate" | "scale";
export type Triple = [number, number, number];

export interface Picked {
  readonly part: string;
  readonly kind: PickKind;
  /** element numbers in the cage of the part, ascending */
  readonly elements: readonly number[];
  /** the stable ids of the same elements, in the same order */
  readonly ids: readonly string[];
}

/** A tool that is armed: trial values of one step, stored once they are released, typed or accepted. */
export interface ToolSession {
  readonly tool: ToolName;
  readonly part: string;
  readonly pickKind: PickKind;
  readonly pickIds: readonly string[];
  /** the parameter that takes the pick; nothing for kinds that act on the whole part */
  readonly takes: "pick" | "through" | "nothing";
  /** where the handle may stand, in the part's axes and metres: it takes the one nearest to the eye */
  readonly spots: readonly Triple[];
  /** what transform turns and scales about, in the part's axes and metres, before anything moved */
  readonly pivot: Triple;
  /** columns of the axes that its values are told in, in the part's axes */
  readonly axes: readonly [Triple, Triple, Triple];
  /** the corners of what it acts on, as the core tells them, in the part's axes and metres; null for tools that need none */
  readonly box: readonly [Triple, Triple] | null;
  /** further parts that are to follow what it does to space, by id */
  readonly riders: readonly string[];
  readonly ridesAs: "rigid" | "deformed";
  readonly stepId: string;
  readonly values: Values;
  /** what the tool began with */
  readonly initial: Values;
  /** the value that pointing has yet to give; null for tools that begin with values */
  readonly asks: string | null;
  /** a tool that begins with a proposal is stored as it stands; others only once touched */
  readonly proposes: boolean;
  /** values as stored, null while nothing is */
  readonly stored: Values | null;
  /** which triple the transform fields show */
  readonly field: TransformField;
  readonly dragging: boolean;
  /** what a click would add to the values; it does not count yet */
  readonly hover: Values | null;
  /** it is wanted though it takes long */
  readonly sure?: boolean;
}

/** A plane that cuts the views open: what lies beyond it along its axis is not drawn. */
export interface Section {
  readonly axis: 0 | 1 | 2;
  /** metres along the axis */
  readonly at: number;
  /** whether the lower side is taken away instead */
  readonly below: boolean;
}

/** A form being drawn: first its footprint in a plane, then its height along the plane's normal. */
export interface Drawing {
  readonly form: string;
  readonly stage: "wait" | "footprint" | "height";
  /** the plane: its origin and the directions across, up and out of it, in the build and metres */
  readonly plane: { readonly origin: Triple; readonly across: Triple; readonly up: Triple; readonly out: Triple } | null;
  /** the view whose plane it is, null for a picked face */
  readonly view: View | null;
  /** corners of the footprint in the plane, metres */
  readonly from: readonly [number, number];
  readonly to: readonly [number, number];
  readonly height: number;
}

/** The room of a jointed part or group; lengths in the build's unit. */
export interface Clear {
  readonly key: string;
  readonly revision: number;
  readonly least: number;
  readonly at: number;
  /** first contacts on the way to either end of the range, from where the joint stood when it was asked */
  readonly touches: readonly [number | null, number | null];
  readonly rests: boolean;
  readonly where: Triple;
}

/** How one part or group stands to another; lengths in the build's unit. */
export interface Beside {
  readonly gap: number;
  readonly ends: readonly [Triple, Triple];
  readonly overlap: number | null;
  readonly low: Triple | null;
  readonly high: Triple | null;
  readonly revision: number;
}

/** A question with two answers. */
export interface Question {
  readonly title: string;
  readonly message: string;
  readonly yes: string;
  readonly no: string;
  readonly answer: (yes: boolean) => void;
}

export interface SaveState {
  readonly kind: "saved" | "saving" | "waiting";
  readonly message: string | null;
}

/** A path under way: drawn on from one of its ends. Its points are those of the document. */
export interface PathWork {
  /** null until its first point is stored */
  readonly part: string | null;
  readonly step: string | null;
  /** where points are put; told by the view that is pressed first */
  readonly plane: Drawing["plane"];
  readonly end: "last" | "first";
  /** a point of it that is picked */
  readonly picked: number | null;
  /** a closed stroke is drawn in one go */
  readonly freehand: boolean;
  /** whether points were added since it was taken up: from then on a click on its other end closes it */
  readonly added: boolean;
}

export interface EditorState {
  kinds: KindInfo[];
  build: Build | null;
  meshes: Record<string, { key: string; mesh: PartMesh }>;
  current: string | null;
  /** parts and groups chosen in the list, as `p:` or `g:` and their ids; the last one leads. Empty for the current part alone */
  chosen: readonly string[];
  pickKind: PickKind;
  pick: Picked | null;
  /** what lights up while a step of the recipe is pointed at */
  /** what inspection found in each part, for the mesh its key names; asked for after the answer to a change */
  findings: Record<string, { readonly key: string; readonly found: readonly FindingInfo[] }>;
  /** distances that inspection goes by, in metres */
  limits: { readonly doubled: number; readonly thin: number };
  /** elements of a part that are lit up, and where stood what a step had picked and finds no more, in the part's axes and metres */
  lit: { part: string; kind: PickKind; elements: readonly number[]; lost?: readonly (readonly Triple[])[] } | null;
  session: ToolSession | null;
  lastValues: Record<ToolName, Values>;
  /** the pick before this one */
  lastPick: Picked | null;
  /** id of what was clicked last */
  clicked: string | null;
  /** the step whose pick is being made anew, and the step the working mark stood below before */
  pickingAgain: { readonly part: string; readonly step: string; readonly mark: string | null } | null;
  preview: PartMesh | null;
  /** a joint that is being swung, of a part or group by its key: it is stored where the hand lets go */
  swung: { readonly key: string; readonly now: number } | null;
  /** parts and groups that are being moved as a whole, with where they would stand */
  moved: Readonly<Record<string, Part["placement"]>> | null;
  /** parts that follow what is being moved, as they would be */
  trailing: Readonly<Record<string, PartMesh["others"][string]>> | null;
  /** the move drags a copy out: what it is a copy of stays */
  copying: boolean;
  /** whether a place typed for a part sends a copy there */
  typesCopies: boolean;
  /** the last copy that was dragged out: what was added to each coordinate of its place, for the next one */
  lastCopy: { readonly by: Triple } | null;
  /** handles move whole parts and groups instead of the pick */
  placing: boolean;
  /** the room a joint has over its range, as the core told it, for the revision of its build */
  clear: Clear | null;
  /** the gap or overlap that was asked for, until the build changes */
  beside: Beside | null;
  previewError: string | null;
  /** the trial would take long and waits to be asked for once more */
  takesLong: boolean;
  /** what a change has to be asked about before it is stored */
  question: Question | null;
  /** weights of soft selection as the core told them for the tool at work */
  soft: PartMesh["soft"];
  openStep: string | null;
  /** the view at work: the one shown, or the one of the sheet last pointed at */
  view: ViewName;
  /** a click takes whichever kind lies nearest */
  auto: boolean;
  /** parts shown alone, none for all */
  isolated: readonly string[] | null;
  section: Section | null;
  /** how many elements lay under the last click, and which of them it took */
  stack: { readonly nth: number; readonly of: number } | null;
  /** handles move the part's pivot instead of the pick */
  pivoting: boolean;
  /** with an axis locked, dragging anywhere moves along it */
  axisLock: 0 | 1 | 2 | null;
  drawing: Drawing | null;
  /** a path that is being drawn */
  path: PathWork | null;
  /** control points of the lattice at work that are picked, by name */
  gridPick: readonly string[];
  station: Station;
  save: SaveState;
  night: boolean;
}

const START: EditorState = {
  kinds: [],
  build: null,
  meshes: {},
  current: null,
  chosen: [],
  pickKind: "faces",
  pick: null,
  findings: {},
  limits: { doubled: 1e-5, thin: 1e-4 },
  lit: null,
  session: null,
  lastValues: {},
  lastPick: null,
  clicked: null,
  pickingAgain: null,
  preview: null,
  swung: null,
  moved: null,
  placing: false,
  trailing: null,
  copying: false,
  typesCopies: false,
  lastCopy: null,
  clear: null,
  beside: null,
  previewError: null,
  takesLong: false,
  question: null,
  soft: null,
  openStep: null,
  view: "perspective",
  auto: false,
  isolated: null,
  section: null,
  stack: null,
  pivoting: false,
  axisLock: null,
  drawing: null,
  path: null,
  gridPick: [],
  station: "brief",
  save: { kind: "saved", message: null },
  night: false,
};

export const useEditor = create<EditorState>()(subscribeWithSelector(() => START));

export const editor = {
  get: useEditor.getState,
  set: useEditor.setState,
  subscribe: useEditor.subscribe,
};

export function partOf(state: EditorState, id: string | null): Part | null {
  return state.build?.document.parts?.find((p) => p.id === id) ?? null;
}

const NO_PARTS: Part[] = [];
const NO_BOARDS: Board[] = [];

export function partsOf(state: EditorState): Part[] {
  return state.build?.document.parts ?? NO_PARTS;
}

export function boardsOf(state: EditorState): Board[] {
  return state.build?.document.boards ?? NO_BOARDS;
}

/** A board is locked unless it says otherwise: what repeats a default does not travel. */
export function isLocked(board: Board): boolean {
  return board.locked ?? true;
}

export function statusOf(state: EditorState, id: string | null): PartStatus | null {
  return state.build?.parts.find((p) => p.id === id) ?? null;
}

const NO_FINDINGS: readonly FindingInfo[] = [];

export function findingsOf(state: EditorState, id: string): readonly FindingInfo[] {
  return state.findings[id]?.found ?? NO_FINDINGS;
}

export function unitOf(state: EditorState): Unit {
  return state.build?.document.unit ?? "cm";
}

const NO_GROUPS: readonly Group[] = [];

export function groupsOf(state: EditorState): readonly Group[] {
  return state.build?.document.groups ?? NO_GROUPS;
}

export function kindOf(state: EditorState, word: string): KindInfo | null {
  return state.kinds.find((k) => k.word === word) ?? null;
}

/** Metres in one unit. */
export const METRES: Record<Unit, number> = { cm: 0.01, mm: 0.001, m: 1, in: 0.0254, ft: 0.3048 };
