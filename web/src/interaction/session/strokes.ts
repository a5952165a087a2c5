import { addStroke } from "../../model/shaping/strokes";
import { keepsOut } from "../../model/document/parts";
import { asksFirst } from "../../model/session/toolStep";
import { editor, kindOf, partOf, type ToolSession, type Values } from "../../model/store";
import { change, tell, undoOrRedo } from "../../sync/build";
import { armStep, atRest } from "./arming";
import { begin } from "./begin";
import { accept } from "./storing";
import { endPreview } from "./trial";

/** The brush again with settings, masked by what is picked. */
function brushWith(part: string, settings: Values, masked: boolean): void {
  const { pick } = editor.get();
  const on = masked && pick?.part === part ? pick : null;
  begin("brush", part, on, on === null ? "nothing" : "pick", settings, { proposes: false, asks: "strokes" });
}

/** Take a stored step up by hand: with its handles, or, of strokes, to draw on with the same brush. */
export async function takeUp(part: string, stepId: string): Promise<void> {
  const kept = keepsOut(editor.get(), part);
  if (kept !== null) {
    tell(kept);
    return;
  }
  const step = partOf(editor.get(), part)?.steps?.find((s) => s.id === stepId);
  if (step?.kind !== "brush") {
    await armStep(part, stepId);
    return;
  }
  await accept();
  const beside = new Set(["id", "kind", "label", "enabled", "v", "pick", "strokes"]);
  const settings = Object.fromEntries(Object.entries(step).filter(([k, v]) => !beside.has(k) && v != null)) as Values;
  editor.set({ current: part });
  brushWith(part, { ...atRest("brush"), ...settings }, true);
}

/** Undo or redo; a brush at work stays at work, and so do the control points of a lattice while it is there. */
export async function undoAtWork(which: "undo" | "redo"): Promise<void> {
  const { session, gridPick } = editor.get();
  await undoOrRedo(which);
  const part = session === null ? null : partOf(editor.get(), session.part);
  if (session === null || part === null || editor.get().session !== null) return;
  if (session.tool === "brush") brushWith(session.part, settingsOf(session), session.takes === "pick");
  else if (session.tool === "lattice" && part.steps?.some((s) => s.id === session.stepId) && (await armStep(session.part, session.stepId))) editor.set({ gridPick });
}

function settingsOf(session: ToolSession): Values {
  return Object.fromEntries(Object.entries(session.values).filter(([name]) => name !== "strokes"));
}

/** Store the stroke that was drawn and stay ready for the next, which may be under way already. */
export async function storeStroke(session: ToolSession): Promise<void> {
  if (session.tool !== "brush" || asksFirst(session)) return;
  const fine = await change(kindOf(editor.get(), "brush")?.title ?? "Brush", addStroke(session));
  const now = editor.get().session;
  if (now?.tool !== "brush" || now.part !== session.part) return;
  const settings = settingsOf(now);
  if (now.values["strokes"] === session.values["strokes"]) {
    brushWith(now.part, settings, now.takes === "pick");
    endPreview();
  }
  if (fine) editor.set({ lastValues: { ...editor.get().lastValues, brush: settings } });
}
