import { addStep, changeStep, together } from "../../model/document/intents";
import { asksFirst, asStep, same, touched } from "../../model/session/toolStep";
import { editor, kindOf, type ToolName, type Values } from "../../model/store";
import { change, followPick, storedAs } from "../../sync/build";
import { settleFields } from "../../sync/expression";
import { focusView } from "../focus";
import { begin } from "./begin";
import { besides } from "./besides";
import { ask, endPreview, tryValues } from "./trial";

function titleOf(tool: ToolName): string {
  return kindOf(editor.get(), tool)?.title ?? tool;
}

let storing: Promise<void> = Promise.resolve();
/** whether what was to be stored last was refused; what was typed stays as it was typed */
let refused = false;
/** the last tool that Enter in one of its numbers ends */
let ending: Promise<void> = Promise.resolve();

/** Store the trial values as they are now: a new step the first time, corrections of it afterwards, in one undo entry. */
export function store(): Promise<void> {
  storing = storing.then(async () => {
    const session = editor.get().session;
    refused = false;
    if (session === null) return;
    editor.set({ session: { ...session, dragging: false } });
    if (asksFirst(session) || !touched(session)) {
      if (session.hover === null) endPreview();
      return;
    }
    // each move of a lattice's points is undone by itself
    const group = session.tool === "lattice" ? null : `${session.part}/${session.stepId}`;
    const intent =
      session.stored === null
        ? together(addStep(session.part, { id: session.stepId, ...asStep(session) }), ...besides(session))
        : changeStep(session.part, session.stepId, session.stored, session.values);
    const values = session.values;
    const fine = await change(titleOf(session.tool), intent, group);
    refused = !fine;
    const now = editor.get().session;
    const stepId = fine && session.stored === null ? storedAs(session.stepId) : session.stepId;
    if (now !== null && now.stepId === session.stepId) {
      editor.set({ session: fine ? { ...now, stepId, stored: values } : session.dragging ? { ...now, values: session.stored ?? session.initial } : now });
    }
    if (fine) {
      editor.set({ lastValues: { ...editor.get().lastValues, [session.tool]: values }, openStep: stepId });
    }
    if (fine && session.stored === null && session.takes === "pick") await followPick(session.part, stepId);
    if (fine || session.dragging) endPreview();
    else ask();
  });
  return storing;
}

/** Once what is being stored is stored, and what Enter ends has ended. */
export async function stored(): Promise<void> {
  await ending;
  await storing;
}

/** The acceptance under way, so that a tool chosen meanwhile waits for it. */
let underway: Promise<void> = Promise.resolve();

/** Once no acceptance is under way. */
export function closing(): Promise<void> {
  return underway;
}

/** Store what was touched and lay the tool down. */
export function accept(): Promise<void> {
  const session = editor.get().session;
  if (session === null) return underway;
  underway = store().then(() => {
    const at = editor.get().session;
    if (at?.stepId === session.stepId || at?.stepId === storedAs(session.stepId)) editor.set({ session: null });
    endPreview();
  });
  return underway;
}

/** Enter in a number of the tool, which stores it: the tool is done, what is pressed from then on is meant for the view. What
 * cannot be read, or was refused, can be typed anew. */
export function finish(): void {
  focusView();
  ending = settleFields().then(async () => {
    await storing;
    const { session } = editor.get();
    if (!refused && session !== null && session.stored !== null && same(session.stored, session.values)) await accept();
  });
}

/** Back to what is stored, without a request; a tool with nothing to take back is laid down. */
export function cancel(): void {
  const session = editor.get().session;
  if (session === null) return;
  const was = session.dragging || (session.stored === null ? !same(session.initial, session.values) : touched(session));
  editor.set({ session: was ? { ...session, values: session.stored ?? session.initial, hover: null, dragging: false } : null });
  endPreview();
  if (was && session.stored === null && session.proposes) tryValues({}, false);
}

/** The values used last with this tool, on the present pick. */
export async function useLast(): Promise<void> {
  const { session, lastValues } = editor.get();
  const last = session === null ? undefined : lastValues[session.tool];
  if (last === undefined) return;
  tryValues(last, false);
  await store();
}

/** Store what a click decided and stay ready for the next. */
export async function storeAndGoOn(values: Values): Promise<void> {
  const session = editor.get().session;
  if (session === null) return;
  editor.set({ session: { ...session, hover: null, values: { ...session.values, ...values } } });
  await store();
  const now = editor.get().session;
  if (now === null || now.stepId !== session.stepId || now.stored === null) return;
  begin(now.tool, now.part, null, "nothing", now.initial, { proposes: false, asks: now.asks });
}
