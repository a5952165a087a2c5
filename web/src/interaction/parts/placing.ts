import { Box3, Matrix4, Vector3 } from "three";

import { addStep, freeName, setPart } from "../../model/document/intents";
import { type Key, memberOf, setMember } from "../../model/document/members";
import { groupsAround, isSet } from "../../model/document/parts";
import { pickRule } from "../../model/picks/picks";
import { matrixOf, matrixWithin } from "../../model/places/frames";
import { heldBy } from "../../model/steps/heldPlanes";
import { editor, type EditorState, groupsOf, METRES, partOf, partsOf, type Triple, unitOf } from "../../model/store";
import { change, tell } from "../../sync/build";
import { extentOf } from "../../sync/extent";
import { accept } from "../session/storing";
import { lineUp } from "./wholes";

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

/** Turn a part or group about the one picked edge or the line through two picked points, or slide it along; with neither, about an
 * upright axis through its pivot. */
export async function giveJoint(kind: "turn" | "slide", key: Key): Promise<void> {
  await accept();
  const state = editor.get();
  const member = memberOf(state, key);
  if (member === null) return;
  const metres = METRES[unitOf(state)];
  const tidy = (v: Vector3) => v.toArray().map((x) => Number(x.toFixed(6)) + 0);
  const ends = pickedAxis(state, key);
  let [at, axis, length] = [new Vector3(...((member.pivot ?? [0, 0, 0]) as Triple)), new Vector3(0, 1, 0), 10];
  if (ends !== null) {
    const [a, b] = ends;
    // an upright axis runs up, a lying one to the right or to the front, whichever way the edge runs
    axis = b.clone().sub(a).normalize();
    const lead = [axis.y, axis.x, axis.z].find((v) => Math.abs(v) > 1e-6) ?? 1;
    if (lead < 0) axis.negate();
    length = Number((a.distanceTo(b) / metres).toPrecision(2));
    at = a.clone().add(b).divideScalar(2 * metres);
  }
  if (kind === "turn" && swingsInwards(state, key, at.clone().multiplyScalar(metres), axis)) axis.negate();
  const to = kind === "turn" ? 90 : length;
  await change(kind === "turn" ? "Hinge" : "Slide", setMember(key, { joint: { kind, at: tidy(at), axis: tidy(axis), from: 0, to, now: 0 } }));
}

/** Whether turning a little about an axis, in the member's own axes, would bring it towards the other parts rather than away from
 * them. */
function swingsInwards(state: EditorState, key: Key, at: Vector3, axis: Vector3): boolean {
  const [metres, groups] = [METRES[unitOf(state)], groupsOf(state)];
  const [own, others] = [new Box3(), new Box3()];
  let out: Matrix4 | null = null;
  for (const part of partsOf(state)) {
    const mesh = part.id == null ? undefined : state.meshes[part.id]?.mesh;
    if (mesh === undefined || isSet(part, groups, "hidden")) continue;
    const matrix = matrixOf(part, metres, groups);
    const ours = key === `p:${part.id}` || groupsAround(part, groups).some((g) => key === `g:${g.id}`);
    if (ours && out === null) out = key.startsWith("g:") ? matrix.clone().multiply(matrixWithin(part, metres, groups, key.slice(2)).invert()) : matrix;
    const positions = (mesh.surface ?? mesh.cage).positions;
    for (let i = 0; i + 2 < positions.length; i += 3) (ours ? own : others).expandByPoint(new Vector3().fromArray(positions, i).applyMatrix4(matrix));
  }
  if (own.isEmpty() || others.isEmpty() || out === null) return false;
  const through = at.clone().applyMatrix4(out);
  const along = axis.clone().transformDirection(out);
  const [middle, apart] = [own.getCenter(new Vector3()), others.getCenter(new Vector3())];
  const move = along.cross(middle.clone().sub(through));
  return move.dot(middle.sub(apart)) < -1e-9;
}

/** The ends of the one picked edge, or the two picked points, in the axes of the part or group. */
function pickedAxis(state: EditorState, key: Key): readonly [Vector3, Vector3] | null {
  const { pick, meshes } = state;
  const mesh = pick === null ? undefined : meshes[pick.part]?.mesh.cage;
  const part = partOf(state, pick?.part ?? null);
  if (pick === null || part === null || mesh === undefined) return null;
  const ours = key === `p:${part.id}` || groupsAround(part, groupsOf(state)).some((g) => key === `g:${g.id}`);
  const vertices = pick.kind === "vertices" ? pick.elements : pick.kind === "edges" ? pick.elements.flatMap((e) => [mesh.shape.edges[2 * e] as number, mesh.shape.edges[2 * e + 1] as number]) : [];
  if (!ours || vertices.length !== 2) return null;
  const into = key.startsWith("g:") ? matrixWithin(part, METRES[unitOf(state)], groupsOf(state), key.slice(2)) : new Matrix4();
  const [a, b] = vertices.map((v) => new Vector3().fromArray(mesh.positions, 3 * v).applyMatrix4(into)) as [Vector3, Vector3];
  return a.distanceTo(b) < 1e-9 ? null : [a, b];
}

/** Set one coordinate of all that is picked, or shift it all alike until its lowest is there; as a step. */
export async function setCoordinate(axis: "x" | "y" | "z", at: number, by: "set" | "shift"): Promise<void> {
  await accept();
  const { pick } = editor.get();
  const part = partOf(editor.get(), pick?.part ?? null);
  if (pick === null || part?.id == null) return;
  const id = freeName("flatten", (part.steps ?? []).map((s) => s.id));
  await change(by === "set" ? `Set ${axis}` : `Shift along ${axis}`, addStep(part.id, { id, kind: "flatten", pick: pickRule(pick), to: axis, at, ...(heldBy(part.id, "flatten")["hold_plane"] === axis ? {} : heldBy(part.id, "flatten")), ...(by === "shift" ? { by } : {}) }));
}
