import { Matrix4, Quaternion, Vector3 } from "three";

import type { Part } from "../../api/client";
import { type Key, memberOf, type Placement } from "../document/members";
import { matrixAbove, matrixOf } from "./frames";
import { placementOf } from "./mirroring";
import { editor, type EditorState, groupsOf, METRES, type Triple, unitOf } from "../store";
import { turnsOf } from "./turns";

/** Placements of members after a change of the build. What a placement cannot say (a slant) comes as near as it can. */
export function placementsAfter(keys: readonly Key[], change: Matrix4): Record<Key, Placement> {
  const state = editor.get();
  const metres = METRES[unitOf(state)];
  const out: Record<Key, Placement> = {};
  for (const key of keys) {
    const member = memberOf(state, key);
    if (member === null) continue;
    const above = matrixAbove(member, metres, groupsOf(state));
    const own = matrixOf({ ...member, group: null, joint: null } as Part, metres, []);
    const whole = above.clone().invert().multiply(change).multiply(above).multiply(own);
    const [place, turn, scale] = [new Vector3(), new Quaternion(), new Vector3()];
    whole.decompose(place, turn, scale);
    const was = (member.placement ?? {}) as { rotate?: Triple; scale?: Triple };
    const tidy = (v: number) => Number(v.toPrecision(9)) + 0;
    const rotate = turnsOf(turn);
    const factors = scale.toArray().map((v) => Number(v.toPrecision(9)));
    const differs = (a: readonly number[], b: readonly number[], least: number) => a.some((v, k) => Math.abs(v - (b[k] as number)) > least);
    out[key] = {
      ...was,
      translate: place.toArray().map((v) => tidy(Number((v / metres).toFixed(7)))) as Triple,
      ...(differs(rotate, was.rotate ?? [0, 0, 0], 1e-5) ? { rotate } : {}),
      ...(differs(factors, was.scale ?? [1, 1, 1], 1e-9) ? { scale: factors as Triple } : {}),
    };
  }
  return out;
}

/** The placement by which a member stays where it is when it goes into a group, or out of all; null where it need not change. */
export function stayingPut(state: EditorState, key: Key, group: string | null): Placement | null {
  const member = memberOf(state, key);
  if (member === null || (member.group ?? null) === group) return null;
  const metres = METRES[unitOf(state)];
  const [from, to] = [matrixAbove(member, metres, groupsOf(state)), matrixAbove({ group }, metres, groupsOf(state))];
  if (from.equals(to)) return null;
  const own = matrixOf({ ...member, group: null, joint: null } as Part, metres, []);
  return placementOf(to.invert().multiply(from).multiply(own), metres);
}
