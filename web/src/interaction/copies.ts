import { type Copying, copyOf } from "../model/copies";
import { addPart, freeName } from "../model/intents";
import { editor, partOf, partsOf } from "../model/store";
import { change } from "../sync/build";
import { accept } from "./session/storing";

/** Copy a part in place: with a recipe of its own, linked to the one it is a copy of, or linked and mirrored across a plane. */
export async function copyPart(id: string, how: Copying): Promise<void> {
  await accept();
  const part = partOf(editor.get(), id);
  if (part === null) return;
  const parts = partsOf(editor.get());
  const stem = part.name.replace(/ \d+$/, "");
  const name = freeName(stem, [stem, `${stem} 1`, ...parts.map((p) => p.name)], " ");
  const own = freeName("part", parts.map((p) => p.id));
  const title = how === "plain" ? "Copy" : how === "linked" ? "Linked copy" : "Mirrored copy";
  if (await change(`${title} of ${part.name}`, addPart(copyOf(part, { id: own, name }, how)))) editor.set({ current: own, pick: null, openStep: null });
}
