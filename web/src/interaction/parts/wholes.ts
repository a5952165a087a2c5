import { Matrix4, Quaternion, Vector3 } from "three";

import { answer, api, type Group, type Part, Refused, sentence } from "../../api/client";
import type { components } from "../../api/schema";
import { dissolveGroup, freeName, type Intent, removePart, together } from "../../model/document/intents";
import { after, chosenOf, type Key, groupKey, memberOf, moveMember, outermost, partKey, placeMember, setMember } from "../../model/document/members";
import { othersFor } from "../../model/document/parts";
import { placementsAfter, stayingPut } from "../../model/places/placements";
import { prefs } from "../../model/prefs";
import { othersOf } from "../../model/steps/kinds";
import { editor, groupsOf, kindOf, METRES, partsOf, type Picked, type Triple, unitOf } from "../../model/store";
import { askOf, change, tell } from "../../sync/build";
import { extentOf } from "../../sync/extent";
import { copyChosen } from "./copyParts";
import { focusView } from "../focus";
import { accept, store } from "../session/storing";
import { tryValues } from "../session/trial";

import "../../sync/followers";

type Trial = Omit<components["schemas"]["LineUpTrial"], "revision" | "members">;

/** Put what is chosen where the core says: on the floor, against another, in line, evenly apart. In one undo entry. */
export async function lineUp(trial: Trial, title = "Place"): Promise<void> {
  await accept();
  const state = editor.get();
  const members = outermost(state, chosenOf(state));
  if (state.build === null || members.length === 0) {
    tell("Make a part first");
    return;
  }
  try {
    const { moves } = await askOf((build) => answer(api.POST("/api/builds/{build_id}/line-up", { params: { path: { build_id: build.id } }, body: { ...trial, revision: build.revision, members } })));
    const told = moves.filter((m) => {
      const now = memberOf(editor.get(), m.member)?.placement?.translate ?? [0, 0, 0];
      return m.translate.some((v, k) => v !== now[k]);
    });
    if (told.length === 0) return;
    await change(title, together(...told.map((m) => placeMember(m.member, { translate: m.translate }))));
  } catch (error) {
    tell(sentence(error));
  }
}

/** A part clicked in the list while a tool asks for another part is that part; whether one asked, and may have this one. */
function answersTool(key: Key): boolean {
  const { session } = editor.get();
  const id = key.slice(2);
  if (session === null || !key.startsWith("p:") || id === session.part) return false;
  const asked = othersOf(kindOf(editor.get(), session.tool));
  // as the tray shows it: where the tool has it, or is about nothing else
  if (asked === null || !(asked.required || session.takes === "nothing" || session.values[asked.name] !== undefined) || !othersFor(editor.get(), session.part).some((p) => p.id === id)) return false;
  const held = session.values[asked.name];
  tryValues({ [asked.name]: asked.quantity === "part" ? id : [...(Array.isArray(held) ? (held as readonly string[]) : []).filter((p) => p !== id), id] }, false);
  if (session.stored !== null) void store();
  focusView();
  return true;
}

/** Choose a part or group in the list: alone, one more or less, or all from the last one on. */
export async function chooseMember(key: Key, how: "alone" | "toggle" | "range", order: readonly Key[]): Promise<void> {
  if (how === "alone" && answersTool(key)) return;
  await accept();
  const state = editor.get();
  const held = chosenOf(state);
  let chosen: readonly Key[] = [key];
  if (how === "toggle") chosen = held.includes(key) ? held.filter((k) => k !== key) : [...held, key];
  if (how === "range") {
    const [a, b] = [order.indexOf(held[held.length - 1] ?? key), order.indexOf(key)];
    const between = a < 0 || b < 0 ? [key] : order.slice(Math.min(a, b), Math.max(a, b) + 1).filter((k) => k !== key);
    chosen = [...held.filter((k) => !between.includes(k) && k !== key), ...between, key];
  }
  const leads = chosen[chosen.length - 1] ?? key;
  const current = leads.startsWith("p:") ? leads.slice(2) : state.current;
  editor.set({ chosen, current, pick: state.pick?.part === current ? state.pick : null, ...(current === state.current ? {} : { openStep: null }), clear: null });
}

/** Several parts and groups into a new group, where the first of them is. */
export async function groupMembers(of: readonly Key[]): Promise<void> {
  const state = editor.get();
  const keys = outermost(state, of);
  if (keys.length === 0) return;
  const taken = state.build?.document.groups ?? [];
  const id = freeName("group", taken.map((g) => g.id));
  const name = freeName("Group", taken.map((g) => g.name), " ");
  const outer = memberOf(state, keys[0] as Key)?.group ?? null;
  const made: Intent = (document) => {
    const groups = [...(document.groups ?? []), { id, name, ...(outer === null ? {} : { group: outer }) }].map((g) => (keys.includes(`g:${g.id}`) ? { ...g, group: id } : g));
    return [
      { op: "add", path: "/groups", value: groups },
      ...(document.parts ?? []).flatMap((p, i) => (keys.includes(`p:${p.id}`) ? [{ op: "add" as const, path: `/parts/${i}/group`, value: id }] : [])),
    ];
  };
  if (await change("Group", made)) editor.set({ chosen: [`g:${id}`] });
}

