import { Matrix4, Vector3 } from "three";

import type { Board } from "../api/client";
import { prefs } from "../state/prefs";
import { boardsOf, editor, METRES, unitOf } from "../state/store";
import { verticesOf } from "../state/picks";
import type { Boards } from "./Boards";
import type { Camera } from "./Camera";
import { faceCentres, projectAll } from "./hit";
import type { PartView } from "./PartView";

export interface Snapped {
  readonly at: Vector3;
  /** what it is, told beside the target */
  readonly what: string;
}

/** Targets this near to the pointer are taken, in pixels. */
const REACH = 12;

interface Group {
  readonly what: string;
  readonly points: Float32Array;
}

/** Whether snapping is on for a drag: the master, inverted while Ctrl is held. */
export function snapping(inverted: boolean): boolean {
  return prefs.get().snap.on !== inverted;
}

/** Targets as they stood when a drag began; elements that move with it are none. */
export class SnapTargets {
  private readonly groups: readonly Group[];

  constructor(parts: ReadonlyMap<string, PartView>, boards: Boards, moves: boolean) {
    const { snap } = prefs.get();
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
    if (snap.board) groups.push({ what: "board", points: new Float32Array(boardsOf(editor.get()).flatMap((b) => guides(b, boards))) });
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
        best = { at: new Vector3().fromArray(group.points, i), what: group.what };
      }
    }
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

/** Corners, middles of the sides and centre of a board that is shown. */
function guides(board: Board, boards: Boards): number[] {
  const c = boards.standing(board, METRES[unitOf(editor.get())]);
  if (c === null || board.hidden) return [];
  const out = [...c, ...c.map((p, i) => p.clone().lerp(c[(i + 1) % 4] as Vector3, 0.5)), (c[0] as Vector3).clone().lerp(c[2] as Vector3, 0.5)];
  return out.flatMap((p) => p.toArray());
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

