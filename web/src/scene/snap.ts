import { Matrix4, Vector3 } from "three";

import type { Board, Guide } from "../api/client";
import { verticesOf } from "../model/picks/picks";
import { inBuild } from "../model/places/boardPlane";
import { prefs } from "../model/prefs";
import { boardsOf, editor, METRES, type Triple, unitOf } from "../model/store";
import { BASES } from "../model/views";
import type { Boards } from "./boards/Boards";
import type { Camera } from "./Camera";
import { faceCentres, projectAll } from "./hit";
import type { PartView } from "./PartView";

export interface Snapped {
  readonly at: Vector3;
  /** what it is, told beside the target */
  readonly what: string;
  /** it tells nothing of how deep in the view it lies */
  readonly flat?: boolean;
}

/** Targets this near to the pointer are taken, in pixels. */
const REACH = 12;
/** What is dragged is brought onto a target from so near by points of its own. */
const OWN_REACH = 8;

/** Points of one ring of an outline that are targets. */
const MOST_OF_RING = 400;

interface Group {
  readonly what: string;
  readonly flat?: boolean;
  readonly points: Float32Array;
}

/** Whether snapping is on for a drag: the master, inverted while Ctrl is held. */
export function snapping(inverted: boolean): boolean {
  return prefs.get().snap.on !== inverted;
}

type Kinds = Pick<ReturnType<typeof prefs.get>["snap"], "vertex" | "edge" | "face" | "board" | "guide">;
/** What a line is drawn onto though snapping is off. */
export const CORNERS: Kinds = { vertex: true, edge: false, face: false, board: false, guide: false };

/** Targets as they stood when a drag began; elements that move with it are none. */
export class SnapTargets {
  private readonly groups: readonly Group[];

  /** @param snap the kinds of target; those that are switched on unless told otherwise */
  constructor(parts: ReadonlyMap<string, PartView>, boards: Boards, moves: boolean, private readonly snap: Kinds = prefs.get().snap) {
    const { pick } = editor.get();
    const groups: Group[] = [];
    for (const [id, view] of parts) {
      const mesh = view.mesh?.cage;
      if (mesh === undefined || !view.group.visible) continue;
      const still = new Uint8Array(mesh.shape.vertexCount).fill(1);
      if (moves && pick !== null && pick.part === id) for (const v of verticesOf(mesh, pick.kind, pick.elements)) still[v] = 0;
      const place = (points: number[]) => placed(new Float32Array(points), view.group.matrix);
      if (snap.vertex) groups.push({ what: "vertex", points: place(gather(mesh.positions, still)) });
      if (snap.edge) groups.push({ what: "edge middle", points: place(edgeMiddles(mesh.positions, mesh.shape.edges, still)) });
      if (snap.face) {
        const { offsets, corners, faceCount } = mesh.shape;
        const whole = new Uint8Array(faceCount);
        for (let f = 0; f < faceCount; f++) whole[f] = Number(corners.subarray(offsets[f], offsets[f + 1]).every((v) => still[v] === 1));
        groups.push({ what: "face centre", points: place(gather(faceCentres(mesh), whole)) });
      }
    }
    if (snap.board) groups.push({ what: "board", flat: true, points: new Float32Array(boardsOf(editor.get()).flatMap((b) => marksOf(b, boards))) });
    if (snap.board) groups.push({ what: "outline", flat: true, points: new Float32Array(boardsOf(editor.get()).flatMap(outlineOf)) });
    if (snap.guide) groups.push(...guideGroups());
    this.groups = groups;
  }

  /** The target nearest to a pixel of a pane. */
  nearest(x: number, y: number, camera: Camera): Snapped | null {
    const m = new Matrix4().multiplyMatrices(camera.camera.projectionMatrix, camera.camera.matrixWorldInverse);
    let best: Snapped | null = null;
    let least = REACH;
    let depth = Infinity;
    for (const group of this.groups) {
      const s = projectAll(group.points, m, camera);
      for (let i = 0; i < s.length; i += 3) {
        const off = Math.hypot(s[i]! - x, s[i + 1]! - y);
        // of those on one spot the front one is meant
        if (off > REACH || Math.abs(s[i + 2]!) > 1 || off > least + 0.5 || (off > least - 0.5 && s[i + 2]! >= depth)) continue;
        least = Math.min(least, off);
        depth = s[i + 2]!;
        best = { at: new Vector3().fromArray(group.points, i), what: group.what, flat: group.flat ?? false };
      }
    }
    return best ?? (this.snap.guide ? nearestLine(x, y, camera) : null);
  }

  /** Which of some points, moved by a way, is nearest to a target as a pane shows it, and that target. */
  nearestOf(own: readonly Vector3[], way: Vector3, camera: Camera): { readonly own: Vector3; readonly target: Snapped } | null {
    const m = new Matrix4().multiplyMatrices(camera.camera.projectionMatrix, camera.camera.matrixWorldInverse);
    const moved = projectAll(new Float32Array(own.flatMap((p) => p.clone().add(way).toArray())), m, camera);
    // targets by cells of the pane, so that each point looks at few
    const cells = new Map<string, { readonly x: number; readonly y: number; readonly group: Group; readonly i: number }[]>();
    for (const group of this.groups) {
      const s = projectAll(group.points, m, camera);
      for (let i = 0; i < s.length; i += 3) {
        if (Math.abs(s[i + 2]!) > 1) continue;
        const cell = `${Math.floor(s[i]! / OWN_REACH)} ${Math.floor(s[i + 1]! / OWN_REACH)}`;
        cells.set(cell, [...(cells.get(cell) ?? []), { x: s[i]!, y: s[i + 1]!, group, i }]);
      }
    }
    let best: { own: Vector3; target: Snapped } | null = null;
    let least = OWN_REACH;
    own.forEach((point, k) => {
      const [x, y] = [moved[3 * k]!, moved[3 * k + 1]!];
      const [cx, cy] = [Math.floor(x / OWN_REACH), Math.floor(y / OWN_REACH)];
      for (const dx of [-1, 0, 1]) {
        for (const dy of [-1, 0, 1]) {
          for (const t of cells.get(`${cx + dx} ${cy + dy}`) ?? []) {
            const off = Math.hypot(t.x - x, t.y - y);
            if (off >= least) continue;
            least = off;
            best = { own: point, target: { at: new Vector3().fromArray(t.group.points, t.i), what: t.group.what, flat: t.group.flat ?? false } };
          }
        }
      }
    });
    return best;
  }
}

