import type { KindInfo, Parameter } from "../api/client";
import { change, previewer, tell } from "./editor";
import { addStep, freeName, setStep } from "./intents";
import { pickRule, verticesOf } from "./picks";
import { editor, kindOf, METRES, partOf, unitOf, type EditorState, type Picked, type ToolName, type ToolSession, type TransformField, type Triple, type Value, type Values } from "./store";

/** Tools that begin with nothing done. */
export const DEFAULTS: Record<ToolName, Values> = {
  extrude: { depth: 0 },
  transform: { translate: [0, 0, 0], rotate: [0, 0, 0], scale: [1, 1, 1] },
};

const MOST_SPOTS = 200;

export function same(a: Values | null, b: Values): boolean {
  return JSON.stringify(a) === JSON.stringify(b);
}

function touched(session: ToolSession): boolean {
  if (session.stored === null) return session.proposes || !same(session.initial, session.values);
  return !same(session.stored, session.values);
}

function titleOf(tool: ToolName): string {
  return kindOf(editor.get(), tool)?.title ?? tool;
}

/** Arm extrude or transform on the pick, from their defaults. A tool at work before is accepted. */
export async function arm(tool: "extrude" | "transform", field: TransformField = "translate"): Promise<void> {
  const at = editor.get().session;
  if (at?.tool === tool) {
    if (tool === "transform" && at.field !== field) editor.set({ session: { ...at, field } });
    return;
  }
  await accept();
  const { pick, build } = editor.get();
  if (build === null || build.parts.length === 0) return;
  if (pick === null || partOf(editor.get(), pick.part) === null || (tool === "extrude" && pick.kind !== "faces")) {
    tell(tool === "extrude" ? "Extrude works on faces; pick some first (F, then click)" : `${titleOf(tool)} works on what is picked; pick something first`);
    return;
  }
  begin(tool, pick.part, pick, "pick", { ...(DEFAULTS[tool] as Values) }, { field, proposes: false });
}

/** Arm the tool of any kind of step: on the pick, or on the whole part where the kind takes none. */
export async function armKind(kind: KindInfo): Promise<void> {
  const { current, pick } = editor.get();
  if (editor.get().session?.tool === kind.word) return;
  await accept();
  const whole = kind.takes.length === 0;
  const fits = pick !== null && kind.takes.includes(pick.kind);
  if (!whole && !fits && kind.word !== "slice") {
    tell(`${kind.title} works on ${kind.takes.join(" or ")}; pick some first`);
    return;
  }
  const part = fits ? (pick as Picked).part : current;
  if (partOf(editor.get(), part) === null || part === null) return;
  const draws = kind.word === "slice" || kind.word === "cut";
  begin(kind.word, part, fits ? pick : null, fits ? (kind.picks as "pick" | "through") : "nothing", proposal(kind, part, fits ? pick : null), { proposes: !draws });
  if (!draws) tryValues({}, false);
}

function begin(tool: ToolName, part: string, pick: Picked | null, takes: ToolSession["takes"], initial: Values, more: { field?: TransformField; proposes: boolean }): void {
  const steps = partOf(editor.get(), part)?.steps ?? [];
  editor.set({
    session: {
      tool,
      part,
      pickKind: pick?.kind ?? "faces",
      pickIds: pick?.ids ?? [],
      takes,
      spots: spots(editor.get(), part, pick),
      stepId: freeName(tool, steps.map((s) => s.id)),
      values: initial,
      initial,
      stored: null,
      field: more.field ?? "translate",
      proposes: more.proposes,
      dragging: false,
    },
    previewError: null,
  });
}

/** The middle of what is picked, or of the part, and its greatest extent; metres, in the part's axes. */
function middle(state: EditorState, part: string, pick: Picked | null): { at: Triple; size: number } {
  const mesh = state.meshes[part]?.mesh.cage;
  if (mesh === undefined || mesh.positions.length === 0) return { at: [0, 0, 0], size: 0.1 };
  const low: Triple = [Infinity, Infinity, Infinity];
  const high: Triple = [-Infinity, -Infinity, -Infinity];
  const vertices = pick === null ? Array.from({ length: mesh.positions.length / 3 }, (_, i) => i) : verticesOf(mesh, pick.kind, pick.elements);
  for (const v of vertices) {
    for (let k = 0; k < 3; k++) {
      low[k] = Math.min(low[k] as number, mesh.positions[3 * v + k] as number);
      high[k] = Math.max(high[k] as number, mesh.positions[3 * v + k] as number);
    }
  }
  const at = low.map((l, k) => (l + (high[k] as number)) / 2) as Triple;
  return { at, size: Math.max(...high.map((h, k) => h - (low[k] as number)), 1e-4) };
}

