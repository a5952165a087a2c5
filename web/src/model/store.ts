import { create } from "zustand";
import { subscribeWithSelector } from "zustand/middleware";

import type { Board, FindingInfo, Group, KindInfo, Part, PartStatus, Unit } from "../api/client";
import { CHOOSING, type Choosing } from "./state/choosing";
import { HELD, type Held } from "./state/held";
import { LOOKING, type Looking } from "./state/looking";
import { MOVING, type Moving } from "./state/moving";
import { OUTLINING, type Outlining } from "./state/outlining";
import { WORKING, type Working } from "./state/working";

export type { PickKind, Picked, Triple } from "./state/choosing";
export type { SaveState } from "./state/held";
export type { Section, Station, ViewName } from "./state/looking";
export type { Beside, Clear } from "./state/moving";
export type { Drawing, PathWork } from "./state/outlining";
export type { Question, ToolName, ToolSession, TransformField, Value, Values } from "./state/working";

/** All that stands open in this window. */
export interface EditorState extends Held, Choosing, Working, Moving, Outlining, Looking {}

const START: EditorState = { ...HELD, ...CHOOSING, ...WORKING, ...MOVING, ...OUTLINING, ...LOOKING };

/** What a build begins with that is opened: nothing of the one before. Which kinds there are, whether all is stored and the time
 * of day are not the build's. */
export const PLAIN: Omit<EditorState, "kinds" | "save" | "night"> = (({ kinds: _kinds, save: _save, night: _night, ...plain }) => plain)(START);

export const useEditor = create<EditorState>()(subscribeWithSelector(() => START));

export const editor = {
  get: useEditor.getState,
  set: useEditor.setState,
  subscribe: useEditor.subscribe,
};

/** Does something whenever a build is left, for what belongs to it. */
export function withEachBuild(leave: () => void): void {
  useEditor.subscribe((state, before) => {
    if (before.build !== null && state.build?.id !== before.build.id) leave();
  });
}

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
