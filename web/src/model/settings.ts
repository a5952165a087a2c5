import { prefs } from "./prefs";
import { editor, METRES, partOf, type Triple, unitOf, type Values } from "./store";

/** What transform takes from the way the person works: frame, pivot, the held plane, soft selection. */
export function transformSettings(partId: string): Values {
  const { frame, pivot, hold, soft } = prefs.get();
  const metres = METRES[unitOf(editor.get())];
  const out: Values = {};
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
