import { answer, api, Refused, sentence } from "../../api/client";
import { find, setPick } from "../../model/picks/picks";
import { editor, partOf, type Picked, type PickKind } from "../../model/store";
import { tell } from "../../sync/build";
import { accept } from "../session/storing";
import { cutRule, cutting, runThrough } from "./cutEdges";

type Rule = unknown;

/** Pick what a rule finds in the cage of the current part, in place of the pick or beside it. */
export async function pickBy(kind: PickKind, rule: Rule, beside: Picked | null = null): Promise<void> {
  await accept();
  const { build, current, pick } = editor.get();
  const part = pick?.part ?? current;
  if (build === null || part === null) return;
  try {
    const found = await answer(
      api.POST("/api/builds/{build_id}/pick", { params: { path: { build_id: build.id } }, body: { part, revision: build.revision, pick: { [kind]: rule } as never } }),
    );
    // what was picked since then stands
    if (editor.get().build?.revision !== build.revision || editor.get().pick !== pick) return;
    setPick(part, kind, [...(beside !== null && beside.kind === kind && beside.part === part ? beside.elements : []), ...found.elements]);
  } catch (error) {
    if (!(error instanceof Refused && error.status === 409)) tell(sentence(error));
  }
}

function ids(pick: Picked): Rule {
  return { ids: [...pick.ids] };
}

/** A ring of one kind of element in terms of another. */
function edgesOf(pick: Picked): Rule {
  return pick.kind === "edges" ? ids(pick) : pick.kind === "faces" ? { of_faces: ids(pick) } : { of_vertices: ids(pick), touching: "all" };
}

function facesOf(pick: Picked): Rule {
  return pick.kind === "faces" ? ids(pick) : pick.kind === "edges" ? { of_edges: ids(pick) } : { of_vertices: ids(pick), touching: "any" };
}

/** Facing of the picked faces, each direction once. */
function facings(pick: Picked): Rule {
  const mesh = editor.get().meshes[pick.part]?.mesh.cage;
  const seen = new Map<string, number[]>();
  for (const f of mesh === undefined ? [] : pick.elements.slice(0, 200)) {
    const { offsets, corners } = (mesh as NonNullable<typeof mesh>).shape;
    const p = (mesh as NonNullable<typeof mesh>).positions;
    const n = [0, 0, 0];
    for (let c = offsets[f] as number; c < (offsets[f + 1] as number); c++) {
      const a = (corners[c] as number) * 3;
      const b = (corners[c + 1 < (offsets[f + 1] as number) ? c + 1 : (offsets[f] as number)] as number) * 3;
      n[0] = n[0]! + (p[a + 1]! - p[b + 1]!) * (p[a + 2]! + p[b + 2]!);
      n[1] = n[1]! + (p[a + 2]! - p[b + 2]!) * (p[a]! + p[b]!);
      n[2] = n[2]! + (p[a]! - p[b]!) * (p[a + 1]! + p[b + 1]!);
    }
    const size = Math.hypot(...n);
    if (size > 0) seen.set(n.map((v) => (v / size).toFixed(4)).join(), n.map((v) => v / size));
  }
  return { any_of: [...seen.values()].map((n) => ({ facing: n })) };
}

export interface PickCommand {
  readonly id: string;
  readonly title: string;
  readonly keys: readonly string[];
  /** the kinds it works from; it is told when none fits */
  readonly from: readonly PickKind[] | "nothing";
  readonly run: (pick: Picked) => void | Promise<void>;
}

const ALL: readonly PickKind[] = ["faces", "edges", "vertices"];
const own = (word: string, extra: Record<string, unknown> = {}) => (pick: Picked) => pickBy(pick.kind, { [word]: ids(pick), ...extra });

