import type { Part } from "../api/client";
import { cageEnd } from "./intents";
import { prefs } from "./prefs";
import { editor, kindOf, METRES, partOf, type Triple, unitOf, type Values } from "./store";

/** The plane through the part's origin that an edit of a half holds: that of a live mirror below the working mark which cuts off what
 * lies beyond it. Nothing for kinds that move and make no points, and where there is no such mirror. */
export function heldBy(partId: string, word: string): Values {
  const state = editor.get();
  const part = partOf(state, partId);
  if (part === null || !(kindOf(state, word)?.parameters.some((p) => p.name === "hold_plane") ?? false)) return {};
  const mirror = mirrorsBelow(part)[0];
  return mirror === undefined || mirror.clip === false || (mirror.at ?? 0) !== 0 ? {} : { hold_plane: mirror.axis ?? "x" };
}

interface Mirror {
  readonly axis?: string;
  readonly at?: number;
  readonly keep?: string;
  readonly clip?: boolean;
}

function mirrorsBelow(part: Part): Mirror[] {
  return (part.steps ?? []).slice(cageEnd(part)).filter((s) => s.kind === "mirror" && s.enabled !== false) as Mirror[];
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
  const { frame, pivot, hold, soft } = prefs.get();
  const metres = METRES[unitOf(editor.get())];
  const out: Values = { ...heldBy(partId, "transform") };
  if (frame !== "part") out["frame"] = frame;
  if (pivot === "each" || pivot === "origin") out["about"] = pivot;
  if (pivot === "part") out["about"] = (partOf(editor.get(), partId)?.pivot ?? [0, 0, 0]) as Triple;
  if (hold !== "none") out["hold_plane"] = hold;
  if (soft.on) {
    const radius = Number((soft.radius / metres).toPrecision(9));
    out["falloff"] = { radius, fullness: soft.fullness, connected: soft.connected, ...(soft.curve === null ? {} : { curve: soft.curve }) };
  }
  return out;
}
