import { change, previewer, tell } from "./editor";
import { addStep, freeName, setStep } from "./intents";
import { pickRule } from "./picks";
import { editor, partOf, type ToolName, type ToolSession, type TransformField, type Triple } from "./store";

type Values = ToolSession["values"];

export const DEFAULTS: Record<ToolName, Values> = {
  extrude: { depth: 0 },
  transform: { translate: [0, 0, 0], rotate: [0, 0, 0], scale: [1, 1, 1] },
};

const TITLES: Record<ToolName, string> = { extrude: "Extrude", transform: "Transform" };

export function same(a: Values | null, b: Values): boolean {
  return JSON.stringify(a) === JSON.stringify(b);
}

function touched(session: ToolSession): boolean {
  return !same(session.stored ?? DEFAULTS[session.tool], session.values);
}

/** Arm a tool on the pick, from its defaults. A tool at work before is accepted. */
export async function arm(tool: ToolName, field: TransformField = "translate"): Promise<void> {
  const at = editor.get().session;
  if (at?.tool === tool) {
    if (tool === "transform" && at.field !== field) editor.set({ session: { ...at, field } });
    return;
  }
  await accept();
  const { pick, build } = editor.get();
  const part = partOf(editor.get(), pick?.part ?? null);
  if (build === null || build.parts.length === 0) return;
  if (pick === null || part === null || (tool === "extrude" && pick.kind !== "faces")) {
    tell(tool === "extrude" ? "Extrude works on faces; pick some first (F, then click)" : `${TITLES[tool]} works on what is picked; pick something first`);
    return;
  }
  const stepId = freeName(tool, (part.steps ?? []).map((s) => s.id));
  editor.set({
    session: {
      tool,
      part: pick.part,
      pickKind: pick.kind,
      pickIds: pick.ids,
      stepId,
      values: { ...DEFAULTS[tool] },
      stored: null,
      field,
      dragging: false,
    },
    previewError: null,
  });
}

/** Show trial values; nothing is stored. */
export function tryValues(values: Values, dragging: boolean): void {
  const { session, build } = editor.get();
  if (session === null || build === null) return;
  editor.set({ session: { ...session, values: { ...session.values, ...values }, dragging } });
  const now = editor.get().session as ToolSession;
  previewer.ask({
    build: build.id,
    revision: build.revision,
    part: session.part,
    step: asStep(now),
    replace: session.stored === null ? null : session.stepId,
  });
}

function asStep(session: ToolSession): Record<string, unknown> {
  return { kind: session.tool, pick: pickRule({ kind: session.pickKind, ids: session.pickIds }), ...trimmed(session) };
}

/** The values worth writing down. */
function trimmed(session: ToolSession): Record<string, unknown> {
  const defaults = DEFAULTS[session.tool];
  if (session.tool === "extrude") return session.values;
  return Object.fromEntries(Object.entries(session.values).filter(([key, v]) => JSON.stringify(v) !== JSON.stringify(defaults[key])));
}

let storing: Promise<void> = Promise.resolve();

/** Store the trial values as they are now: a new step the first time, corrections of it afterwards, in one undo entry. */
export function store(): Promise<void> {
  storing = storing.then(async () => {
    const session = editor.get().session;
    if (session === null) return;
    editor.set({ session: { ...session, dragging: false } });
    if (!touched(session)) {
      endPreview();
      return;
    }
    const group = `${session.part}/${session.stepId}`;
    const intent =
      session.stored === null
        ? addStep(session.part, { id: session.stepId, ...asStep(session) })
        : setStep(session.part, session.stepId, { ...session.values });
    const values = session.values;
    const fine = await change(TITLES[session.tool], intent, group);
    const now = editor.get().session;
    if (now !== null && now.stepId === session.stepId) {
      editor.set({ session: fine ? { ...now, stored: values } : { ...now, values: session.stored ?? { ...DEFAULTS[session.tool] } } });
    }
    if (fine) {
      editor.set({ lastValues: { ...editor.get().lastValues, [session.tool]: values }, openStep: session.stepId });
    }
    endPreview();
  });
  return storing;
}

function endPreview(): void {
  previewer.cancel();
  if (!editor.get().session?.dragging) editor.set({ preview: null, previewError: null });
}

/** Store what was touched and lay the tool down. */
export async function accept(): Promise<void> {
  if (editor.get().session === null) return;
  await store();
  editor.set({ session: null });
  endPreview();
}

/** Back to what is stored, without a request; a tool with nothing to take back is laid down. */
export function cancel(): void {
  const session = editor.get().session;
  if (session === null) return;
  const back = session.stored ?? { ...DEFAULTS[session.tool] };
  const was = touched(session) || session.dragging;
  editor.set({ session: was ? { ...session, values: back, dragging: false } : null });
  endPreview();
}

/** The values used last with this tool, on the present pick. */
export async function useLast(): Promise<void> {
  const { session, lastValues } = editor.get();
  const last = session === null ? undefined : lastValues[session.tool];
  if (last === undefined) return;
  tryValues(last, false);
  await store();
}

export function triple(values: Values, key: string): Triple {
  const value = values[key];
  return Array.isArray(value) ? value : [0, 0, 0];
}