/** The same values for several. */
export function setMembers(label: string, keys: readonly Key[], values: Record<string, unknown>): Promise<boolean> {
  return change(label, together(...keys.map((key) => setMember(key, values))));
}

/** Take a group away; what is in it stays where it stands. */
export async function dissolve(id: string): Promise<void> {
  await accept();
  const state = editor.get();
  const group = groupsOf(state).find((g) => g.id === id);
  if (group === undefined) return;
  const outer = group.group ?? null;
  const inside = [...partsOf(state).filter((p) => p.group === id).map(partKey), ...groupsOf(state).filter((g) => g.group === id).map(groupKey)];
  const stays = inside.flatMap((key) => {
    const placement = stayingPut(state, key, outer);
    return placement === null ? [] : [setMember(key, { placement })];
  });
  await change(`Dissolve ${group.name}`, together(...stays, dissolveGroup(id)));
}

/** Put what is chosen into a group, or out of all, or before another; it stays where it stands. */
export async function moveChosen(keys: readonly Key[], group: string | null, before: Key | null): Promise<void> {
  // one after the other: each is told against the document the one before left
  const name = keys.length === 1 ? (memberOf(editor.get(), keys[0] as Key)?.name ?? "") : `${keys.length} of them`;
  for (const key of keys) {
    const stays = stayingPut(editor.get(), key, group);
    const moves = moveMember(key, group, before);
    await change(`Move ${name}`, stays === null ? moves : after(moves, setMember(key, { placement: stays })), `move/${keys.join()}`);
  }
}

/** Take all chosen parts away, in one undo entry; the last first, so that their places in the list stay true. */
export async function removeChosen(keys: readonly Key[]): Promise<void> {
  const parts = editor.get().build?.document.parts ?? [];
  const ids = keys.filter((k) => k.startsWith("p:")).map((k) => k.slice(2));
  const order = ids.sort((a, b) => parts.findIndex((p) => p.id === b) - parts.findIndex((p) => p.id === a));
  if (order.length > 0) await change(order.length === 1 ? `Remove ${parts.find((p) => p.id === order[0])?.name}` : `Remove ${order.length} parts`, together(...order.map(removePart)));
}

/** How much room a joint has over its range; asked again while its build changes, until another is asked for. */
export async function lookAtClearance(key: Key): Promise<void> {
  await accept();
  const { build } = editor.get();
  if (build === null) return;
  try {
    const [found, revision] = await askOf(async (of) => [await answer(api.POST("/api/builds/{build_id}/clearance", { params: { path: { build_id: of.id } }, body: { revision: of.revision, member: key.slice(2) } })), of.revision] as const);
    editor.set({ clear: { key, revision, least: found.least, at: found.at, touches: found.touches as [number | null, number | null], rests: found.rests, where: found.where as Triple } });
  } catch (error) {
    editor.set({ clear: null });
    if (!(error instanceof Refused && error.status === 409)) tell(sentence(error));
  }
}

editor.subscribe((state, before) => {
  if (state.clear === null || state.build === before.build || state.build?.revision === state.clear.revision) return;
  if (state.build?.id !== before.build?.id || memberOf(state, state.clear.key)?.joint == null) editor.set({ clear: null });
  else void lookAtClearance(state.clear.key);
});

/** Store where members were moved to, in one undo entry. */
export async function placeTo(to: Readonly<Record<Key, Part["placement"]>>): Promise<void> {
  const keys = Object.keys(to);
  const name = keys.length === 1 ? (memberOf(editor.get(), keys[0] as Key)?.name ?? "") : `${keys.length} together`;
  await change(`Place ${name}`, together(...keys.map((key) => setMember(key, { placement: to[key] }))), `place/${keys.join()}`);
}

/** Copies are made one after the other: each goes on from where the last one stands, which is told once it is stored. */
let copied: Promise<void> = Promise.resolve();

function inTurn(copy: () => Promise<void>): Promise<void> {
  copied = copied.then(copy, copy);
  return copied;
}

/** Copies of the chosen parts where they were dragged to: linked ones, as the switch beside the handles says otherwise. */
export function copyTo(to: Readonly<Record<Key, Part["placement"]>>): Promise<void> {
  return inTurn(() => copyAcross(to));
}

