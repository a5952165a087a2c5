import type { KindInfo } from "../../api/client";
import { addStep, freeName } from "../../model/document/intents";
import { isCurve, keepsOut, takenOn, unfit } from "../../model/document/parts";
import { pickRule, setPick } from "../../model/picks/picks";
import { heldBy } from "../../model/steps/heldPlanes";
import { editor, type EditorState, kindOf, partOf, partsOf } from "../../model/store";
import { change, tell } from "../../sync/build";
import { lookOf, rankOf } from "../../tools/manifest";
import { focusView } from "../focus";
import { raiseFirst } from "../wrap/raise";
import { armKind } from "../session/arming";
import { accept } from "../session/storing";

/** Kinds that stand in the tray or a panel by themselves. */
function stands(k: KindInfo): boolean {
  return lookOf(k.word).place !== undefined;
}

/** The edits that fit what is picked, what is reached for most first. */
export function fitting(state: EditorState): KindInfo[] {
  const { pick, kinds } = state;
  if (pick === null) return [];
  const curve = onCurve(state, pick.part);
  return kinds.filter((k) => !k.form && !stands(k) && takenOn(k, curve).includes(pick.kind) && suits(state, pick.part, k)).sort((a, b) => rankOf(a.word) - rankOf(b.word));
}

/** What acts on the whole part, or is drawn over it. */
export function whole(state: EditorState): KindInfo[] {
  const curve = onCurve(state, state.current);
  return state.kinds.filter((k) => !k.form && !stands(k) && (!k.needs_pick || (curve && takenOn(k, true).length === 0)) && suits(state, state.current, k)).sort((a, b) => rankOf(a.word) - rankOf(b.word));
}

/** Whether a part still is a curve. */
function onCurve(state: EditorState, part: string | null): boolean {
  const here = partOf(state, part);
  return here !== null && isCurve(here, partsOf(state), state.kinds);
}

/** Whether a kind can stand on what a part is by now: faces, or a curve. */
function suits(state: EditorState, part: string | null, kind: KindInfo): boolean {
  const here = partOf(state, part);
  return here === null || unfit(kind, here, partsOf(state), state.kinds) === null;
}

/** Whether a kind has numbers or choices to try before it is stored, or is worked by pointing. */
function hasValues(kind: KindInfo): boolean {
  return lookOf(kind.word).points !== undefined || kind.parameters.some((p) => p.quantity !== "other" && p.name !== "hold_plane");
}

let starting: Promise<unknown> | null = null;

/** What is being begun, for keys pressed right behind it; null where nothing is. */
export function beginning(): Promise<unknown> | null {
  return starting;
}

/** Work with a kind of step: with a tool where it has values, else at once. */
export function startKind(kind: KindInfo): Promise<void> {
  focusView();
  const mine = start(kind).finally(() => {
    if (starting === mine) starting = null;
  });
  starting = mine;
  return mine;
}

async function start(kind: KindInfo): Promise<void> {
  if (kind.parameters.some((p) => p.quantity === "pattern")) return raiseFirst();
  if (hasValues(kind)) {
    await armKind(kind);
    return;
  }
  const step = await storeOnPick(kind.word, kind.title);
  if (step !== null) editor.set({ openStep: step });
}

/** Store a step that is told by its pick alone; its id, null where there is none. */
async function storeOnPick(kind: string, title: string): Promise<string | null> {
  await accept();
  const { pick } = editor.get();
  const part = partOf(editor.get(), pick?.part ?? null);
  if (pick === null || part?.id == null) return null;
  const kept = keepsOut(editor.get(), part.id);
  if (kept !== null) {
    tell(kept);
    return null;
  }
  const id = freeName(kind, (part.steps ?? []).map((s) => s.id));
  return (await change(title, addStep(part.id, { id, kind, pick: pickRule(pick), ...heldBy(part.id, kind) }))) ? id : null;
}

/** Delete what is picked, as a step. */
export async function deletePick(): Promise<void> {
  const step = await storeOnPick("delete", "Delete");
  const { pick } = editor.get();
  if (step !== null && pick !== null) setPick(pick.part, pick.kind, []);
}

/** The same by its word, for keys. */
export async function startWord(word: string): Promise<void> {
  const kind = kindOf(editor.get(), word);
  if (kind !== null) await startKind(kind);
}