/** Middles of the picked edges or vertices; of faces, or of a whole part, the one middle. */
function spots(state: EditorState, part: string, pick: Picked | null): Triple[] {
  const mesh = state.meshes[part]?.mesh.cage;
  if (pick === null || pick.kind === "faces" || mesh === undefined) return [middle(state, part, pick).at];
  return pick.elements.slice(0, MOST_SPOTS).map((e) => {
    const ends = pick.kind === "vertices" ? [e, e] : [mesh.shape.edges[2 * e] as number, mesh.shape.edges[2 * e + 1] as number];
    return [0, 1, 2].map((k) => ((mesh.positions[3 * (ends[0] as number) + k] as number) + (mesh.positions[3 * (ends[1] as number) + k] as number)) / 2) as Triple;
  });
}

/** A round number of the unit near so many metres. */
function round(metres: number): number {
  const value = metres / METRES[unitOf(editor.get())];
  const power = 10 ** Math.floor(Math.log10(Math.max(value, 1e-9)));
  const lead = value / power;
  return Number(((lead < 1.5 ? 1 : lead < 3.5 ? 2 : lead < 7.5 ? 5 : 10) * power).toPrecision(3));
}

/** Numbers to begin with, in proportion to what is picked: a first result to correct rather than an empty form. */
function proposal(kind: KindInfo, part: string, pick: Picked | null): Values {
  const { size } = middle(editor.get(), part, pick);
  const values: Values = {};
  for (const p of kind.parameters) {
    if (p.default !== null && p.default !== undefined && p.quantity !== "other") values[p.name] = p.default as Value;
    else if (p.required && p.count === 1) values[p.name] = first(p, size);
  }
  const own: Record<string, Values> = {
    weld: { distance: round(size * 0.002) },
    extrude_edges: { width: round(size * 0.2), height: 0 },
    slide: { amount: 0.25 },
    crease: { sharpness: 3 },
    mirror: { axis: "x" },
    duplicate: { translate: [round(size), 0, 0] },
    ridge: { width: round(size * 0.08), height: round(size * 0.04) },
    shell: { thickness: -round(size * 0.04) },
  };
  return { ...values, ...own[kind.word] };
}

function first(p: Parameter, size: number): Value {
  if (p.quantity === "length") return round(size * 0.08);
  if (p.quantity === "choice") return p.choices[0] ?? "";
  return p.quantity === "angle" ? 30 : 1;
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

/** Leave a value out again, as if it had never been given. */
export function dropValue(name: string): void {
  const { session } = editor.get();
  if (session === null) return;
  const values = Object.fromEntries(Object.entries(session.values).filter(([key]) => key !== name));
  editor.set({ session: { ...session, values } });
  tryValues({}, false);
}

function asStep(session: ToolSession): Record<string, unknown> {
  const rule = pickRule({ kind: session.pickKind, ids: session.pickIds });
  const on = session.takes === "pick" ? { pick: rule } : session.takes === "through" ? { through: rule[session.pickKind] } : {};
  return { kind: session.tool, ...on, ...trimmed(session) };
}

/** The values worth writing down: what repeats a default is left out. */
function trimmed(session: ToolSession): Values {
  if (session.tool === "extrude") return session.values;
  const own = DEFAULTS[session.tool];
  const parameters = kindOf(editor.get(), session.tool)?.parameters ?? [];
  const repeats = (key: string, v: Value) => {
    const parameter = parameters.find((p) => p.name === key);
    return JSON.stringify(v) === JSON.stringify(own?.[key] ?? (parameter?.required ? undefined : parameter?.default));
  };
  return Object.fromEntries(Object.entries(session.values).filter(([key, v]) => !repeats(key, v)));
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
        : setStep(session.part, session.stepId, { ...Object.fromEntries(Object.keys(session.stored).map((k) => [k, undefined])), ...session.values });
    const values = session.values;
    const fine = await change(titleOf(session.tool), intent, group);
    const now = editor.get().session;
    if (now !== null && now.stepId === session.stepId) {
      editor.set({ session: fine ? { ...now, stored: values } : { ...now, values: session.stored ?? session.initial } });
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
  const was = session.dragging || (session.stored === null ? !same(session.initial, session.values) : touched(session));
  editor.set({ session: was ? { ...session, values: session.stored ?? session.initial, dragging: false } : null });
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

export function triple(values: Values, key: string): Triple {
  const value = values[key];
  return Array.isArray(value) ? (value as Triple) : [0, 0, 0];
}
