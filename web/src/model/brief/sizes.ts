import type { Pick as PickRule, Size, SizeInfo } from "../../api/client";
import { token } from "../../theme/theme";
import { freeName } from "../document/intents";
import { idsOf, pickRule } from "../picks/picks";
import { editor, type EditorState, partOf, type Picked } from "../store";
import { shownUnit, steady, toShown } from "../units";

export type Measure = Size["measure"];
export type Target = NonNullable<Size["of"]>[number];

export const MEASURES: readonly { value: Measure; label: string }[] = [
  { value: "width", label: "width (x)" },
  { value: "height", label: "height (y)" },
  { value: "depth", label: "depth (z)" },
  { value: "distance", label: "distance" },
  { value: "length", label: "length of edges" },
  { value: "angle", label: "angle" },
  { value: "radius", label: "radius of a loop" },
  { value: "gap", label: "gap between two" },
  { value: "area", label: "area" },
  { value: "volume", label: "volume" },
];

/** Dimensions of length in what is measured; angles have none. */
export function powerOf(measure: Measure): number {
  return measure === "angle" ? 0 : measure === "area" ? 2 : measure === "volume" ? 3 : 1;
}

export function unitText(measure: Measure, state = editor.get()): string {
  const unit = shownUnit(state);
  return measure === "angle" ? "°" : measure === "area" ? `${unit}²` : measure === "volume" ? `${unit}³` : unit;
}

/** A stored value of a size as it is shown. */
export function sizeText(size: Size, value: number): string {
  const shown = toShown(value, powerOf(size.measure));
  const large = Math.abs(shown);
  return steady(Number(shown.toFixed(large >= 100 ? 1 : large >= 10 ? 2 : 3)));
}

export function haveText(size: Size, info: SizeInfo): string {
  return info.have === null ? "–" : sizeText(size, info.have);
}

export function offText(size: Size, info: SizeInfo): string {
  if (info.off === null) return "";
  const text = sizeText(size, Math.abs(info.off));
  if (Number(text) === 0) return "0";
  return `${info.off > 0 ? "+" : "−"}${text}`;
}

/** Verdicts have a sign beside their colour. */
export function signOf(info: SizeInfo): string {
  return info.problem !== null ? "! " : info.verdict === "near" ? "△ " : info.verdict === "fail" ? "▲ " : "";
}

export function verdictColour(info: SizeInfo): string {
  return info.verdict === null ? token("ink") : info.verdict === "pass" ? token("good") : token("warn");
}

/** What is picked, as something to measure; all of the current part where nothing is. */
export function target(state: EditorState): Target | null {
  const { pick, current } = state;
  if (pick !== null) return { part: pick.part, pick: pickRule(pick) as unknown as PickRule };
  return current === null ? null : { part: current };
}

/** Each picked element by itself, for what is measured between them. */
function apart(pick: Picked): Target[] {
  const mesh = editor.get().meshes[pick.part]?.mesh.cage;
  if (mesh === undefined) return [];
  return pick.elements.map((e) => ({ part: pick.part, pick: pickRule({ kind: pick.kind, ids: idsOf(mesh, pick.kind, [e]) }) as unknown as PickRule }));
}

/** What each measure can be taken of, as the pick stands; null with a sentence where it cannot. */
export function targetsFor(measure: Measure, state: EditorState): Target[] | string {
  const { pick, current } = state;
  const n = pick?.elements.length ?? 0;
  if (measure === "width" || measure === "height" || measure === "depth") return pick !== null ? [target(state) as Target] : current === null ? [] : [{ part: current }];
  if (measure === "area") return pick?.kind === "faces" ? [target(state) as Target] : current === null ? [] : [{ part: current }];
  if (measure === "volume") return current === null ? [] : [{ part: current }];
  if (measure === "length") return pick !== null && pick.kind !== "vertices" ? [target(state) as Target] : "pick edges, or faces to go round";
  if (measure === "radius") return pick !== null && (pick.kind !== "vertices" || n > 2) ? [target(state) as Target] : "pick a loop of edges or three vertices";
  if (measure === "distance") return pick !== null && n === 2 ? apart(pick) : "pick two vertices, edges or faces";
  if (measure === "angle") return pick !== null && ((n === 2 && pick.kind !== "vertices") || (n === 3 && pick.kind === "vertices")) ? apart(pick) : "pick two faces, two edges or three vertices";
  const parts = state.build?.document.parts ?? [];
  const other = parts.find((p) => p.id !== current && !p.hidden);
  return current === null || other?.id == null ? "a gap lies between two parts; make another" : [{ part: current }, { part: other.id }];
}

/** What a target is called. */
export function targetText(t: Target, state: EditorState): string {
  const name = partOf(state, t.part)?.name ?? "a part that is gone";
  if (t.pick == null) return name;
  const kind = Object.keys(t.pick)[0] as "faces" | "edges" | "vertices";
  const rule = (t.pick as Record<string, unknown>)[kind];
  const ids = typeof rule === "object" && rule !== null && "ids" in rule ? (rule as { ids: readonly unknown[] }).ids.length : null;
  const one = { faces: "face", edges: "edge", vertices: "vertex" }[kind];
  return `${ids === null ? kind : ids === 1 ? one : `${ids} ${kind}`} of ${name}`;
}

export function newSize(measure: Measure, of: readonly Target[]): Size {
  const held = editor.get().build?.document.sizes ?? [];
  const label = MEASURES.find((m) => m.value === measure)?.label ?? measure;
  const word = `${of.length === 0 ? "Overall " : ""}${label.replace(/ \(.\)$/, "")}`;
  const title = word[0]!.toUpperCase() + word.slice(1);
  const taken = held.map((s) => s.name);
  return { id: freeName("size", held.map((s) => s.id)), name: taken.includes(title) ? freeName(title, taken, " ") : title, measure, of: [...of] } as Size;
}
