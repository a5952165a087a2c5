import type { Part } from "../api/client";
import { addPart, freeName } from "../model/intents";
import { editor, partOf, partsOf } from "../model/store";
import { change } from "../sync/build";
import { accept } from "./session/storing";

export type Axis = "x" | "y" | "z";
export type Copying = "plain" | "linked" | Axis;

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

function copyOf(part: Part, own: { id: string; name: string }, how: Copying): Record<string, unknown> {
  if (how === "plain") return { ...part, ...own };
  const { group, placement, pivot, joint } = part;
  const beside = Object.fromEntries(Object.entries({ group, placement, pivot, joint }).filter(([, v]) => v != null));
  if (how === "linked") return { ...own, ...beside, of: part.of ?? part.id, ...(part.mirrored == null ? {} : { mirrored: part.mirrored }) };
  // across the plane of the build or of the group: X·(T·R·S) = (X·T·X)·(X·R·X)·S·X, and turns about other axes run the other way
  const k = "xyz".indexOf(how);
  const turned = (v: number, i: number) => (i === k ? v : -v + 0);
  const across = (v: number, i: number) => (i === k ? -v + 0 : v);
  const swung = joint == null ? null : { ...joint, at: (joint.at ?? [0, 0, 0]).map(across), axis: joint.axis.map(joint.kind === "turn" ? turned : across) };
  const placed = {
    ...placement,
    ...(placement?.translate ? { translate: placement.translate.map(across) } : {}),
    ...(placement?.rotate ? { rotate: placement.rotate.map(turned) } : {}),
  };
  return {
    ...own,
    ...beside,
    ...(Object.keys(placed).length > 0 ? { placement: placed } : {}),
    ...(pivot == null ? {} : { pivot: pivot.map(across) }),
    ...(swung === null ? {} : { joint: swung }),
    of: part.id,
    mirrored: how,
  };
}
