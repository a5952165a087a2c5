import { deepEqual } from "fast-equals";

import type { KindInfo, Part, Pick, Size, Step } from "../../api/client";
import { defaultOf } from "../steps/kinds";
import { pickRule } from "../picks/picks";
import { type EditorState, kindOf, partsOf } from "../store";

export type Driver = NonNullable<Size["driver"]>;

export interface DriverChoice {
  readonly value: string;
  readonly label: string;
  readonly driver: Driver;
}

export interface DriverGroup {
  readonly label: string;
  readonly options: readonly DriverChoice[];
}

/** Everything that could drive a size: the present pick moved, a part scaled, any number of a recipe. */
export function driverGroups(state: EditorState, size: Size): DriverGroup[] {
  const own = new Set((size.of ?? []).map((t) => t.part));
  const parts = partsOf(state).filter((p) => own.size === 0 || own.has(p.id ?? ""));
  const others = partsOf(state).filter((p) => !parts.includes(p));
  const out: DriverGroup[] = [];
  const { pick } = state;
  if (pick !== null) {
    const rule = pickRule(pick) as unknown as Pick;
    out.push({ label: "Move what is picked", options: (["x", "y", "z"] as const).map((axis) => choice(`along ${axis}`, { kind: "move", part: pick.part, pick: rule, axis })) });
  }
  for (const part of [...parts, ...others]) {
    const id = part.id ?? "";
    out.push({ label: `Scale ${part.name}`, options: [choice("evenly", { kind: "scale", part: id, axis: "all" }), ...(["x", "y", "z"] as const).map((axis) => choice(`along ${axis}`, { kind: "scale", part: id, axis }))] });
    const numbers = (part.steps ?? []).flatMap((step) => numbersOf(state, part, step));
    if (numbers.length > 0) out.push({ label: `Numbers of ${part.name}`, options: numbers });
  }
  return out;
}

function choice(label: string, driver: Driver): DriverChoice {
  return { value: keyOf(driver), label, driver };
}

function numbersOf(state: EditorState, part: Part, step: Step): DriverChoice[] {
  const kind: KindInfo | null = kindOf(state, step.kind);
  const title = step.label ?? kind?.title ?? step.kind;
  return (kind?.parameters ?? []).flatMap((p) => {
    if (!["length", "angle", "ratio"].includes(p.quantity)) return [];
    const given = (step as unknown as Record<string, unknown>)[p.name] ?? defaultOf(p);
    const base = { kind: "step" as const, part: part.id ?? "", step: step.id ?? "", parameter: p.name };
    if (p.count === 3 && Array.isArray(given)) return [0, 1, 2].map((index) => choice(`${title}: ${p.title} ${"xyz"[index]}`, { ...base, index }));
    return p.count === 1 && typeof given === "number" ? [choice(`${title}: ${p.title}`, base)] : [];
  });
}

/** Tells the choices of one list apart. */
function keyOf(driver: Driver): string {
  return driver.kind === "step" ? [driver.kind, driver.part, driver.step, driver.parameter, driver.index ?? ""].join("/") : [driver.kind, driver.part, driver.axis].join("/");
}

/** What drives a size, in words. */
export function driverText(driver: Driver, groups: readonly DriverGroup[]): string {
  for (const g of groups) for (const o of g.options) if (sameDriver(o.driver, driver)) return `${g.label}: ${o.label}`;
  return driver.kind === "move" ? `moves what was picked along ${driver.axis}` : "set before";
}

export function sameDriver(a: Driver, b: Driver): boolean {
  if (a.kind === "step" && b.kind === "step") return a.part === b.part && a.step === b.step && a.parameter === b.parameter && (a.index ?? null) === (b.index ?? null);
  if (a.kind === "scale" && b.kind === "scale") return a.part === b.part && (a.axis ?? "all") === (b.axis ?? "all");
  return a.kind === "move" && b.kind === "move" && a.part === b.part && a.axis === b.axis && deepEqual(a.pick, b.pick);
}