/** Ways on from a pick to another. */
export const PICK_COMMANDS: readonly PickCommand[] = [
  { id: "pick-loop", title: "Loop, or band of faces", keys: ["K"], from: ["edges", "faces"], run: (p) => pickBy(p.kind, { loop_through: edgesOf(p) }) },
  { id: "pick-ring", title: "Ring", keys: ["N"], from: ["edges"], run: own("ring_through") },
  { id: "pick-grow", title: "Grow", keys: ["G"], from: ALL, run: (p) => pickBy(p.kind, { grow: 1, from: ids(p) }) },
  { id: "pick-shrink", title: "Shrink", keys: ["S"], from: ALL, run: (p) => pickBy(p.kind, { shrink: 1, from: ids(p) }) },
  { id: "pick-shell", title: "Whole shell", keys: ["H"], from: ALL, run: own("connected_to") },
  { id: "pick-flat", title: "Flat region round it", keys: [], from: ["faces"], run: own("flat_around") },
  { id: "pick-facing", title: "Same facing", keys: [], from: ["faces"], run: (p) => pickBy("faces", facings(p)) },
  { id: "pick-touched", title: "Faces it touches", keys: [], from: ["edges", "vertices"], run: (p) => pickBy("faces", facesOf(p)) },
  { id: "pick-outline", title: "Outline", keys: [], from: ["faces"], run: (p) => pickBy("edges", { outline_of: ids(p) }) },
  { id: "pick-invert", title: "Invert", keys: ["Ctrl+I"], from: ALL, run: (p) => pickBy(p.kind, { not: ids(p) }) },
  { id: "pick-borders", title: "Borders", keys: [], from: "nothing", run: () => pickBy("edges", { border: true }) },
  { id: "pick-sharp", title: "Edges sharper than 30°", keys: [], from: "nothing", run: () => pickBy("edges", { sharper_than: 30 }) },
  { id: "pick-odd", title: "Faces that are not quads", keys: [], from: "nothing", run: () => pickBy("faces", { not: { sides: [4, 4] } }) },
  { id: "pick-cut", title: "Edges of the cut", keys: [], from: "nothing", run: cutEdges },
  { id: "pick-made", title: "What the open step made", keys: [], from: "nothing", run: madeByOpen },
  { id: "pick-last", title: "Last pick again", keys: ["Shift+Q"], from: "nothing", run: again },
];

/** What stands of a part's own steps, the open one first where it is among them. */
function openOr(steps: readonly string[]): readonly string[] {
  const { openStep } = editor.get();
  return openStep !== null && steps.includes(openStep) ? [openStep] : steps;
}

async function cutEdges(): Promise<void> {
  const { current, kinds } = editor.get();
  const part = partOf(editor.get(), current);
  const steps = part === null ? [] : cutting(part, kinds);
  if (steps.length === 0) tell("No step of this part cuts it: there are such edges after Boolean and Slice");
  else await pickBy("edges", cutRule(openOr(steps)));
}

async function madeByOpen(): Promise<void> {
  const { current, pickKind, openStep } = editor.get();
  const part = partOf(editor.get(), current);
  const step = part?.steps?.find((s) => s.id === openStep) ?? part?.steps?.[part.steps.length - 1];
  if (step?.id == null) return;
  await pickBy(pickKind, { made_by: step.id });
}

async function again(): Promise<void> {
  await accept();
  const { lastPick } = editor.get();
  if (lastPick === null) tell("nothing was picked before");
  else await pickByIds(lastPick);
}

function pickByIds(pick: Picked): Promise<void> {
  if (editor.get().current !== pick.part) editor.set({ current: pick.part, pick: null });
  return pickBy(pick.kind, ids(pick));
}

export async function runPick(command: PickCommand): Promise<void> {
  const { pick } = editor.get();
  if (command.from === "nothing") await command.run(pick as Picked);
  else if (pick !== null && command.from.includes(pick.kind)) await command.run(pick);
  else tell(`${command.title} goes on from ${command.from.join(" or ")}; pick some first`);
}

/** The loop through an edge, or the band of faces that crosses the face's edge nearest the pointer; or the ring. Of an edge that a
 * boolean or slice left, the run of such edges: faces with many corners lie along it, at which a loop would stop. */
export async function pickLoop(kind: PickKind, edge: string, ring: boolean, beside: Picked | null): Promise<void> {
  const rule = { ids: [edge] };
  const run = kind === "edges" && !ring ? await cutRun(edge) : null;
  if (run !== null) {
    setPick(run.part, kind, [...(beside !== null && beside.kind === kind && beside.part === run.part ? beside.elements : []), ...run.edges]);
    return;
  }
  return pickBy(kind, ring ? { ring_through: rule } : { loop_through: rule }, beside);
}

/** The run of edges of a cut that an edge is of; null where it is of none. */
async function cutRun(edge: string): Promise<{ part: string; edges: number[] } | null> {
  await accept();
  const { build, current, kinds, meshes } = editor.get();
  const part = partOf(editor.get(), current);
  const mesh = meshes[current ?? ""]?.mesh.cage;
  const steps = part === null ? [] : cutting(part, kinds);
  if (build === null || part?.id == null || mesh === undefined || steps.length === 0) return null;
  const body = { part: part.id, revision: build.revision, pick: { edges: cutRule(steps) } as never };
  const found = await answer(api.POST("/api/builds/{build_id}/pick", { params: { path: { build_id: build.id } }, body })).catch(() => null);
  const start = find(mesh, "edges", [edge])[0];
  if (found === null || start === undefined || !found.elements.includes(start) || editor.get().build?.revision !== build.revision) return null;
  return { part: part.id, edges: runThrough(mesh, found.elements, start) };
}

/** The shortest way from one element to another. */
export function pickPath(kind: PickKind, from: string, to: string, beside: Picked | null): Promise<void> {
  return pickBy(kind, { path_between: [{ ids: [from] }, { ids: [to] }] }, beside);
}
