import type { KindInfo, Parameter } from "../api/client";
import { change } from "./editor";
import { addStep, freeName } from "./intents";
import { pickRule } from "./picks";
import { accept } from "./session";
import { editor, METRES, partOf, unitOf, type EditorState } from "./store";

/** Kinds that have tools of their own. */
const OWN = new Set(["extrude", "transform", "delete"]);

/** The edits that fit what is picked and start as a card. */
export function fitting(state: EditorState): KindInfo[] {
  const { pick, kinds } = state;
  return pick === null ? [] : kinds.filter((k) => !k.form && !OWN.has(k.word) && k.takes.includes(pick.kind));
}

/** What a required number starts from: a centimetre, one, or an angle of 30 degrees. */
function start(parameter: Parameter): number {
  if (parameter.quantity === "length") return Number((0.01 / METRES[unitOf(editor.get())]).toPrecision(3));
  return parameter.quantity === "angle" ? 30 : 1;
}

/** Put a step of this kind on the pick, with its required numbers to begin with, and open its card. */
export async function startKind(kind: KindInfo): Promise<void> {
  await accept();
  const { pick } = editor.get();
  const part = partOf(editor.get(), pick?.part ?? null);
  if (pick === null || part?.id == null) return;
  const id = freeName(kind.word, (part.steps ?? []).map((s) => s.id));
  const rule = pickRule(pick);
  const on = kind.picks === "through" ? { through: rule[pick.kind] } : { pick: rule };
  const required = kind.parameters.filter((p) => p.required && p.quantity !== "other").map((p) => [p.name, start(p)] as const);
  if (await change(kind.title, addStep(part.id, { id, kind: kind.word, ...on, ...Object.fromEntries(required) }))) editor.set({ openStep: id });
}
