import { deepEqual } from "fast-equals";

import type { KindInfo, Parameter, Step } from "../../api/client";
import { defaultOf, valueOf } from "./kinds";
import { partNamed } from "../document/parts";
import { editor, partsOf } from "../store";
import { numberText } from "../units";

/** So many values are told on a closed line. */
const MOST = 2;

function text(value: unknown, parameter: Parameter): string | null {
  if (parameter.quantity === "part" || parameter.quantity === "parts" || (parameter.quantity === "profile" && typeof value === "string")) {
    const parts = partsOf(editor.get());
    return value == null ? null : [value].flat().map((v) => partNamed(parts, String(v))?.name ?? String(v)).join(", ");
  }
  if (parameter.quantity === "profile" && typeof value === "object" && value !== null) {
    return "circle" in value ? `round ${numberText(Number(value.circle), "length")}` : "rectangle" in value ? (value.rectangle as number[]).map((v) => numberText(v, "length")).join(" × ") : null;
  }
  if (Array.isArray(value)) return value.every((v) => typeof v === "number") ? value.map((v) => numberText(v, parameter.quantity)).join(parameter.name === "size" || parameter.name === "segments" ? " × " : ", ") : null;
  if (typeof value === "number") return numberText(value, parameter.quantity);
  if (typeof value === "boolean") return value ? "" : "off";
  return typeof value === "string" ? value : null;
}

type Told = Readonly<Record<string, unknown>>;

const WAYS = [["right", "left"], ["up", "down"], ["forward", "back"]] as const;
const AXES = ["x", "y", "z"] as const;

function numbers(value: unknown, quantity: string): string[] {
  return Array.isArray(value) ? value.map((v) => numberText(Number(v), quantity)) : [];
}

/** A move in words where it is along one axis: "up 1.2". */
function moved(by: readonly number[]): string {
  const along = by.flatMap((v, i) => (v === 0 ? [] : [i]));
  const [i] = along;
  if (along.length === 1 && i !== undefined) return `${WAYS[i]?.[(by[i] as number) > 0 ? 0 : 1] ?? ""} ${numberText(Math.abs(by[i] as number), "length")}`;
  return along.length === 0 ? "" : `by ${numbers(by, "length").join(", ")}`;
}

/** The axis that a direction runs along, where it does. */
function axisOf(direction: unknown): number | null {
  if (!Array.isArray(direction)) return null;
  const along = direction.flatMap((v, i) => (Math.abs(Number(v)) < 1e-9 ? [] : [i]));
  return along.length === 1 ? (along[0] as number) : null;
}

/** Kinds that a sentence tells better than their numbers. */
const SENTENCES: Readonly<Record<string, (step: Told) => string>> = {
  transform: (s) => {
    const turn = ((s["rotate"] as number[] | undefined) ?? []).flatMap((v, i) => (v === 0 ? [] : [`${numberText(v, "angle")}° about ${AXES[i] ?? ""}`]));
    const scale = (s["scale"] as number[] | undefined) ?? [1, 1, 1];
    const even = scale.every((v) => v === scale[0]);
    const by = scale.flatMap((v, i) => (v === 1 ? [] : [`${AXES[i] ?? ""} × ${numberText(v, "ratio")}`]));
    const push = Number(s["push"] ?? 0);
    return [moved((s["translate"] as number[] | undefined) ?? []), turn.length > 0 ? `turned ${turn.join(", ")}` : "", even ? (by.length > 0 ? `× ${numberText(scale[0] as number, "ratio")}` : "") : by.join(", "), push === 0 ? "" : `out ${numberText(push, "length")}`].filter(Boolean).join(", ");
  },
  insert_loop: (s) => {
    const at = numbers(s["at"], "ratio");
    const list = at.length > 0 ? at : numbers(s["distance"], "length");
    const count = list.length > 0 ? list.length : Number(s["count"] ?? 1);
    const shift = Number(s["shift"] ?? 0);
    return `${count} loop${count === 1 ? "" : "s"}${list.length > 0 ? `: ${list.join(", ")}` : shift === 0 ? "" : `, shifted ${numberText(shift, "ratio")}`}`;
  },
  slice: (s) => {
    const axis = axisOf(s["normal"]);
    const place = axis === null ? "a slanted plane" : `${AXES[axis] ?? ""} = ${numberText(Number((s["point"] as number[])[axis]), "length")}`;
    return s["keep"] === undefined || s["keep"] === "both" ? `at ${place}` : `one side of ${place}`;
  },
  mirror: (s) => `across ${String(s["axis"] ?? "x")} = ${numberText(Number(s["at"] ?? 0), "length")}`,
  cut: (s) => `over ${(s["path"] as unknown[] | undefined)?.length ?? 0} points`,
  flatten: (s) => (typeof s["to"] === "string" && AXES.includes(s["to"] as "x") ? `${s["by"] === "shift" ? "lowest " : ""}${s["to"]} = ${numberText(Number(s["at"] ?? 0), "length")}` : ""),
};

/** What a closed line of the recipe tells: the kind's own choice of numbers, or in words whatever was set. */
export function summary(step: Step, kind: KindInfo | null): string {
  if (kind === null) return "";
  const sentence = SENTENCES[kind.word]?.(step as unknown as Told);
  if (sentence !== undefined && sentence !== "") return sentence;
  const set = (p: Parameter) => p.required || !deepEqual(valueOf(step, p), defaultOf(p));
  const tell = (p: Parameter, named: boolean) => {
    const told = text(valueOf(step, p), p);
    return told === null ? [] : [named ? `${p.title} ${told}`.trim() : told];
  };
  const chosen = kind.summary.flatMap((name) => kind.parameters.filter((p) => p.name === name));
  if (chosen.length > 0) {
    const worth = chosen.filter(set);
    // the first length needs no word; what is counted does
    return (worth.length > 0 ? worth : chosen.slice(0, 1)).flatMap((p) => tell(p, p.quantity === "count")).slice(0, MOST).join(", ");
  }
  return kind.parameters.filter(set).flatMap((p) => tell(p, p.quantity !== "choice")).slice(0, MOST).join(", ");
}
