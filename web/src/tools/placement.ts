import { Box3, Matrix4, Vector3 } from "three";

import type { Part } from "../api/client";
import { chosenOf, type Key, memberOf, outermost } from "../model/document/members";
import { groupsAround } from "../model/document/parts";
import { matrixOf } from "../model/places/frames";
import { placementsAfter } from "../model/places/placements";
import { prefs } from "../model/prefs";
import { editor, groupsOf, METRES, partsOf, type Triple, unitOf } from "../model/store";
import { shown, shownUnit, toShown } from "../model/units";
import type { Boards } from "../scene/boards/Boards";
import type { Camera } from "../scene/Camera";
import type { Overlay } from "../scene/overlay";
import type { PartView } from "../scene/PartView";
import type { Pointer } from "../scene/pointer";
import { snapping, SnapTargets, toStep } from "../scene/snap";
import { token } from "../theme/theme";
import { AXES, type Handle, handle } from "./Handle";
import { angleAt, drawHandles, handleAt, OVER, type Stand } from "./handles";
import { MoveDrag } from "./moveDrag";

interface Start {
  readonly handle: Handle;
  readonly keys: readonly Key[];
  readonly stand: Stand;
  readonly at: Pointer;
  readonly angle: number;
  turned: number;
  readonly move: MoveDrag | null;
}

const FINE = 0.01;

/** So many vertices of what is dragged are brought onto targets, beside the corners and middles of its box. */
const MOST_OWN = 300;

/** Points by which what is dragged snaps: its vertices where they are few, and the corners and middles of its box. */
function ownPoints(views: readonly PartView[]): Vector3[] {
  const out: Vector3[] = [];
  const whole = new Box3();
  const each = Math.max(Math.floor(MOST_OWN / Math.max(views.length, 1)), 1);
  for (const view of views) {
    const positions = view.mesh?.cage.positions ?? new Float32Array();
    whole.union(view.bounds());
    if (positions.length > 3 * each) continue;
    for (let i = 0; i < positions.length; i += 3) out.push(new Vector3().fromArray(positions, i).applyMatrix4(view.group.matrix));
  }
  if (whole.isEmpty()) return out;
  const [low, high, middle] = [whole.min, whole.max, whole.getCenter(new Vector3())];
  for (const x of [low.x, middle.x, high.x]) for (const y of [low.y, middle.y, high.y]) for (const z of [low.z, middle.z, high.z]) out.push(new Vector3(x, y, z));
  return out;
}

/** Moves whole parts and groups, one or several, about the pivot of the last of them; a collar drags a copy out along its axis. */
export class PlacementHandles {
  private start: Start | null = null;
  /** what the drag has come to, in words */
  private told: string | null = null;

  private keys(): Key[] {
    const state = editor.get();
    return outermost(state, chosenOf(state));
  }

  /** The handles stand at the pivot of the last one, along its own axes, or the build's where frames are. */
  private stand(): Stand | null {
    const state = editor.get();
    const keys = this.keys();
    const lead = memberOf(state, keys[keys.length - 1] ?? null);
    if (lead === null) return null;
    const metres = METRES[unitOf(state)];
    const matrix = this.matrix(lead as Part, metres);
    const pivot = new Vector3(...((lead.pivot ?? [0, 0, 0]) as Triple)).multiplyScalar(metres).applyMatrix4(matrix);
    const own = prefs.get().frame !== "build";
    const axes = [0, 1, 2].map((i) => (own ? new Vector3().setFromMatrixColumn(matrix, i).normalize() : new Vector3().setComponent(i, 1)));
    return { origin: pivot, axes: axes as [Vector3, Vector3, Vector3], makes: "copy", whole: true };
  }

  private matrix(member: Part, metres: number): Matrix4 {
    const state = editor.get();
    const moved = state.copying ? null : state.moved;
    const placed = <M extends { id?: string | null; placement?: unknown }>(m: M, key: Key): M => (moved?.[key] === undefined ? m : { ...m, placement: moved[key] });
    const groups = groupsOf(state);
    const isGroup = groups.includes(member as never);
    return matrixOf(placed(member, isGroup ? `g:${member.id}` : `p:${member.id}`), metres, groups.map((g) => placed(g, `g:${g.id}`)));
  }

  handleAt(camera: Camera, at: Pointer): Handle | null {
    const stand = this.stand();
    return stand === null ? null : handleAt(stand, camera, at);
  }

