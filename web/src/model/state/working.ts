import type { PartMesh } from "../../api/packets";
import type { PickKind, Triple } from "./choosing";

/** the word of a step kind, worked by handles and fields */
export type ToolName = string;
export type Value = number | string | boolean | readonly number[] | readonly string[] | readonly Record<string, unknown>[] | Readonly<Record<string, unknown>>;
export type Values = Record<string, Value>;
export type TransformField = "translate" | "rotate" | "scale";

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
  /** values that were left out for others, for the way back */
  readonly left: Values;
  /** it is wanted though it takes long */
  readonly sure?: boolean;
}

/** A question with two answers. */
export interface Question {
  readonly title: string;
  readonly message: string;
  readonly yes: string;
  readonly no: string;
  readonly answer: (yes: boolean) => void;
}

/** The tool at work, and what its trial came to. */
export interface Working {
  session: ToolSession | null;
  lastValues: Record<ToolName, Values>;
  preview: PartMesh | null;
  previewError: string | null;
  /** the trial would take long and waits to be asked for once more */
  takesLong: boolean;
  /** weights of soft selection as the core told them for the tool at work */
  soft: PartMesh["soft"];
  /** what a change has to be asked about before it is stored */
  question: Question | null;
  openStep: string | null;
  /** with an axis locked, dragging anywhere moves along it */
  axisLock: 0 | 1 | 2 | null;
  /** control points of the lattice at work that are picked, by name */
  gridPick: readonly string[];
}

export const WORKING: Working = {
  session: null,
  lastValues: {},
  preview: null,
  previewError: null,
  takesLong: false,
  soft: null,
  question: null,
  openStep: null,
  axisLock: null,
  gridPick: [],
};
