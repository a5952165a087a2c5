import type { KindInfo, Parameter, ParameterValue, Unit } from "../../api/client";
import { editor, kindOf, METRES, type ToolSession, type Triple, unitOf, type Value, type Values } from "../store";

/** Whether element numbers still stand for the same elements in what a tool makes. */
export function keepsNumbers(session: ToolSession | null): boolean {
  return session !== null && (kindOf(editor.get(), session.tool)?.keeps_pick ?? false);
}

/** Base forms a person begins a part with by typing numbers; what is made of another part, of a file, or drawn is not one. */
export function baseForms(kinds: readonly KindInfo[]): KindInfo[] {
  return kinds.filter((k) => k.form && !k.parameters.some((p) => p.required && ["part", "file", "board", "other"].includes(p.quantity)));
}

/** Base forms that are drawn by dragging: those that tell how far they reach. */
export function drawnForms(kinds: readonly KindInfo[]): KindInfo[] {
  return baseForms(kinds).filter((k) => k.spans.length > 0);
}

/** The parameter by which a kind takes other parts: several if it can. */
export function othersOf(kind: KindInfo | null): Parameter | null {
  return kind?.parameters.find((p) => p.quantity === "parts") ?? kind?.parameters.find((p) => p.quantity === "part") ?? null;
}

/** A default as the build's unit says it. */
export function defaultOf(parameter: ParameterValue): unknown {
  const { default: held, quantity } = parameter;
  return quantity === "length" && typeof held === "number" ? Number((held / METRES[unitOf(editor.get())]).toPrecision(9)) : held;
}

/** The parameter that the knob of a kind pulls, and along what. */
export function knobOf(word: string): { readonly parameter: Parameter; readonly along: "view" | "normal" } | null {
  const kind = kindOf(editor.get(), word);
  const parameter = kind?.parameters.find((p) => p.name === kind.knob?.parameter);
  return kind?.knob == null || parameter === undefined ? null : { parameter, along: kind.knob.along };
}

/** The parameter that digits typed over a view go to. */
export function typedOf(word: string): Parameter | null {
  const kind = kindOf(editor.get(), word);
  return kind?.parameters.find((p) => p.name === kind.typed) ?? null;
}

function isImperial(unit: Unit): boolean {
  return unit === "in" || unit === "ft";
}

/** Inches and feet are halved again and again below one, and counted from four on: 1/8, 1 3/4, 8. */
function imperial(value: number): number {
  const step = value >= 4 ? 1 : value >= 1 ? 0.25 : 2 ** Math.round(Math.log2(value));
  return Math.round(value / step) * step;
}

/** A size as a person would type it first: three digits, or what an inch rule shows. */
export function firstSize(metres: number, unit: Unit): number {
  const value = metres / METRES[unit];
  return isImperial(unit) && value > 0 ? imperial(value) : Number(value.toPrecision(3));
}

/** A round number of the build's unit near so many metres. */
export function roundLength(metres: number): number {
  const value = metres / METRES[unitOf(editor.get())];
  if (value < 0) return -roundLength(-metres);
  if (value === 0) return 0;
  if (isImperial(unitOf(editor.get()))) return imperial(value);
  const power = 10 ** Math.floor(Math.log10(Math.max(value, 1e-9)));
  const lead = value / power;
  return Number(((lead < 1.5 ? 1 : lead < 3.5 ? 2 : lead < 7.5 ? 5 : 10) * power).toPrecision(3));
}

/** What a kind proposes for something of so many metres; `round` makes lengths out of metres. */
export function offered(kind: KindInfo, size: number, round: (metres: number) => number = roundLength): Values {
  return Object.fromEntries(
    kind.proposal.map((o): [string, Value] => {
      const value = o.of_size == null ? (o.value as Value) : Array.isArray(o.of_size) ? o.of_size.map((s) => round(s * size)) : round(o.of_size * size);
      return [o.parameter, o.key == null ? value : { [o.key]: value as number }];
    }),
  );
}

