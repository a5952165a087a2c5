import type { Build, KindInfo } from "../../api/client";
import { groupsAround, isSet } from "../document/parts";
import { counted } from "../units";

/** Something that has more triangles than it should. */
export interface Over {
  readonly name: string;
  readonly triangles: number;
  readonly budget: number;
  /** the parts that count */
  readonly parts: readonly string[];
}

/** What would give triangles back: a step, and about how many. */
export interface Giver {
  readonly part: string;
  readonly step: string;
  readonly text: string;
  readonly triangles: number;
}

/** Parts that leave with the build: neither hidden nor templates, nor there to cut others. */
function leaving(build: Build) {
  const { parts = [], groups = [] } = build.document;
  const serving = new Set(parts.flatMap((p) => (p.steps ?? []).flatMap((s) => (s.kind === "boolean" && s.enabled !== false ? [s.part, ...(s.parts ?? [])] : []))));
  return parts.filter((p) => !serving.has(p.id) && !serving.has(p.name) && !isSet(p, groups, "hidden") && !isSet(p, groups, "template"));
}

function trianglesOf(build: Build, ids: readonly string[]): number {
  return build.parts.reduce((sum, p) => sum + (ids.includes(p.id) ? p.triangles : 0), 0);
}

/** Triangles of the build as it is handed over. */
export function leavingTriangles(build: Build): number {
  return trianglesOf(build, leaving(build).map((p) => p.id ?? ""));
}

/** The build, its groups and parts that are over their budgets. */
export function overBudget(build: Build): Over[] {
  const { parts = [], groups = [], budget } = build.document;
  const told = [
    { name: "the build", budget, parts: leaving(build).map((p) => p.id ?? "") },
    ...groups.map((g) => ({ name: g.name, budget: g.budget, parts: parts.filter((p) => groupsAround(p, groups).includes(g)).map((p) => p.id ?? "") })),
    ...parts.map((p) => ({ name: p.name, budget: p.budget, parts: [p.id ?? ""] })),
  ];
  return told.flatMap((t) => {
    const triangles = trianglesOf(build, t.parts);
    return t.budget != null && triangles > t.budget ? [{ ...t, budget: t.budget, triangles }] : [];
  });
}

const MOST = 3;

/** The steps of some parts that most triangles come from, those first that give most back: a level of smoothing three quarters of a
 * part, another step what it adds, as often as smoothing multiplies it. Copies give back with what they are copies of. */
export function givers(build: Build, kinds: readonly KindInfo[], of: readonly string[]): Giver[] {
  const out: Giver[] = [];
  for (const part of build.document.parts ?? []) {
    const id = part.id ?? "";
    const status = build.parts.find((p) => p.id === id);
    if (status === undefined || part.steps == null) continue;
    const times = 1 + (build.document.parts ?? []).filter((p) => p.of === id && of.includes(p.id ?? "")).length - (of.includes(id) ? 0 : 1);
    if (times < 1) continue;
    const smooth = part.steps.find((s) => s.kind === "subdivision" && s.enabled !== false);
    const levels = smooth?.kind === "subdivision" ? (smooth.levels ?? 1) : 0;
    if (smooth?.id != null && levels > 0) out.push({ part: id, step: smooth.id, text: `one level less of ${part.name}`, triangles: Math.round(0.75 * status.triangles * times) });
    for (const step of part.steps.slice(1)) {
      const told = status.steps.find((s) => s.id === step.id);
      const kind = kinds.find((k) => k.word === step.kind);
      const more = told === undefined ? 0 : told.faces_after - told.faces_before;
      if (step.id == null || step === smooth || kind === undefined || more <= 0) continue;
      out.push({ part: id, step: step.id, text: `${step.label ?? kind.title} of ${part.name}`, triangles: 2 * more * (levels > 0 ? 4 ** levels : 1) * times });
    }
  }
  return out.sort((a, b) => b.triangles - a.triangles).slice(0, MOST);
}

export function overText(o: Over): string {
  return `${counted(o.triangles - o.budget)} triangles over the budget of ${o.name}: ${counted(o.triangles)} of ${counted(o.budget)}`;
}
