import type { KindInfo } from "../api/client";
import { change } from "./editor";
import { addStep, freeName } from "./intents";
import { pickRule } from "./picks";
import { accept, armKind } from "./session";
import { editor, kindOf, partOf, type EditorState } from "./store";

/** Kinds with tools or switches of their own. */
const OWN = new Set(["extrude", "transform", "delete", "subdivision"]);
/** What is reached for most stands first. */
const ORDER = ["inset", "bevel", "insert_loop", "ridge", "bridge", "connect", "cut", "slice", "slide", "extrude_edges", "dissolve", "weld"];

function rank(k: KindInfo): number {
  const at = ORDER.indexOf(k.word);
  return at < 0 ? ORDER.length : at;
}

/** The edits that fit what is picked. */
export function fitting(state: EditorState): KindInfo[] {
  const { pick, kinds } = state;
  return pick === null ? [] : kinds.filter((k) => !k.form && !OWN.has(k.word) && k.takes.includes(pick.kind)).sort((a, b) => rank(a) - rank(b));
}

/** What acts on the whole part, or is drawn over it. */
export function whole(state: EditorState): KindInfo[] {
  return state.kinds.filter((k) => !k.form && !OWN.has(k.word) && (k.takes.length === 0 || k.word === "slice"));
}

/** Whether a kind has numbers or choices to try before it is stored. */
function hasValues(kind: KindInfo): boolean {
  return kind.word === "cut" || kind.parameters.some((p) => p.quantity !== "other");
}

/** Work with a kind of step: with a tool where it has values, else at once. */
export async function startKind(kind: KindInfo): Promise<void> {
  if (hasValues(kind)) {
    await armKind(kind);
    return;
  }
  await accept();
  const { pick } = editor.get();
  const part = partOf(editor.get(), pick?.part ?? null);
  if (pick === null || part?.id == null) return;
  const id = freeName(kind.word, (part.steps ?? []).map((s) => s.id));
  if (await change(kind.title, addStep(part.id, { id, kind: kind.word, pick: pickRule(pick) }))) editor.set({ openStep: id });
}

/** The same by its word, for keys. */
export async function startWord(word: string): Promise<void> {
  const kind = kindOf(editor.get(), word);
  if (kind !== null) await startKind(kind);
}
