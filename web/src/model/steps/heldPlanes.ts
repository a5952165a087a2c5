import type { Part } from "../../api/client";
import { prefs } from "../prefs";
import { editor, type EditorState, kindOf, METRES, partOf, type Triple, unitOf, type Values } from "../store";
import { stepsBelow } from "./workingMark";

/** Whether a kind moves or makes points, and so can keep them on a plane. */
export function canHold(state: EditorState, word: string): boolean {
  return kindOf(state, word)?.parameters.some((p) => p.name === "hold_plane") ?? false;
}

/** The plane through the part's origin that an edit holds: the one the person chose, else that of the mirror that cuts the part.
 * Nothing for kinds that neither move nor make points, and where there is no such plane. */
export function heldBy(partId: string, word: string): Values {
  const state = editor.get();
  if (!canHold(state, word)) return {};
  const { hold } = prefs.get();
  const plane = hold === "none" ? cutBy(partOf(state, partId)) : hold === "free" ? null : hold;
  return plane === null ? {} : { hold_plane: plane };
}

/** The plane through the origin at which a live mirror below the working mark cuts off what lies beyond. */
export function cutBy(part: Part | null): "x" | "y" | "z" | null {
  const mirror = part === null ? undefined : mirrorsBelow(part)[0];
  return mirror === undefined || mirror.clip === false || (mirror.at ?? 0) !== 0 ? null : ((mirror.axis ?? "x") as "x" | "y" | "z");
}

interface Mirror {
  readonly axis?: string;
  readonly at?: number;
  readonly keep?: string;
  readonly clip?: boolean;
}

function mirrorsBelow(part: Part): Mirror[] {
  return stepsBelow(part).filter((s) => s.kind === "mirror") as Mirror[];
}

/** The planes of mirrors below a part's working mark that cut off what lies beyond them; in metres. */
export function cuttingMirrors(partId: string): { readonly axis: 0 | 1 | 2; readonly at: number; readonly side: 1 | -1 }[] {
  const state = editor.get();
  const part = partOf(state, partId);
  if (part === null) return [];
  return mirrorsBelow(part)
    .filter((m) => m.clip !== false)
    .map((m) => ({ axis: "xyz".indexOf(m.axis ?? "x") as 0 | 1 | 2, at: (m.at ?? 0) * METRES[unitOf(state)], side: m.keep === "-" ? -1 : 1 }));
}

/** What transform takes from the way the person works: frame, pivot, the held plane, soft selection. */
export function transformSettings(partId: string): Values {
  const { frame, pivot, soft } = prefs.get();
  const metres = METRES[unitOf(editor.get())];
  const out: Values = { ...heldBy(partId, "transform") };
  if (frame !== "part") out["frame"] = frame;
  if (pivot === "each" || pivot === "origin") out["about"] = pivot;
  if (pivot === "part") out["about"] = (partOf(editor.get(), partId)?.pivot ?? [0, 0, 0]) as Triple;
  if (soft.on) {
    const radius = Number((soft.radius / metres).toPrecision(9));
    out["falloff"] = { radius, fullness: soft.fullness, connected: soft.connected, ...(soft.curve === null ? {} : { curve: soft.curve }) };
  }
  return out;
}
