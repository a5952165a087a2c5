import { Vector3 } from "three";

import { gridOf, movedPoints } from "../../model/shaping/latticePoints";
import { prefs } from "../../model/prefs";
import { triple } from "../../model/session/toolStep";
import { editor, METRES, type Triple, unitOf, type Value } from "../../model/store";
import { BASES } from "../../model/views";
import { armTransform } from "../session/arming";
import { store } from "../session/storing";
import { tryValues } from "../session/trial";

/** Which way is right and up in the view at work; in 3D along the axes nearest to that. */
let basis: () => { right: Vector3; up: Vector3 } = () => ({ right: BASES.front.right, up: BASES.front.up });

export function registerBasis(tell: (() => { right: Vector3; up: Vector3 }) | null): void {
  if (tell !== null) basis = tell;
}

function nearest(v: Vector3, axes: readonly Triple[]): { axis: number; sign: number } {
  let best = { axis: 0, sign: 1 };
  let most = -1;
  axes.forEach((a, i) => {
    const along = v.dot(new Vector3(...a).normalize());
    if (Math.abs(along) > most) {
      most = Math.abs(along);
      best = { axis: i, sign: Math.sign(along) || 1 };
    }
  });
  return best;
}

const OWN: readonly Triple[] = [[1, 0, 0], [0, 1, 0], [0, 0, 1]];

/** The same for the picked control points of the lattice at work, along the part's own axes. */
async function nudgePoints(right: number, up: number): Promise<void> {
  const { session, gridPick } = editor.get();
  const grid = session === null ? null : gridOf(session);
  if (grid === null) return;
  const b = basis();
  const { axis, sign } = nearest(right !== 0 ? b.right : b.up, OWN);
  const by = sign * (right + up) * (prefs.get().gridStep / METRES[unitOf(editor.get())]);
  tryValues({ offsets: movedPoints(grid, gridPick, (at) => at.map((v, k) => (k === axis ? v + by : v)) as Triple) as Value }, false);
  await store();
}

/** Move what is picked by one snap step to the right and up of the view; nudges while the tool stays are one step. */
export async function nudge(right: number, up: number): Promise<void> {
  if (editor.get().session?.tool === "lattice" && editor.get().gridPick.length > 0) return nudgePoints(right, up);
  if (editor.get().pick === null) return;
  if (editor.get().session?.tool !== "transform") await armTransform("translate");
  const { session } = editor.get();
  if (session === null || session.tool !== "transform") return;
  const b = basis();
  const { axis, sign } = nearest(right !== 0 ? b.right : b.up, session.axes);
  const step = prefs.get().gridStep / METRES[unitOf(editor.get())];
  const to = [...triple(session.values, "translate")] as Triple;
  to[axis] = Number(((to[axis] as number) + sign * (right + up) * step).toPrecision(9));
  tryValues({ translate: to }, false);
  await store();
}
