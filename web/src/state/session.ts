import type { KindInfo, Parameter, Part } from "../api/client";
import { change, previewer, tell } from "./editor";
import { addStep, freeName, setStep } from "./intents";
import { pickRule } from "./picks";
import { axesOf, middle, pivotOf } from "./place";
import { prefs, type Frame } from "./prefs";
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
  await closing;
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
  const own = tool === "transform" ? settings(pick.part) : {};
  begin(tool, pick.part, pick, "pick", { ...(DEFAULTS[tool] as Values), ...own }, { field, proposes: false });
  if (own["falloff"] !== undefined) tryValues({}, false); // the core tells the weights
}

/** What transform takes from the way the person works: frame, pivot, the held plane, soft selection. */
function settings(partId: string): Values {
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

const SETTINGS = ["frame", "about", "hold_plane", "falloff"] as const;

/** The tool at work takes over a changed setting: anew where nothing was moved yet, as a correction where it can, else as a
 * further step. */
async function settingsChanged(): Promise<void> {
  const session = editor.get().session;
  if (session === null || session.tool !== "transform" || session.dragging) return;
  const own = settings(session.part);
  if (JSON.stringify(own) === JSON.stringify(Object.fromEntries(SETTINGS.filter((k) => session.values[k] !== undefined).map((k) => [k, session.values[k]])))) return;
  const without = Object.fromEntries(Object.entries(session.values).filter(([k]) => !SETTINGS.includes(k as "frame")));
  const stands = own["frame"] === session.values["frame"] && JSON.stringify(own["about"]) === JSON.stringify(session.values["about"]);
  if (session.stored !== null && stands) {
    editor.set({ session: { ...session, values: { ...without, ...own } } });
    tryValues({}, false);
    await store();
    return;
  }
  if (touched(session)) await accept();
  else editor.set({ session: null, preview: null, previewError: null });
  await arm("transform", session.field);
}

prefs.subscribe((now, before) => {
  if (now.frame !== before.frame || now.pivot !== before.pivot || now.hold !== before.hold || now.soft !== before.soft) void settingsChanged();
});

/** Move what is picked by so much along the part's own axes, as a trial to accept or take back. */
export async function proposeMove(by: Triple): Promise<boolean> {
  await accept();
  const { pick } = editor.get();
  if (pick === null) return false;
  begin("transform", pick.part, pick, "pick", DEFAULTS["transform"] as Values, { field: "translate", proposes: false });
  tryValues({ translate: by }, false);
  return true;
}

/** The same tool on the same pick as a further step: what is turned already is scaled along other axes. */
export async function renew(): Promise<boolean> {
  const session = editor.get().session;
  if (session === null || session.tool !== "transform") return false;
  await accept();
  await arm("transform", "scale");
  return editor.get().session !== null;
}

/** Take up a stored step again with its tool. */
export async function armStep(part: string, stepId: string): Promise<boolean> {
  await accept();
  const step = partOf(editor.get(), part)?.steps?.find((s) => s.id === stepId);
  const kind = step === undefined ? null : kindOf(editor.get(), step.kind);
  if (step === undefined || kind === null) return false;
  const beside = new Set(["id", "kind", "label", "enabled", "live", "v", "pick", "through"]);
  const values = Object.fromEntries(Object.entries(step).filter(([k]) => !beside.has(k))) as Values;
  begin(step.kind, part, null, "nothing", values, { proposes: false });
  const session = editor.get().session as ToolSession;
  editor.set({ session: { ...session, stepId, stored: values }, openStep: stepId });
  return true;
}

/** Extrude what is picked along an arrow. */
export async function armExtrude(along: string | Triple): Promise<boolean> {
  await accept();
  const { pick } = editor.get();
  if (pick === null || pick.kind !== "faces") return false;
  begin("extrude", pick.part, pick, "pick", { depth: 0, along }, { proposes: false });
  return true;
}

/** Inset what is picked. */
export async function armInset(): Promise<boolean> {
  await accept();
  const { pick } = editor.get();
  if (pick === null || pick.kind !== "faces") return false;
  begin("inset", pick.part, pick, "pick", { width: 0 }, { proposes: false });
  return true;
}

/** Arm the tool of any kind of step: on the pick, or on the whole part where the kind takes none. */
export async function armKind(kind: KindInfo): Promise<void> {
  await closing;
  const { current, pick } = editor.get();
  if (editor.get().session?.tool === kind.word) return;
  await accept();
  const whole = kind.takes.length === 0;
  const fits = pick !== null && kind.takes.includes(pick.kind);
  const places = kind.word === "insert_loop" && !fits; // loops one after the other, under the pointer
  if (!whole && !fits && kind.word !== "slice" && !places) {
    tell(`${kind.title} works on ${kind.takes.join(" or ")}; pick some first`);
    return;
  }
  const part = fits ? (pick as Picked).part : current;
  if (partOf(editor.get(), part) === null || part === null) return;
  const draws = kind.word === "slice" || kind.word === "cut" || places;
  begin(kind.word, part, fits ? pick : null, fits ? (kind.picks as "pick" | "through") : "nothing", proposal(kind, part, fits ? pick : null), { proposes: !draws });
  if (!draws) tryValues({}, false);
}

function begin(tool: ToolName, part: string, pick: Picked | null, takes: ToolSession["takes"], initial: Values, more: { field?: TransformField; proposes: boolean }): void {
  const held = partOf(editor.get(), part);
  const steps = held?.steps ?? [];
  const mesh = editor.get().meshes[part]?.mesh.cage;
  const frame = (initial["frame"] as Frame | undefined) ?? "part";
  editor.set({
    session: {
      tool,
      part,
      pickKind: pick?.kind ?? "faces",
      pickIds: pick?.ids ?? [],
      takes,
      spots: spots(editor.get(), part, pick),
      pivot: held === null ? [0, 0, 0] : pivotOf(held, mesh, pick, unitOf(editor.get())),
      axes: held === null ? axesOf("part", {} as Part, undefined, null) : axesOf(frame, held, mesh, pick),
      stepId: freeName(tool, steps.map((s) => s.id)),
      values: initial,
      initial,
      stored: null,
      field: more.field ?? "translate",
      proposes: more.proposes,
      dragging: false,
      hovering: false,
    },
    previewError: null,
    soft: null,
  });
}

/** Middles of the picked edges or vertices; of faces, or of a whole part, the one middle. */
function spots(state: EditorState, part: string, pick: Picked | null): Triple[] {
  const mesh = state.meshes[part]?.mesh.cage;
  if (pick === null || pick.kind === "faces" || mesh === undefined) return [middle(mesh, pick).at];
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
  const { size } = middle(editor.get().meshes[part]?.mesh.cage, pick);
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
  if (asksFirst({ ...session, values: { ...session.values, ...values } })) {
    editor.set({ session: { ...session, values: { ...session.values, ...values }, initial: { ...session.initial, ...values } } });
    return;
  }
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

/** The trial as the core is asked for it, null where there is none. */
export function trialNow(): { part: string; step: Record<string, unknown>; replace: string | null } | null {
  const { session } = editor.get();
  if (session === null || asksFirst(session) || !touched(session)) return null;
  return { part: session.part, step: asStep(session), replace: session.stored === null ? null : session.stepId };
}

/** Loops without a place yet: there is nothing to show or store before one is pointed at. */
function asksFirst(session: ToolSession): boolean {
  return session.tool === "insert_loop" && session.takes === "nothing" && session.values["through"] === undefined;
}

/** Show what a click would do; nothing counts before it. */
export function tryHover(values: Values): void {
  const { session } = editor.get();
  if (session === null) return;
  editor.set({ session: { ...session, hovering: true } });
  tryValues(values, false);
}

/** The pointer went elsewhere: what it showed is gone. */
export function endHover(): void {
  const { session } = editor.get();
  if (session === null || !session.hovering) return;
  editor.set({ session: { ...session, values: session.initial, hovering: false } });
  endPreview();
}

/** Store what a click decided and stay ready for the next. */
export async function storeAndGoOn(values: Values): Promise<void> {
  const session = editor.get().session;
  if (session === null) return;
  editor.set({ session: { ...session, hovering: false, values: { ...session.values, ...values } } });
  await store();
  const now = editor.get().session;
  if (now === null || now.stepId !== session.stepId || now.stored === null) return;
  begin(now.tool, now.part, null, "nothing", now.initial, { proposes: false });
}

/** Leave a value out again, as if it had never been given. */
export function dropValue(name: string): void {
  const { session } = editor.get();
  if (session === null) return;
  const without = (held: Values) => Object.fromEntries(Object.entries(held).filter(([key]) => key !== name));
  const values = without(session.values);
  editor.set({ session: { ...session, values, ...(asksFirst({ ...session, values }) ? { initial: without(session.initial) } : {}) } });
  tryValues({}, false);
}

function asStep(session: ToolSession): Record<string, unknown> {
  const rule = pickRule({ kind: session.pickKind, ids: session.pickIds });
  const on = session.takes === "pick" ? { pick: rule } : session.takes === "through" ? { through: rule[session.pickKind] } : {};
  return { kind: session.tool, ...on, ...trimmed(session) };
}

/** The values worth writing down: what repeats a default is left out. */
function trimmed(session: ToolSession): Values {
  if (session.tool === "extrude" || session.stored !== null) return session.values;
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
    if (session.hovering || asksFirst(session) || !touched(session)) {
      if (session.hovering) editor.set({ session: { ...session, values: session.initial, hovering: false, dragging: false } });
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

/** The acceptance under way, so that a tool chosen meanwhile waits for it. */
let closing: Promise<void> = Promise.resolve();

/** Store what was touched and lay the tool down. */
export function accept(): Promise<void> {
  const session = editor.get().session;
  if (session === null) return closing;
  closing = store().then(() => {
    if (editor.get().session?.stepId === session.stepId) editor.set({ session: null });
    endPreview();
  });
  return closing;
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
