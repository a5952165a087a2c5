import type { BuildDocument, Group, KindInfo, Parameter, Part, Step } from "../../api/client";
import { type EditorState, groupsOf, partOf } from "../store";

type Flag = "hidden" | "locked" | "ghosted" | "template";

/** The groups a part or group is in, from the inmost out. */
export function groupsAround(member: Pick<Part, "group">, groups: readonly Group[]): Group[] {
  const out: Group[] = [];
  let inside = groups.find((g) => g.id === member.group);
  while (inside !== undefined && !out.includes(inside)) {
    out.push(inside);
    const next: string | null | undefined = inside.group;
    inside = groups.find((g) => g.id === next);
  }
  return out;
}

/** Whether a part is hidden, locked, ghosted or a template, by itself or with a group it is in. */
export function isSet(part: Part, groups: readonly Group[], flag: Flag): boolean {
  return (part[flag] ?? false) || groupsAround(part, groups).some((g) => g[flag] ?? false);
}

/** Whether a part is locked, by itself or with a group. */
export function isLockedPart(state: EditorState, id: string | null): boolean {
  const part = partOf(state, id);
  return part !== null && isSet(part, groupsOf(state), "locked");
}

/** Why a part takes no steps of its own, null where it does. */
export function keepsOut(state: EditorState, id: string | null): string | null {
  const part = partOf(state, id);
  if (part?.of == null) return null;
  const source = partNamed(state.build?.document.parts ?? [], part.of);
  return `${part.name} is a linked copy; work on ${source?.name ?? part.of}, and it follows`;
}

/** What a part is called where steps name it: by its id, else by its name. */
export function partNamed(parts: readonly Part[], named: string): Part | null {
  return parts.find((p) => p.id === named) ?? parts.find((p) => p.name === named) ?? null;
}

function named(step: Step, kind: KindInfo | undefined): string[] {
  const value = (name: string) => (step as unknown as Record<string, unknown>)[name];
  const inner = (p: Parameter) => (p.inner ?? []).filter((i) => i.quantity === "part").map((i) => (value(p.name) as Record<string, unknown> | null | undefined)?.[i.name]);
  return (kind?.parameters ?? []).flatMap((p) => (NAMING.has(p.quantity) ? [value(p.name)].flat() : inner(p))).filter((v) => typeof v === "string");
}

/** A step with the parts it names called otherwise. */
export function renamedIn(step: Step, kind: KindInfo | undefined, called: (named: string) => string): Step {
  const told = (value: unknown): unknown => (Array.isArray(value) ? value.map(told) : typeof value === "string" ? called(value) : value);
  const values = (kind?.parameters ?? []).flatMap((p): [string, unknown][] => {
    const value = (step as unknown as Record<string, unknown>)[p.name];
    const inner = (p.inner ?? []).filter((i) => i.quantity === "part");
    if (value == null || (!NAMING.has(p.quantity) && inner.length === 0)) return [];
    return [[p.name, NAMING.has(p.quantity) ? told(value) : { ...value, ...Object.fromEntries(inner.map((i) => [i.name, told((value as Record<string, unknown>)[i.name])])) }]];
  });
  return { ...step, ...Object.fromEntries(values) };
}

const NAMING: ReadonlySet<string> = new Set(["part", "parts", "profile"]);

/** Why a kind of step cannot stand on what a part is by now, faces or still a curve; null where it can. */
export function unfit(kind: KindInfo, part: Part, parts: readonly Part[], kinds: readonly KindInfo[]): string | null {
  const titles = (fits: (k: KindInfo) => boolean) => kinds.filter(fits).map((k) => k.title.toLowerCase()).join(", ");
  if (isCurve(part, parts, kinds)) return worksOnCurves(kind) ? null : `${kind.title} works on faces, and ${part.name} is still a curve; make faces of it first: ${titles((k) => k.curve === "ends")}`;
  return kind.on_faces || kind.form ? null : `${kind.title} ${kind.curve === "ends" ? "makes faces of" : "works on"} a curve, and ${part.name} has faces; begin a new part with a curve: ${titles((k) => k.curve === "begins")}`;
}

function worksOnCurves(kind: KindInfo): boolean {
  return kind.curve === "keeps" || kind.curve === "makes" || kind.curve === "ends";
}

/** What a kind may be given on a part as it is by now. */
export function takenOn(kind: KindInfo, curve: boolean): KindInfo["takes"] {
  return curve && worksOnCurves(kind) ? (kind.curve_takes.length > 0 ? kind.curve_takes : kind.curve === "keeps" ? ["vertices"] : []) : kind.takes;
}

/** Whether a part ends as a curve: a profile or a path for others. */
export function isCurve(part: Part, parts: readonly Part[], kinds: readonly KindInfo[]): boolean {
  const source = part.of == null ? part : partNamed(parts, part.of);
  const roles = (source?.steps ?? []).filter((s) => s.enabled !== false).map((s) => kinds.find((k) => k.word === s.kind)?.curve);
  return roles[0] === "begins" && !roles.includes("ends");
}

/** Ids of the parts a part needs: by its steps, or as the one it is a linked copy of. */
export function needsOf(part: Part, document: BuildDocument, kinds: readonly KindInfo[]): string[] {
  const words = [...(part.of == null ? [] : [part.of]), ...(part.steps ?? []).filter((s) => s.enabled !== false).flatMap((s) => named(s, kinds.find((k) => k.word === s.kind)))];
  return words.flatMap((word) => partNamed(document.parts ?? [], word)?.id ?? []);
}

/** The parts that cannot be without another, directly. */
export function neededBy(id: string, document: BuildDocument, kinds: readonly KindInfo[]): Part[] {
  return (document.parts ?? []).filter((p) => p.id !== id && needsOf(p, document, kinds).includes(id));
}

/** Parts that a step of another may name: all but itself and those that need it. */
export function othersFor(state: Pick<EditorState, "build" | "kinds">, id: string): Part[] {
  const document = state.build?.document;
  if (document === undefined) return [];
  const barred = new Set([id]);
  for (let more = true; more; ) {
    const found = (document.parts ?? []).filter((p) => !barred.has(p.id ?? "") && needsOf(p, document, state.kinds).some((n) => barred.has(n)));
    for (const p of found) barred.add(p.id ?? "");
    more = found.length > 0;
  }
  return (document.parts ?? []).filter((p) => !barred.has(p.id ?? "") && !p.template);
}

type Row = { readonly depth: number } & ({ readonly group: Group } | { readonly part: Part });

/** Groups and their members as a list, each under the group it is in; those of folded groups are left out. */
export function partTree(parts: readonly Part[], groups: readonly Group[], folded: ReadonlySet<string>): Row[] {
  const out: Row[] = [];
  const add = (inside: string | null, depth: number) => {
    for (const group of groups.filter((g) => (g.group ?? null) === inside)) {
      out.push({ group, depth });
      if (!folded.has(group.id)) add(group.id, depth + 1);
    }
    for (const part of parts.filter((p) => (p.group ?? null) === inside)) out.push({ part, depth });
  };
  add(null, 0);
  return out;
}
