import { Matrix4, Vector3 } from "three";

import { addStep, freeName, setPart } from "../model/intents";
import { type Key, setMember } from "../model/members";
import { pickRule } from "../model/picks";
import { matrixWithin } from "../model/place";
import { editor, groupsOf, METRES, partOf, type Triple, unitOf } from "../model/store";
import { change, tell } from "../sync/build";
import { extentOf } from "../sync/extent";
import { accept } from "./session/storing";
import { lineUp } from "./together";

export type Spot = "origin" | "x" | "y" | "z" | "floor";

/** Put what is chosen somewhere by one press: its base's middle to the origin, its middle onto an axis plane, its lowest point onto
 * the floor. */
export function putPart(where: Spot): Promise<void> {
  return lineUp(where === "floor" || where === "origin" ? { how: where } : { how: "centre", axis: where });
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

/** Turn a part or group about the one picked edge, or slide it along. */
export async function hingeOnPick(kind: "turn" | "slide", key: Key): Promise<void> {
  await accept();
  const state = editor.get();
  const { pick, meshes } = state;
  const mesh = pick === null ? undefined : meshes[pick.part]?.mesh.cage;
  const part = partOf(state, pick?.part ?? null);
  if (pick === null || part === null || mesh === undefined || pick.kind !== "edges" || pick.elements.length !== 1) {
    tell("Pick one edge first: it becomes the axis");
    return;
  }
  const metres = METRES[unitOf(state)];
  const into = key.startsWith("g:") ? matrixWithin(part, metres, groupsOf(state), key.slice(2)) : new Matrix4();
  const [a, b] = [0, 1].map((k) => new Vector3().fromArray(mesh.positions, 3 * (mesh.shape.edges[2 * (pick.elements[0] as number) + k] as number)).applyMatrix4(into)) as [Vector3, Vector3];
  const tidy = (v: Vector3) => v.toArray().map((x) => Number(x.toFixed(6)) + 0);
  // an upright axis runs up, a lying one to the right or to the front, whichever way the edge runs
  const axis = b.clone().sub(a).normalize();
  const lead = [axis.y, axis.x, axis.z].find((v) => Math.abs(v) > 1e-6) ?? 1;
  if (lead < 0) axis.negate();
  const to = kind === "turn" ? 90 : Number((a.distanceTo(b) / metres).toPrecision(2));
  const at = a.add(b).divideScalar(2 * metres);
  await change(kind === "turn" ? "Hinge" : "Slide", setMember(key, { joint: { kind, at: tidy(at), axis: tidy(axis), from: 0, to, now: 0 } }));
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
