import { answer, api, sentence } from "../../api/client";
import { metresText } from "../units";
import { prefs } from "../prefs";
import { editor, METRES, type ToolSession, type Triple, unitOf, type Value, type Values } from "../store";
import { weightAt } from "./softWeights";

export type Offsets = Readonly<Record<string, Triple>>;

/** A lattice as a step tells it: lengths in the build's unit, in the part's axes. */
export interface Grid {
  readonly divisions: Triple;
  readonly low: Triple;
  readonly high: Triple;
  readonly offsets: Offsets;
}

/** One control point: its name, and where it is. */
export interface ControlPoint {
  readonly name: string;
  readonly at: Triple;
}

/** The lattice that a session works on; null where its box is not known yet. */
export function gridOf(session: ToolSession): Grid | null {
  const { divisions, box, offsets } = session.values;
  const corners = (box as unknown as readonly Triple[] | undefined) ?? boxOf(session);
  if (corners?.[0] === undefined || corners[1] === undefined) return null;
  return { divisions: (divisions ?? [2, 2, 2]) as Triple, low: corners[0], high: corners[1], offsets: (offsets ?? {}) as Offsets };
}

function boxOf(session: ToolSession): readonly [Triple, Triple] | null {
  const metres = METRES[unitOf(editor.get())];
  return session.box === null ? null : (session.box.map((corner) => corner.map((v) => v / metres)) as [Triple, Triple]);
}

/** All control points, from the lower end of each axis on. */
export function controlPoints(grid: Grid): ControlPoint[] {
  const [l, m, n] = grid.divisions;
  const out: ControlPoint[] = [];
  for (let i = 0; i <= l; i++) {
    for (let j = 0; j <= m; j++) {
      for (let k = 0; k <= n; k++) {
        const name = `${i},${j},${k}`;
        const share = [i / l, j / m, k / n];
        const by = grid.offsets[name] ?? [0, 0, 0];
        out.push({ name, at: grid.low.map((v, a) => v + ((grid.high[a] as number) - v) * (share[a] as number) + (by[a] as number)) as Triple });
      }
    }
  }
  return out;
}

/** Names of the control points next to each other, for the lines between them. */
export function controlLines({ divisions: [l, m, n] }: Grid): [string, string][] {
  const out: [string, string][] = [];
  for (let i = 0; i <= l; i++) {
    for (let j = 0; j <= m; j++) {
      for (let k = 0; k <= n; k++) {
        if (i < l) out.push([`${i},${j},${k}`, `${i + 1},${j},${k}`]);
        if (j < m) out.push([`${i},${j},${k}`, `${i},${j + 1},${k}`]);
        if (k < n) out.push([`${i},${j},${k}`, `${i},${j},${k + 1}`]);
      }
    }
  }
  return out;
}

/** The middle of the box round some control points. */
export function middleOf(points: readonly ControlPoint[]): Triple {
  return [0, 1, 2].map((k) => {
    const along = points.map((p) => p.at[k] as number);
    return (Math.min(...along) + Math.max(...along)) / 2;
  }) as Triple;
}

/** How much control points that are not picked follow those that are: with soft selection the nearer the more. */
export function softWeights(grid: Grid, picked: ReadonlySet<string>): Map<string, number> {
  const { soft } = prefs.get();
  const out = new Map<string, number>();
  const reach = soft.on ? soft.radius / METRES[unitOf(editor.get())] : 0;
  if (reach <= 0) return out;
  const all = controlPoints(grid);
  const led = all.filter((p) => picked.has(p.name));
  for (const p of all) {
    const off = Math.min(...led.map((q) => Math.hypot(...q.at.map((v, k) => v - (p.at[k] as number)))));
    if (!picked.has(p.name) && off < reach) out.set(p.name, weightAt(off / reach, soft.fullness));
  }
  return out;
}

/** Offsets once the picked points went where `to` says, and those that follow them softly some of the way. */
export function movedPoints(grid: Grid, picked: readonly string[], to: (at: Triple) => Triple): Offsets {
  const chosen = new Set(picked);
  const soft = softWeights(grid, chosen);
  const out: Record<string, Triple> = { ...grid.offsets };
  for (const p of controlPoints(grid)) {
    const weight = chosen.has(p.name) ? 1 : (soft.get(p.name) ?? 0);
    if (weight === 0) continue;
    const there = to(p.at);
    const held = grid.offsets[p.name] ?? [0, 0, 0];
    const offset = held.map((v, k) => Number((v + weight * ((there[k] as number) - (p.at[k] as number))).toFixed(6)) + 0) as Triple;
    if (offset.every((v) => v === 0)) delete out[p.name];
    else out[p.name] = offset;
  }
  return out;
}

interface Redivided {
  readonly values: Values;
  readonly told: string | null;
}

/** The same shape with other divisions, as the core finds it, and by how much it differs. */
export async function redivided(values: Values, to: Triple): Promise<Redivided | string> {
  const body = { divisions: (values["divisions"] ?? [2, 2, 2]) as Triple, offsets: (values["offsets"] ?? {}) as Record<string, Triple>, basis: (values["basis"] ?? "bernstein") as "bernstein" | "bspline", to };
  try {
    const got = await answer(api.POST("/api/lattice/redivided", { body }));
    const off = got.error * METRES[unitOf(editor.get())];
    return { values: { divisions: to, offsets: got.offsets as Value }, told: off > 1e-6 ? `With these divisions the shape differs by ${metresText(off)} at most` : null };
  } catch (error) {
    return sentence(error);
  }
}

export function pickPoints(names: readonly string[]): void {
  editor.set({ gridPick: [...new Set(names)] });
}