  press(parts: ReadonlyMap<string, PartView>, boards: Boards, camera: Camera, pressed: Handle, at: Pointer): void {
    const stand = this.stand();
    if (stand === null) return;
    const keys = this.keys();
    const state = editor.get();
    const rides = (id: string) => {
      const part = partsOf(state).find((p) => p.id === id);
      return part !== undefined && (keys.includes(`p:${id}`) || groupsAround(part, groupsOf(state)).some((g) => keys.includes(`g:${g.id}`)));
    };
    const still = new Map([...parts].filter(([id]) => !rides(id)));
    const moves = pressed.kind === "free" || pressed.kind === "move" || pressed.kind === "plane" || pressed.kind === "extrude";
    const as = pressed.kind === "extrude" ? handle("move", pressed.axis) : pressed;
    const base = stand.axes.map((a) => stand.origin.dot(a)) as Triple;
    const move = moves ? new MoveDrag(as, stand.axes, stand.origin, base, new SnapTargets(still, boards, false), camera, at, ownPoints([...parts].flatMap(([id, view]) => (rides(id) ? [view] : [])))) : null;
    this.start = { handle: pressed, keys, stand, at, angle: angleAt(stand, camera, pressed, at), turned: 0, move };
    editor.set({ copying: pressed.kind === "extrude" });
  }

  drag(camera: Camera, at: Pointer): void {
    if (this.start === null) return;
    editor.set({ moved: placementsAfter(this.start.keys, this.change(this.start, camera, at)) });
  }

  /** What the drag does to the build. */
  private change(start: Start, camera: Camera, at: Pointer): Matrix4 {
    const { stand, handle: held } = start;
    if (start.move !== null) {
      const by = start.move.by(camera, at);
      const way = stand.axes.reduce((sum, axis, i) => sum.addScaledVector(axis, by[i] as number), new Vector3());
      this.told = `${by.map((v) => shown(Number((toShown(v / METRES[unitOf(editor.get())])).toPrecision(6)))).join("  ")} ${shownUnit(editor.get())}`;
      return new Matrix4().makeTranslation(way);
    }
    const about = (change: Matrix4) => new Matrix4().makeTranslation(stand.origin).multiply(change).multiply(new Matrix4().makeTranslation(stand.origin.clone().negate()));
    const snaps = snapping(at.invert);
    if (held.kind === "turn") {
      let by = angleAt(stand, camera, held, at) - start.angle;
      by += 360 * Math.round((start.turned - by) / 360);
      start.turned = by;
      const angle = toStep(by, snaps && prefs.get().snap.angle ? prefs.get().angleStep : at.fine ? 0.1 : 1);
      this.told = `${shown(angle)}° about ${AXES[held.axis]}`;
      return about(new Matrix4().makeRotationAxis(stand.axes[held.axis], (angle * Math.PI) / 180));
    }
    const o = camera.project(stand.origin);
    const reach = (p: Pointer) => Math.hypot(p.x - o.x, p.y - o.y);
    const by = Math.max(toStep(reach(at) / Math.max(reach(start.at), 1), snaps && prefs.get().snap.scale ? prefs.get().scaleStep : FINE), FINE);
    this.told = `× ${shown(by)}`;
    const grows = (k: number) => held.kind === "even" || (held.kind === "spread" ? k !== held.axis : k === held.axis);
    const basis = new Matrix4().makeBasis(...stand.axes);
    const scale = new Matrix4().makeScale(...([0, 1, 2].map((k) => (grows(k) ? by : 1)) as Triple));
    return about(basis.clone().multiply(scale).multiply(basis.clone().invert()));
  }

  end(): void {
    this.start = null;
    this.told = null;
    editor.set({ moved: null, trailing: null, copying: false });
  }

  draw(overlay: Overlay, hot: Handle | null): void {
    const stand = this.stand();
    if (stand === null) return;
    drawHandles(stand, overlay, hot);
    if (this.told !== null) overlay.label(stand.origin, editor.get().copying ? `copy  ${this.told}` : this.told, token("pick"), OVER);
    const snapped = this.start?.move?.snapped ?? null;
    if (snapped !== null) {
      overlay.dot(snapped.at, 7, "transparent", token("mark"), 2);
      overlay.label(snapped.at, snapped.what, token("mark"), 1);
    }
  }
}
