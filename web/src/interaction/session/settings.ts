import { deepEqual } from "fast-equals";

import { prefs } from "../../model/prefs";
import { same, touched } from "../../model/session/toolStep";
import { canHold, heldBy, transformSettings } from "../../model/steps/heldPlanes";
import { editor, type ToolSession, type Values } from "../../model/store";
import { armTransform } from "./arming";
import { accept, store } from "./storing";
import { ask, tryValues } from "./trial";

const SETTINGS: readonly string[] = ["frame", "about", "hold_plane", "falloff"];

/** The tool at work takes over a changed setting: anew where nothing was moved yet, as a correction where it can, else as a
 * further step. */
async function settingsChanged(): Promise<void> {
  const session = editor.get().session;
  if (session === null || session.dragging) return;
  if (session.tool !== "transform") return holdChanged(session);
  const own = transformSettings(session.part);
  const [now, without] = [true, false].map((set) => Object.fromEntries(Object.entries(session.values).filter(([k]) => SETTINGS.includes(k) === set)) as Values) as [Values, Values];
  if (same(own, now)) return;
  const stands = own["frame"] === now["frame"] && deepEqual(own["about"], now["about"]);
  if (session.stored !== null && stands) {
    editor.set({ session: { ...session, values: { ...without, ...own } } });
    tryValues({}, false);
    await store();
    return;
  }
  if (touched(session)) await accept();
  else editor.set({ session: null, preview: null, previewError: null });
  await armTransform(session.field);
}

/** Another plane to keep points on, for the tool at work. */
async function holdChanged(session: ToolSession): Promise<void> {
  const state = editor.get();
  const hold_plane = heldBy(session.part, session.tool)["hold_plane"] ?? "none";
  if (!canHold(state, session.tool) || hold_plane === (session.values["hold_plane"] ?? "none")) return;
  const begun = touched(session);
  const values = { ...session.values, hold_plane };
  editor.set({ session: { ...session, values, ...(begun ? {} : { initial: { ...session.initial, hold_plane } }) } });
  if (!begun) return;
  ask();
  if (session.stored !== null) await store();
}

/** From now on tools at work hear of changed settings; what ends it is handed back. */
export function followSettings(): () => void {
  return prefs.subscribe((now, before) => {
    if (now.frame !== before.frame || now.pivot !== before.pivot || now.hold !== before.hold || now.soft !== before.soft) void settingsChanged();
  });
}
