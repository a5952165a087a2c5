import type { Part, Step } from "../../api/client";
import { type Intent, setMark, setStep } from "../../model/document/intents";
import { pickRule, restorePick } from "../../model/picks/picks";
import { editor, partsOf, type PickKind } from "../../model/store";
import { change, light } from "../../sync/build";
import { accept } from "../session/storing";

const KINDS: readonly PickKind[] = ["faces", "edges", "vertices"];

/** The ids a step picks by, of which kind, and the parameter that holds them; null where it picks by a rule. */
export function idsPickedBy(step: Step): { kind: PickKind; ids: string[]; through: boolean } | null {
  const held = step as unknown as { pick?: Record<string, { ids?: unknown[] } | string>; through?: { ids?: unknown[] } | string };
  const told = (rule: { ids?: unknown[] } | string | undefined) =>
    typeof rule === "object" && Array.isArray(rule.ids) ? rule.ids.map((i) => (Array.isArray(i) ? i.join("-") : String(i))) : null;
  const through = told(held.through);
  if (through !== null) return { kind: "edges", ids: through, through: true };
  for (const kind of KINDS) {
    const ids = told(held.pick?.[kind]);
    if (ids !== null) return { kind, ids, through: false };
  }
  return null;
}

function found(part: string, step: string): { part: Part; index: number; step: Step } | null {
  const of = partsOf(editor.get()).find((p) => p.id === part);
  const index = of?.steps?.findIndex((s) => s.id === step) ?? -1;
  const at = of?.steps?.[index];
  return of === undefined || at === undefined ? null : { part: of, index, step: at };
}

/** The view goes back to what stands above a step, with what it picked shown, so that it can be picked anew. */
export async function pickAgain(part: string, step: string): Promise<void> {
  await accept();
  const at = found(part, step);
  const above = at?.part.steps?.[at.index - 1]?.id;
  if (at === null || above == null) return;
  const old = idsPickedBy(at.step);
  const mark = at.part.mark ?? null;
  if (mark !== above && !(await change("Pick again", setMark(part, above), entry(step)))) return;
  editor.set({
    pickingAgain: { part, step, mark },
    openStep: step,
    current: part,
    ...(old === null ? {} : { pickKind: old.kind }),
  });
  if (old !== null) restorePick({ part, kind: old.kind, ids: old.ids, elements: [] }); // the old place, as far as it is there
  void light(part, step); // and what the step acts on by now
  (document.activeElement as HTMLElement | null)?.blur();
}

/** Give the step what is picked now, and the working mark its place. */
export async function useNewPick(): Promise<void> {
  const { pickingAgain, pick } = editor.get();
  const at = pickingAgain === null ? null : found(pickingAgain.part, pickingAgain.step);
  if (pickingAgain === null || at === null || pick === null || pick.part !== pickingAgain.part || pick.ids.length === 0) return;
  const through = "through" in at.step;
  const rule = pickRule(pick);
  const values = through ? { through: rule["edges"] } : { pick: rule };
  if (through && pick.kind !== "edges") return;
  if (await change("Pick again", setStep(pickingAgain.part, pickingAgain.step, values), entry(pickingAgain.step))) await leavePickingAgain();
}

/** Put the working mark back where it was. */
export async function leavePickingAgain(): Promise<void> {
  const { pickingAgain } = editor.get();
  if (pickingAgain === null) return;
  editor.set({ pickingAgain: null, pick: null });
  const back: Intent = setMark(pickingAgain.part, pickingAgain.mark);
  await change("Pick again", back, entry(pickingAgain.step));
}

/** All of it is one undo entry. */
function entry(step: string): string {
  return `again/${step}`;
}
