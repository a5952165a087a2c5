import { deepEqual } from "fast-equals";

import type { KindInfo, Parameter, Step } from "../api/client";
import { defaultOf, valueOf } from "./kinds";
import { partNamed } from "./parts";
import { editor, partsOf } from "./store";
import { numberText } from "./units";

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
  if (Array.isArray(value)) return value.every((v) => typeof v === "number") ? value.map((v) => numberText(v, parameter.quantity)).join(" × ") : null;
  if (typeof value === "number") return numberText(value, parameter.quantity);
  if (typeof value === "boolean") return value ? "" : "off";
  return typeof value === "string" ? value : null;
}

/** What a closed line of the recipe tells: the kind's own choice of numbers, or in words whatever was set. */
export function summary(step: Step, kind: KindInfo | null): string {
  if (kind === null) return "";
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
