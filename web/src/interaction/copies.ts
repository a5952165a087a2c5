import type { Part } from "../api/client";
import { type Copying, copyOf } from "../model/copies";
import { addPart, freeName, together } from "../model/intents";
import { editor, partOf, partsOf } from "../model/store";
import { change } from "../sync/build";
import { accept } from "./session/storing";

/** Copies of parts where they stand: with recipes of their own, linked to what they are copies of, or linked and mirrored across a
 * plane. They are chosen then. */
export async function copyChosen(ids: readonly string[], how: Copying, more: (id: string) => Partial<Part> = () => ({})): Promise<void> {
  await accept();
  const state = editor.get();
  const names = partsOf(state).map((p) => p.name);
  const taken = partsOf(state).map((p) => p.id ?? "");
  const made = ids.flatMap((id) => {
    const part = partOf(state, id);
    if (part === null) return [];
    const stem = part.name.replace(/ \d+$/, "");
    const name = freeName(stem, [stem, `${stem} 1`, ...names], " ");
    const own = freeName("part", taken);
    names.push(name);
    taken.push(own);
    return [{ ...copyOf(part, { id: own, name }, how), ...more(id) }];
  });
  if (made.length === 0) return;
  const title = how === "plain" ? "Copy" : how === "linked" ? "Linked copy" : "Mirrored copy";
  const of = made.length === 1 ? ` of ${partOf(state, ids[0] as string)?.name}` : `, ${made.length} parts`;
  if (await change(title + of, together(...made.map(addPart)))) {
    const keys = made.map((p) => `p:${String(p["id"])}`);
    editor.set({ current: keys[keys.length - 1]!.slice(2), chosen: keys, pick: null, openStep: null });
  }
}
