import { addStep, freeName, placeAll, setPart } from "../model/intents";
import { pickRule } from "../model/picks";
import { editor, partOf, type Triple } from "../model/store";
import { change, tell } from "../sync/build";
import { extentOf } from "../sync/extent";
import { accept } from "./session/storing";

export type Spot = "origin" | "x" | "y" | "z" | "floor";

/** Put the current part somewhere by one press: its base's middle to the origin, its middle onto an axis plane, its lowest
 * point onto the floor. */
export async function putPart(where: Spot): Promise<void> {
  await accept();
  const part = partOf(editor.get(), editor.get().current);
  if (part?.id == null) {
    tell("Make a part first");
    return;
  }
  const reach = await extentOf(part.id, null, "build");
  if (reach === null) return;
  const { low, high } = reach as { low: Triple; high: Triple };
  const now = (part.placement?.translate ?? [0, 0, 0]) as Triple;
  const middle = (k: number) => ((low[k] as number) + (high[k] as number)) / 2;
  const by: Triple = [0, 0, 0];
  if (where === "floor" || where === "origin") by[1] = -low[1];
  if (where === "origin") [by[0], by[2]] = [-middle(0), -middle(2)];
  if (where === "x" || where === "y" || where === "z") by["xyz".indexOf(where)] = -middle("xyz".indexOf(where));
  const to = now.map((v, k) => Number((v + (by[k] as number)).toPrecision(12)) + 0) as Triple;
  if (to.every((v, k) => v === now[k])) return;
  await change("Place part", placeAll(part.id, to));
}

export type PivotSpot = "pick centre" | "pick base" | "part centre" | "part base" | "origin";

/** Put the part's pivot at the pick's centre or base, or at that of the part's bounds. */
export async function putPivot(where: PivotSpot): Promise<void> {
  const { pick, current } = editor.get();
  const part = partOf(editor.get(), current);
  if (part?.id == null) return;
  const ofPick = where.startsWith("pick");
  if (ofPick && (pick === null || pick.part !== part.id)) {
    tell("Pick something of the part first");
    return;
  }
  let at: Triple = [0, 0, 0];
  if (where !== "origin") {
    const reach = await extentOf(part.id, ofPick ? pick : null, "part");
    if (reach === null) return;
    const { low, high } = reach as { low: Triple; high: Triple };
    at = low.map((v, k) => Number(((v + (high[k] as number)) / 2).toPrecision(12))) as Triple;
    if (where.endsWith("base")) at[1] = low[1];
  }
  await change("Move pivot", setPart(part.id, { pivot: at }), `${part.id}/pivot`);
}

/** Set one coordinate of all that is picked, or shift it all alike until its lowest is there; as a step. */
export async function setCoordinate(axis: "x" | "y" | "z", at: number, by: "set" | "shift"): Promise<void> {
  await accept();
  const { pick } = editor.get();
  const part = partOf(editor.get(), pick?.part ?? null);
  if (pick === null || part?.id == null) return;
  const id = freeName("flatten", (part.steps ?? []).map((s) => s.id));
  await change(by === "set" ? `Set ${axis}` : `Shift along ${axis}`, addStep(part.id, { id, kind: "flatten", pick: pickRule(pick), to: axis, at, ...(by === "shift" ? { by } : {}) }));
}
