import type { MeshData } from "../../api/packets";
import { verticesOf } from "./picks";
import { type EditorState, METRES, partOf, type Picked } from "../store";
import { shown, shownUnit } from "../units";

/** Past this many elements only their count is told. */
const MOST = 5000;

type Vector = readonly [number, number, number];

function point(mesh: MeshData, v: number): Vector {
  const p = mesh.positions;
  return [p[3 * v]!, p[3 * v + 1]!, p[3 * v + 2]!];
}

function minus(a: Vector, b: Vector): Vector {
  return [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
}

function cross(a: Vector, b: Vector): Vector {
  return [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
}

function areaVector(mesh: MeshData, f: number): Vector {
  const { offsets, corners } = mesh.shape;
  const [from, to] = [offsets[f]!, offsets[f + 1]!];
  const o = point(mesh, corners[from]!);
  let out: Vector = [0, 0, 0];
  for (let c = from + 1; c + 1 < to; c++) {
    const n = cross(minus(point(mesh, corners[c]!), o), minus(point(mesh, corners[c + 1]!), o));
    out = [out[0] + n[0] / 2, out[1] + n[1] / 2, out[2] + n[2] / 2];
  }
  return out;
}

function along(mesh: MeshData, e: number): Vector {
  return minus(point(mesh, mesh.shape.edges[2 * e + 1]!), point(mesh, mesh.shape.edges[2 * e]!));
}

/** Degrees between two directions; for edges, which have no sense, at most 90. */
function angle(a: Vector, b: Vector, lines: boolean): number {
  const size = Math.hypot(...a) * Math.hypot(...b);
  if (size === 0) return 0;
  const cosine = (a[0] * b[0] + a[1] * b[1] + a[2] * b[2]) / size;
  return (Math.acos(Math.min(Math.max(lines ? Math.abs(cosine) : cosine, -1), 1)) * 180) / Math.PI;
}

/** Length, area or place of what is picked, and the angle between two. */
function figures(mesh: MeshData, pick: Picked, metres: number, unit: string): string[] {
  const n = pick.elements.length;
  if (pick.kind === "vertices") {
    if (n === 1) return [`${point(mesh, verticesOf(mesh, "vertices", pick.elements)[0]!).map((v) => shown(v / metres)).join(", ")} ${unit}`];
    if (n !== 2) return [];
    const gap = minus(point(mesh, pick.elements[0]!), point(mesh, pick.elements[1]!));
    return [`${shown(Number((Math.hypot(...gap) / metres).toPrecision(5)))} ${unit} apart`];
  }
  if (pick.kind === "edges") {
    const length = pick.elements.reduce((sum, e) => sum + Math.hypot(...along(mesh, e)), 0);
    const told = [`${shown(Number((length / metres).toPrecision(5)))} ${unit}`];
    if (n === 2) told.push(`${shown(Number(angle(along(mesh, pick.elements[0]!), along(mesh, pick.elements[1]!), true).toFixed(2)))}°`);
    return told;
  }
  const area = pick.elements.reduce((sum, f) => sum + Math.hypot(...areaVector(mesh, f)), 0);
  const told = [`${shown(Number((area / metres ** 2).toPrecision(5)))} ${unit}²`];
  if (n === 2) told.push(`${shown(Number(angle(areaVector(mesh, pick.elements[0]!), areaVector(mesh, pick.elements[1]!), false).toFixed(2)))}°`);
  return told;
}

/** Kind and count of the pick, how many are out of sight, its length or area. */
export function pickText(state: EditorState, unseen: number | null): string {
  const { pick, meshes } = state;
  if (pick === null) return "nothing picked";
  const n = pick.elements.length;
  const one = { faces: "face", edges: "edge", vertices: "vertex" }[pick.kind];
  const told = [`${n} ${n === 1 ? one : pick.kind}${unseen !== null && unseen > 0 ? `, ${unseen} unseen` : ""}`];
  const live = partOf(state, pick.part)?.steps?.some((s) => s.kind === "mirror" && s.enabled !== false) ?? false;
  if (live) told[0] = `${told[0] ?? ""} with ${n === 1 ? "its image" : "their images"}`;
  const mesh = meshes[pick.part]?.mesh.cage;
  const trial = state.session !== null && state.preview !== null;
  if (mesh !== undefined && n <= MOST && !trial) told.push(...figures(mesh, pick, METRES[shownUnit(state)], shownUnit(state)));
  return told.join(" · ");
}
