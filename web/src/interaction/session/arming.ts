import type { KindInfo } from "../../api/client";
import { freeName } from "../../model/document/intents";
import { firstValues, othersOf } from "../../model/steps/kinds";
import { isCurve, keepsOut, othersFor, takenOn, unfit } from "../../model/document/parts";
import { pickRule } from "../../model/picks/picks";
import { middle } from "../../model/places/frames";
import { heldBy, transformSettings } from "../../model/steps/heldPlanes";
import { shellCount } from "../../model/steps/shells";
import { editor, kindOf, METRES, partOf, partsOf, type Picked, type ToolName, type ToolSession, type TransformField, type Triple, unitOf, type Values } from "../../model/store";
import { tell } from "../../sync/build";
import { extentIn, extentOf } from "../../sync/extent";
import { lookOf } from "../../tools/manifest";
import type { Wish } from "../../tools/Tool";
import { clearWay } from "../viewing";
import { begin } from "./begin";
import { accept, closing } from "./storing";
import { tryValues } from "./trial";

/** Values of a kind that leave the mesh as it is. */
export function atRest(word: string): Values {
  const kind = kindOf(editor.get(), word);
  return kind === null ? {} : firstValues(kind, 0);
}

function titleOf(word: string): string {
  return kindOf(editor.get(), word)?.title ?? word;
}

/** What parts that a step makes are called first: as the one they come from, with the next number. */
function newNames(kind: KindInfo, id: string): Values {
  const state = editor.get();
  const stem = (partOf(state, id)?.name ?? kind.title).replace(/ \d+$/, "");
  const name = freeName(stem, [stem, `${stem} 1`, ...partsOf(state).map((p) => p.name)], " ");
  return Object.fromEntries(kind.parameters.filter((p) => p.quantity === "name" && p.required).map((p) => [p.name, name]));
}

/** The same tool is at work already; transform then shows the field asked for. */
function atWork(tool: ToolName, field: TransformField | null): boolean {
  const at = editor.get().session;
  if (at?.tool !== tool) return false;
  if (at.stored !== null && (field === null || at.field === field)) return false; // it is done: the same key begins the next
  if (field !== null && at.field !== field) editor.set({ session: { ...at, field } });
  return true;
}

/** Stand the handles on the pick. A tool at work before is accepted. */
export async function armTransform(field: TransformField = "translate"): Promise<void> {
  await closing();
  if (atWork("transform", field)) return;
  await accept();
  const { pick } = editor.get();
  if (pick === null || partOf(editor.get(), pick.part) === null) {
    tell(`${titleOf("transform")} works on what is picked; pick something first`);
    return;
  }
  const kept = keepsOut(editor.get(), pick.part);
  if (kept !== null) {
    tell(kept);
    return;
  }
  const own = transformSettings(pick.part);
  begin("transform", pick.part, pick, "pick", { ...atRest("transform"), ...own }, { field, proposes: false });
  if (own["falloff"] !== undefined) tryValues({}, false); // the core tells the weights
}

/** Move what is picked by so much along the part's own axes, as a trial to accept or take back. */
export async function proposeMove(by: Triple): Promise<boolean> {
  await accept();
  const { pick } = editor.get();
  if (pick === null) return false;
  begin("transform", pick.part, pick, "pick", { ...atRest("transform"), ...heldBy(pick.part, "transform") }, { field: "translate", proposes: false });
  tryValues({ translate: by }, false);
  return true;
}

/** Take up a stored step again with its tool. */
export async function armStep(part: string, stepId: string): Promise<boolean> {
  await accept();
  const step = partOf(editor.get(), part)?.steps?.find((s) => s.id === stepId);
  const kind = step === undefined ? null : kindOf(editor.get(), step.kind);
  if (step === undefined || kind === null) return false;
  const beside = new Set(["id", "kind", "label", "enabled", "live", "v", "pick", "through"]);
  const values = Object.fromEntries(Object.entries(step).filter(([k]) => !beside.has(k))) as Values;
  const look = lookOf(step.kind);
  const box = look.boxed ? await boxOf(part, ("pick" in step ? ((step.pick as object | null | undefined) ?? null) : null), stepId) : null;
  begin(step.kind, part, null, "nothing", values, { proposes: false, box });
  const session = editor.get().session as ToolSession;
  editor.set({ session: { ...session, stepId, stored: values }, openStep: stepId });
  return true;
}

/** Begin what a pressed handle asks for; whether the drag may go on with it. */
export async function fulfil(wish: Wish): Promise<boolean> {
  if (wish.arm === "step") return armStep(wish.part, wish.step);
  const session = editor.get().session;
  await accept();
  const { pick } = editor.get();
  if (wish.arm === "again") {
    // what is turned already is scaled along other axes: a further step
    if (session === null) return false;
    await armTransform("scale");
    return editor.get().session !== null;
  }
  if (pick === null || pick.kind !== "faces") return false;
  const values: Values = { ...(wish.arm === "extrude" ? { depth: 0, along: wish.along } : { width: 0 }), ...heldBy(pick.part, wish.arm) };
  begin(wish.arm, pick.part, pick, "pick", values, { proposes: false });
  return true;
}

