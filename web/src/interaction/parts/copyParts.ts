import { Matrix4 } from "three";

import type { Group, Part } from "../../api/client";
import { addCopies, copiesOf, type Copying } from "../../model/places/copies";
import { freeName, type Intent, removePart, together } from "../../model/document/intents";
import { type Key, memberOf, outermost } from "../../model/document/members";
import { planeBetween } from "../../model/places/mirroring";
import { neededBy, partNamed } from "../../model/document/parts";
import { middle } from "../../model/places/frames";
import { placementsAfter } from "../../model/places/placements";
import { stepAside } from "../../model/places/stepAside";
import { editor, groupsOf, METRES, partOf, partsOf, type Triple, unitOf } from "../../model/store";
import { change, tell } from "../../sync/build";
import { extentOf } from "../../sync/extent";
import { accept } from "../session/storing";

/** Copies of parts and groups where they stand: with recipes of their own, linked to what they are copies of, or linked and mirrored
 * across a plane. They are chosen then. */
export async function copyChosen(of: readonly Key[], how: Copying, more: (key: Key) => Partial<Part & Group> = () => ({})): Promise<void> {
  await accept();
  const state = editor.get();
  const made = copiesOf(state, of, how, more);
  if (made.keys.length === 0) return;
  const title = how === "plain" ? "Copy" : how === "linked" ? "Linked copy" : "Mirrored copy";
  const what = made.keys.length === 1 ? ` of ${memberOf(state, of[0] as Key)?.name}` : ` of ${made.keys.length}`;
  if (!(await change(title + what, addCopies(made)))) return;
  const last = made.keys[made.keys.length - 1] as Key;
  editor.set({ ...(last.startsWith("p:") ? { current: last.slice(2) } : {}), chosen: made.keys, pick: null, openStep: null });
}

/** How copies are made that need nothing picked. */
export type Copied = "plain" | "linked" | "x" | "y" | "z" | "own x" | "own y" | "own z";

/** Copies beside their originals, or mirrored across an axis of the build; what lands where the original stands says so. */
export async function copyBeside(of: readonly Key[], how: Copied): Promise<void> {
  await accept();
  const state = editor.get();
  const keys = outermost(state, of);
  const mirrored = how !== "plain" && how !== "linked";
  const had = new Set(partsOf(state).map((p) => p.id));
  const aside = mirrored ? 0 : stepAside(state, keys);
  if (aside > 0) {
    const places = placementsAfter(keys, new Matrix4().makeTranslation(aside, 0, 0));
    await copyChosen(of, how, (key) => ({ placement: places[key] }) as Partial<Part & Group>);
    editor.set({ lastCopy: { by: [aside / METRES[unitOf(state)], 0, 0] } });
    return;
  }
  await copyChosen(of, how);
  const linked = how.startsWith("own") ? partsOf(editor.get()).filter((p) => !had.has(p.id) && p.of != null) : [];
  if (linked.length > 0) {
    const one = linked.length === 1;
    tell(`${linked.map((p) => p.name).join(", ")} ${one ? "follows its" : "follow their"} original: a recipe of its own can mirror only what needs no other part, is not linked, and has nothing below “you work here” but smoothing, thickness and mirrors`);
    return;
  }
  const [was, is] = [memberOf(state, keys[0] ?? null), memberOf(editor.get(), editor.get().chosen[0] ?? null)];
  const place = (member: typeof was) => (member?.placement?.translate ?? [0, 0, 0]) as readonly number[];
  if (is !== null && is !== was && place(is).every((v, k) => v === place(was)[k])) tell(`${is.name} stands where ${was?.name} stands${mirrored ? `: it is mirrored about ${how.slice(-1)} = 0 there` : ""}; move it, or type its place`);
}

/** A mirrored copy across the plane of the one picked face. */
export async function copyAcrossFace(of: readonly Key[]): Promise<void> {
  await accept();
  const { pick } = editor.get();
  if (pick === null || pick.kind !== "faces" || pick.elements.length !== 1) {
    tell("Pick one face first: its plane is the mirror");
    return;
  }
  const face = await extentOf(pick.part, pick, "build");
  if (face === null) return;
  const metres = METRES[unitOf(editor.get())];
  await copyChosen(of, { point: face.mean.map((v) => v * metres) as Triple, normal: face.normal as Triple });
}

/** A part and the linked copy that is mirrored from it: either may be told. */
function halves(id: string): readonly [Part, Part] | null {
  const parts = partsOf(editor.get());
  const part = partOf(editor.get(), id);
  if (part === null) return null;
  const isCopy = (p: Part) => p.of != null && p.mirrored != null;
  const copy = isCopy(part) ? part : parts.find((p) => isCopy(p) && partNamed(parts, p.of ?? "")?.id === id);
  const source = copy === undefined ? null : partNamed(parts, copy.of ?? "");
  return copy === undefined || source?.steps == null ? null : [source, copy];
}

/** Whether a part has a mirrored half to be made one with, or is one. */
export function hasMirroredHalf(id: string): boolean {
  return halves(id) !== null;
}

/** Make one part of a half and its mirrored linked copy: the half is mirrored and welded by a live step, which takes the copy's
 * place. Its distance is on the card that opens. */
export async function joinMirroredHalf(id: string): Promise<void> {
  await accept();
  const state = editor.get();
  const found = halves(id);
  if (found === null || state.build === null) return;
  const [source, copy] = found;
  const plane = planeBetween(source, copy, unitOf(state), groupsOf(state));
  if (plane === null) {
    tell(`${copy.name} does not stand across a plane of ${source.name}'s own axes; line ${source.name} up with the mirror first, or join them by a step`);
    return;
  }
  const needs = neededBy(copy.id ?? "", state.build.document, state.kinds);
  if (needs.length > 0) {
    tell(`${needs.map((p) => p.name).join(", ")} ${needs.length === 1 ? "needs" : "need"} ${copy.name}; let it need ${source.name} instead first`);
    return;
  }
  const { at: centre } = middle(state.meshes[source.id ?? ""]?.mesh.cage, null);
  const side = (centre["xyz".indexOf(plane.axis)] as number) >= plane.at ? "+" : "-";
  const step = freeName("mirror", (source.steps ?? []).map((s) => s.id));
  const at = Number((plane.at / METRES[unitOf(state)]).toPrecision(9)) + 0;
  const last: Intent = (document) => {
    const i = document.parts?.findIndex((p) => p.id === source.id) ?? -1;
    const value = { id: step, kind: "mirror", axis: plane.axis, keep: side, clip: false, ...(at === 0 ? {} : { at }) };
    return i < 0 ? null : [{ op: "add", path: `/parts/${i}/steps/-`, value }];
  };
  if (await change(`One part of ${source.name} and ${copy.name}`, together(last, removePart(copy.id ?? "")))) {
    editor.set({ current: source.id ?? null, chosen: [`p:${source.id}`], pick: null, openStep: step });
  }
}