/** Values to begin with, in proportion to what is picked: a first result to correct rather than an empty form. */
export function firstValues(kind: KindInfo, size: number): Values {
  const given = kind.parameters.filter((p) => p.default != null && p.quantity !== "other" && !(p.follows && typeof p.default === "string")); // a word: what follows from what is there
  const shown = kind.at_rest ? given.filter((p) => p.count === 3) : given;
  return { ...Object.fromEntries(shown.map((p) => [p.name, defaultOf(p) as Value])), ...offered(kind, size) };
}

/** A parameter of a step, or the default it stands at. */
export function valueOf(step: object, parameter: ParameterValue): unknown {
  return (step as Readonly<Record<string, unknown>>)[parameter.name] ?? defaultOf(parameter);
}

/** Numbers along axes, as forms are told. */
export type Extents = Triple;

/**
 * What a form's parameters are where it is to reach so far along each axis: metres across, up and deep, in any unit. Round forms
 * fit into the smaller of width and depth.
 */
export function formValues(kind: KindInfo, extents: Extents): Values {
  const round = isRound(kind);
  const reach: Triple = [...extents];
  if (round) reach[0] = reach[2] = Math.min(extents[0], extents[2]);
  const out: Record<string, Value> = {};
  const beyond = new Map(kind.spans.flatMap((s) => (s.beyond == null ? [] : [[s.beyond, s] as const])));
  const half = (axis: "x" | "y" | "z") => (reach["xyz".indexOf(axis)] as number) / 2;
  const first = [...kind.spans].sort((a, b) => Number(beyond.has(b.parameter)) - Number(beyond.has(a.parameter)));
  for (const span of first) {
    const whole = half(span.axis) * span.times;
    const outer = beyond.get(span.parameter);
    const most = outer === undefined ? Infinity : MOST_BEYOND * half(outer.axis);
    const value = Math.min(whole, most) - (span.beyond == null ? 0 : Number(out[span.beyond] ?? 0));
    if (span.index == null) out[span.parameter] ??= value;
    else out[span.parameter] = Object.assign([...((out[span.parameter] as number[] | undefined) ?? [])], { [span.index]: value });
  }
  return { ...unspanned(kind, out), ...out };
}

/** A ring's tube takes at most so much of its reach, so that a hole is left. */
const MOST_BEYOND = 0.45;

/** Lengths no span tells, such as an inner radius, in the proportion to the first length that the kind proposes them in. */
function unspanned(kind: KindInfo, told: Values): Values {
  const share = (name: string) => kind.proposal.find((o) => o.parameter === name)?.of_size;
  const lead = kind.spans[0]?.parameter ?? "";
  const [of, value] = [share(lead), told[lead]];
  if (typeof of !== "number" || typeof value !== "number") return {};
  return Object.fromEntries(
    kind.proposal.flatMap((o): [string, Value][] => (typeof o.of_size === "number" && !(o.parameter in told) ? [[o.parameter, (o.of_size / of) * value]] : [])),
  );
}

/** Whether a form's width and depth are one number. */
export function isRound(kind: KindInfo): boolean {
  const [x, z] = (["x", "z"] as const).map((axis) => kind.spans.find((s) => s.axis === axis));
  return x !== undefined && z !== undefined && x.parameter === z.parameter && x.index == null;
}

/** Whether a form's footprint says all of it: it has no height of its own. */
export function isFlat(kind: KindInfo): boolean {
  const y = kind.spans.find((s) => s.axis === "y");
  return y === undefined || kind.spans.some((s) => s.axis === "x" && s.parameter === y.parameter && s.index === y.index);
}

/** Whether a form's three sizes are told along the axes each by itself, so that turning it by quarters only swaps them. */
export function isBlock(kind: KindInfo): boolean {
  return kind.spans.length === 3 && kind.spans.every((s) => s.index !== null);
}
