import type { Unit } from "../api/client";
import { editor, type EditorState, METRES, unitOf } from "./store";

/** What a file's lengths may be in. */
export const UNIT_NAMES: { value: Unit; label: string }[] = [
  { value: "m", label: "metres" },
  { value: "cm", label: "centimetres" },
  { value: "mm", label: "millimetres" },
  { value: "in", label: "inches" },
  { value: "ft", label: "feet" },
];

/** Lengths are stored in the build's unit and shown in whichever the person likes; nothing stored changes with it. */
export function shownUnit(state: EditorState): Unit {
  return state.build?.document.display?.unit ?? unitOf(state);
}

/** The most decimals that are shown. */
export function digitsOf(state: EditorState): number {
  return state.build?.document.display?.digits ?? 4;
}

/** What a stored number of so many dimensions is in the shown unit: 1 for lengths, 2 for areas, 3 for volumes, 0 for the rest. */
export function toShown(value: number, power = 1, state = editor.get()): number {
  const [own, other] = [unitOf(state), shownUnit(state)];
  return own === other || power === 0 ? value : Number((value * (METRES[own] / METRES[other]) ** power).toPrecision(12));
}

export function fromShown(value: number, power = 1, state = editor.get()): number {
  const [own, other] = [unitOf(state), shownUnit(state)];
  return own === other || power === 0 ? value : Number((value * (METRES[other] / METRES[own]) ** power).toPrecision(12));
}

/** A number with no more decimals than are shown. */
export function tidy(value: number, state = editor.get()): string {
  return (Number(value.toFixed(digitsOf(state))) + 0).toString().replace("-", "−");
}

/** A number with a steady count of decimals, for what changes under the eye. */
export function steady(value: number, state = editor.get()): string {
  const most = state.build?.document.display?.digits;
  if (most != null) return value.toFixed(most).replace("-", "−");
  const text = Number(value.toFixed(4)).toString();
  const [whole, part = ""] = text.split(".");
  return `${whole}.${part.padEnd(2, "0")}`.replace("-", "−");
}

/** A stored length as it is written beside a handle. */
export function lengthText(value: number): string {
  return `${steady(toShown(value))} ${shownUnit(editor.get())}`;
}

/** How far outlines are apart, to three digits wherever it is told. */
export function apartText(value: number): string {
  return lengthText(Number(value.toPrecision(3)));
}

/** A length in metres, in the shown unit, without it. */
export function metresText(metres: number): string {
  return steady(metres / METRES[shownUnit(editor.get())]);
}

/** A number of a step as it is shown. */
export function numberText(value: number, quantity: string): string {
  return quantity === "length" ? tidy(toShown(value)) : (Number(value.toFixed(4)) + 0).toString().replace("-", "−");
}

/** A plain number with at most four decimals. */
export function shown(value: number): string {
  return Number(value.toFixed(4)).toString().replace("-", "−");
}

/** A whole number with its thousands apart. */
export function counted(n: number): string {
  return n.toLocaleString("en").replaceAll(",", " ");
}

/** A plain number with two to four decimals. */
export function format(value: number): string {
  const text = Number(value.toFixed(4)).toString();
  const [whole, part = ""] = text.split(".");
  return `${whole}.${part.padEnd(2, "0")}`.replace("-", "−");
}

/** A share in percent, never rounded up to more than it is. */
export function percent(share: number): string {
  return `${(Math.floor(share * 1000) / 10).toFixed(1)} %`;
}