async function copyAcross(to: Readonly<Record<Key, Part["placement"]>>): Promise<void> {
  const keys = Object.keys(to);
  const first = memberOf(editor.get(), keys[0] ?? null);
  const [was, is] = [first?.placement?.translate ?? [0, 0, 0], to[keys[0] ?? ""]?.translate ?? [0, 0, 0]];
  await copyChosen(keys, prefs.get().copies, (key) => ({ placement: to[key] }) as Partial<Part & Group>);
  editor.set({ lastCopy: { by: [0, 1, 2].map((k) => (is[k] as number) - (was[k] as number)) as Triple } });
}

/** One more copy, as far on as the last one was. */
export function copyOn(): Promise<void> {
  return inTurn(copyFurther);
}

async function copyFurther(): Promise<void> {
  const { lastCopy } = editor.get();
  const keys = outermost(editor.get(), chosenOf(editor.get()));
  if (lastCopy === null || keys.length === 0) {
    tell("Drag a copy out first, by a collar of the handles that place parts");
    return;
  }
  await copyChosen(keys, prefs.get().copies, (key) => {
    const placement = memberOf(editor.get(), key)?.placement;
    const now = placement?.translate ?? [0, 0, 0];
    return { placement: { ...placement, translate: [0, 1, 2].map((k) => Number(((now[k] as number) + (lastCopy.by[k] as number)).toPrecision(12))) as Triple } } as Partial<Part & Group>;
  });
}

/** A copy at a coordinate that was typed; the coordinate with its sign turned about sends a mirrored copy across. */
export async function copyTyped(keys: readonly Key[], row: "translate" | "rotate", axis: number, value: number, leads: Key): Promise<void> {
  const rowOf = (key: Key) => (memberOf(editor.get(), key)?.placement?.[row] ?? [0, 0, 0]) as Triple;
  const now = rowOf(leads)[axis] as number;
  const all = outermost(editor.get(), keys.includes(leads) ? keys : [leads]);
  if (row === "translate" && value !== 0 && value === -now) await copyChosen(all, "xyz"[axis] as "x" | "y" | "z");
  // all that is chosen goes as far as the one whose place is typed
  else await copyTo(Object.fromEntries(all.map((key) => [key, { ...memberOf(editor.get(), key)?.placement, [row]: rowOf(key).map((v, k) => (k === axis ? Number((v + value - now).toFixed(9)) + 0 : v)) as Triple }])));
}

/** Handles on whole parts and groups: a click chooses a part, Shift one more; elements are picked again once it is left. */
export async function placeByHand(on: boolean): Promise<void> {
  await accept();
  editor.set({ placing: on, pivoting: false, ...(on ? { pick: null } : {}) });
}

/** Bring what was picked last onto what is picked now: the part of the one stands with that face against the other's. */
export async function faceOntoFace(): Promise<void> {
  await accept();
  const { pick, lastPick } = editor.get();
  const one = (p: Picked | null) => p !== null && p.kind === "faces" && p.elements.length === 1;
  if (pick === null || lastPick === null || !one(pick) || !one(lastPick) || pick.part === lastPick.part) {
    tell("Pick a face of the part that moves, then the face of another part that it goes against");
    return;
  }
  const [from, to] = [await extentOf(lastPick.part, lastPick, "build"), await extentOf(pick.part, pick, "build")];
  if (from === null || to === null) return;
  const metres = METRES[unitOf(editor.get())];
  const place = (v: readonly number[]) => new Vector3(...(v as Triple)).multiplyScalar(metres);
  const turn = new Quaternion().setFromUnitVectors(new Vector3(...(from.normal as Triple)).normalize(), new Vector3(...(to.normal as Triple)).normalize().negate());
  const change = new Matrix4().makeTranslation(place(to.mean)).multiply(new Matrix4().makeRotationFromQuaternion(turn)).multiply(new Matrix4().makeTranslation(place(from.mean).negate()));
  await placeTo(placementsAfter([`p:${lastPick.part}`], change));
}

/** How the one that leads what is chosen stands to another: their gap, or what they share. */
export async function lookBeside(to: Key): Promise<void> {
  await accept();
  const keys = chosenOf(editor.get()).filter((k) => k !== to);
  const member = keys[keys.length - 1];
  if (member === undefined) return;
  try {
    const [found, revision] = await askOf(async (of) => [await answer(api.POST("/api/builds/{build_id}/beside", { params: { path: { build_id: of.id } }, body: { revision: of.revision, member, to } })), of.revision] as const);
    editor.set({ beside: { ...found, ends: found.ends as [Triple, Triple], low: found.low as Triple | null, high: found.high as Triple | null, revision } });
  } catch (error) {
    tell(sentence(error));
  }
}

editor.subscribe((state, before) => {
  if (state.beside !== null && state.build !== before.build && state.build?.revision !== state.beside.revision) editor.set({ beside: null });
});