/** Why a kind that takes other parts, or makes some, has nothing to work with here. */
function nothingFor(kind: KindInfo, part: string, fits: boolean): string | null {
  const state = editor.get();
  const here = partOf(state, part);
  const wrong = here === null ? null : unfit(kind, here, partsOf(state), state.kinds);
  if (wrong !== null) return wrong;
  const others = othersOf(kind);
  if (others !== null && (others.required || !fits) && othersFor(state, part).length === 0) {
    if (!others.required && kind.takes.length > 0) return `${kind.title} works on ${kind.takes.join(" or ")}; pick some first`;
    return partsOf(state).length < 2 ? `${kind.title} takes another part; make one first` : `${kind.title} takes another part; all the others need this one, or are templates`;
  }
  const cage = state.meshes[part]?.mesh.cage;
  const shells = !kind.needs_pick && kind.parameters.some((p) => p.quantity === "name");
  return shells && cage !== undefined && shellCount(cage.shape) < 2 ? "It is one connected piece: there is nothing to separate; split picked faces off instead" : null;
}

/** The other parts that are chosen with one: what deforms it deforms them. */
function riding(part: string): string[] {
  const state = editor.get();
  const others = state.chosen.flatMap((key) => (key.startsWith("p:") ? [key.slice(2)] : [])).filter((id) => id !== part);
  return others.filter((id) => {
    const other = partOf(state, id);
    return other !== null && other.of == null && othersFor(state, id).some((p) => p.id === part) && !isCurve(other, partsOf(state), state.kinds) && keepsOut(state, id) === null;
  });
}

/** Corners of what stands above a step, or at the working mark, in the part's axes and metres; with other parts, of them all. */
async function boxOf(part: string, rule: object | null, above: string | null, others: readonly string[] = []): Promise<readonly [Triple, Triple] | null> {
  const found = await Promise.all([extentOf(part, null, "part", above, rule), ...others.map((id) => extentIn(id, part))]);
  const metres = METRES[unitOf(editor.get())];
  const known = found.flatMap((e) => (e === null ? [] : [e]));
  if (known.length === 0) return null;
  const corner = (which: "low" | "high", most: (...of: number[]) => number) => [0, 1, 2].map((k) => most(...known.map((e) => e[which][k] as number)) * metres) as Triple;
  return [corner("low", Math.min), corner("high", Math.max)];
}

/** What is fitted to a box. One that only one thing is laid round is not stored: it follows as that grows, unless that is flat. */
function fittedTo(box: readonly [Triple, Triple], fitted: ((box: readonly [Triple, Triple]) => Values) | undefined, follows: boolean): Values {
  const values = fitted?.(box) ?? {};
  const size = box[1].map((v, k) => v - box[0][k]!);
  if (!follows || Math.min(...size) < 1e-6 * Math.max(...size)) return values;
  return Object.fromEntries(Object.entries(values).filter(([name]) => name !== "box")) as Values;
}

/** What is put beside what is picked goes where the view shows it, as far as the kind proposes. */
function inSight(kind: KindInfo, part: string, at: Triple, size: number, proposed: Values): Values {
  return Object.fromEntries(
    kind.proposal.flatMap(({ parameter, of_size: times }): [string, Triple][] => {
      const value = proposed[parameter];
      if (!Array.isArray(times) || !Array.isArray(value)) return [];
      const by = Math.hypot(...(value as Triple));
      return [[parameter, clearWay(part, at, size, by * METRES[unitOf(editor.get())]).map((v) => v * by + 0) as unknown as Triple]];
    }),
  );
}

/** Arm the tool of any kind of step: on the pick, or on the whole part where the kind takes none. */
export async function armKind(kind: KindInfo): Promise<void> {
  await closing();
  if (atWork(kind.word, null)) return;
  await accept();
  const { current, pick } = editor.get();
  const here = partOf(editor.get(), pick?.part ?? current);
  const allowed = takenOn(kind, here !== null && isCurve(here, partsOf(editor.get()), editor.get().kinds));
  const fits = pick !== null && allowed.includes(pick.kind);
  const { points } = lookOf(kind.word);
  const pointed = points !== undefined && (points.when === "always" || !fits); // one after the other, under the pointer
  if (allowed.length > 0 && !fits && kind.needs_pick && !pointed) {
    tell(`${kind.title} works on ${allowed.join(" or ")}; pick some first`);
    return;
  }
  const part = fits ? (pick as Picked).part : current;
  if (part === null || partOf(editor.get(), part) === null) return;
  const kept = keepsOut(editor.get(), part);
  if (kept !== null) {
    tell(kept);
    return;
  }
  const nothing = nothingFor(kind, part, fits);
  if (nothing !== null) {
    tell(nothing);
    return;
  }
  const on = fits ? pick : null;
  const cage = editor.get().meshes[part]?.mesh.cage;
  const { at, size } = middle(cage, on);
  const proposed = firstValues(kind, size);
  const suggested = on === null || cage === undefined ? {} : (lookOf(kind.word).begins?.(cage, on) ?? {});
  const takes = fits && kind.picks !== "nothing" ? kind.picks : "nothing";
  const { boxed, leads, fitted, spans } = lookOf(kind.word);
  const riders = leads ? riding(part) : [];
  const box = boxed ? await boxOf(part, on === null ? null : pickRule(on), null, spans ? riders : []) : null;
  begin(kind.word, part, on, takes, { ...proposed, ...inSight(kind, part, at, size, proposed), ...heldBy(part, kind.word), ...suggested, ...newNames(kind, part), ...(box === null ? {} : fittedTo(box, fitted, spans === true && riders.length === 0)) }, { proposes: !pointed && !kind.at_rest, asks: pointed ? points.value : null, box, riders });
  if (!pointed && !kind.at_rest) tryValues({}, false);
}