function gather(p: Float32Array, wanted: Uint8Array): number[] {
  const out: number[] = [];
  wanted.forEach((w, v) => {
    if (w === 1) out.push(p[3 * v]!, p[3 * v + 1]!, p[3 * v + 2]!);
  });
  return out;
}

function edgeMiddles(p: Float32Array, edges: Uint32Array, still: Uint8Array): number[] {
  const out: number[] = [];
  for (let e = 0; e < edges.length; e += 2) {
    const [a, b] = [edges[e]!, edges[e + 1]!];
    if (still[a] === 1 && still[b] === 1) for (let k = 0; k < 3; k++) out.push((p[3 * a + k]! + p[3 * b + k]!) / 2);
  }
  return out;
}

function placed(p: Float32Array, matrix: Matrix4): Float32Array {
  const v = new Vector3();
  for (let i = 0; i < p.length; i += 3) v.fromArray(p, i).applyMatrix4(matrix).toArray(p, i);
  return p;
}

function guidesShown(): { guide: Guide; at: Vector3; to: Vector3 }[] {
  const metres = METRES[unitOf(editor.get())];
  const place = (p: readonly number[] | null | undefined) => new Vector3(...((p ?? [0, 0, 0]) as Triple)).multiplyScalar(metres);
  return (editor.get().build?.document.guides ?? []).filter((g) => !g.hidden).map((guide) => ({ guide, at: place(guide.at), to: place(guide.to) }));
}

/** Points of guides, each under its own name. */
function guideGroups(): Group[] {
  return guidesShown().flatMap(({ guide, at, to }) => (guide.kind === "level" ? [] : [{ what: guide.name, points: new Float32Array([...at.toArray(), ...(guide.kind === "line" ? to.toArray() : [])]) }]));
}

/** The nearest place of a guide's line or level, as a flat view shows it. */
function nearestLine(x: number, y: number, camera: Camera): Snapped | null {
  if (!prefs.get().snap.guide || camera.view === "perspective") return null;
  const { eye } = BASES[camera.view];
  const here = camera.onPlane(x, y);
  let best: Snapped | null = null;
  let least = REACH;
  for (const { guide, at, to } of guidesShown()) {
    let near: Vector3;
    if (guide.kind === "level") {
      const k = "xyz".indexOf(guide.axis ?? "y");
      if (Math.abs(eye.getComponent(k)) > 0.5) continue;
      near = here.clone().setComponent(k, at.getComponent(k));
    } else if (guide.kind === "line") {
      const flat = (v: Vector3) => v.clone().addScaledVector(eye, -v.dot(eye));
      const along = flat(to.clone().sub(at));
      if (along.lengthSq() < 1e-18) continue;
      const t = flat(here.clone().sub(at)).dot(along) / along.lengthSq();
      near = at.clone().lerp(to, t);
    } else continue;
    const p = camera.project(near);
    const off = Math.hypot(p.x - x, p.y - y);
    if (off < least) {
      least = off;
      best = { at: near, what: guide.name, flat: true };
    }
  }
  return best;
}

/** Corners, middles of the sides and centre of a board that is shown. */
function marksOf(board: Board, boards: Boards): number[] {
  const c = boards.standing(board, METRES[unitOf(editor.get())]);
  if (c === null || board.hidden) return [];
  const out = [...c, ...c.map((p, i) => p.clone().lerp(c[(i + 1) % 4] as Vector3, 0.5)), (c[0] as Vector3).clone().lerp(c[2] as Vector3, 0.5)];
  return out.flatMap((p) => p.toArray());
}

/** The points of a board's traced outline; those of a fine one thinned to what a hand can tell apart. */
function outlineOf(board: Board): number[] {
  if (board.hidden || board.outline == null) return [];
  const scale = board.width / board.outline.width;
  const metres = METRES[unitOf(editor.get())];
  return board.outline.rings.flatMap((ring) => {
    const every = Math.max(1, Math.ceil(ring.length / MOST_OF_RING));
    return ring.filter((_, i) => i % every === 0).flatMap(([x, y]) => inBuild(board, [x * scale, y * scale], metres).toArray());
  });
}

/** The nearest multiple of a step. */
export function toStep(value: number, step: number): number {
  return Number((Math.round(value / step) * step).toPrecision(12));
}

/** Round one coordinate of a place, in the unit of the build: onto an axis when near, else onto the grid. */
export function snapCoordinate(metres: number, pixel: number): number {
  const { snap, gridStep } = prefs.get();
  if (snap.axes && Math.abs(metres) <= REACH * pixel) return 0;
  return snap.grid ? toStep(metres, gridStep) : metres;
}

