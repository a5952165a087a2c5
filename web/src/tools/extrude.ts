import { type Matrix4, Vector3 } from "three";

import type { MeshData } from "../api/packets";
import { prefs } from "../model/prefs";
import { editor, METRES, type ToolSession, unitOf } from "../model/store";
import { lengthText } from "../model/units";
import { alongLine, rounded } from "../scene/numbers";
import type { Overlay } from "../scene/overlay";
import type { Pointer } from "../scene/pointer";
import { snapping, toStep } from "../scene/snap";
import { token } from "../theme/theme";
import { type Handle, handle } from "./Handle";
import { fault, type Tool, type ToolPlace } from "./Tool";

/** The stalk: stands on the picked faces; dragging its collar sets the depth. */
export class ExtrudeTool implements Tool {
  private start = { depth: 0, along: 0 };
  private stalkOf: ToolSession["stepId"] | null = null;
  private direction = new Vector3(0, 1, 0);

  /** Foot and tip of the stalk in the build, and the build's vector of one metre of depth. */
  private stalk(place: ToolPlace): { foot: Vector3; tip: Vector3; unit: Vector3; handle: Vector3 } | null {
    const mesh = place.view.mesh?.cage;
    const pick = editor.get().pick;
    if (mesh === undefined || pick === null) return null;
    const depth = (place.session.values["depth"] as number) * METRES[unitOf(editor.get())];
    if (this.stalkOf !== place.session.stepId) {
      this.stalkOf = place.session.stepId;
      this.direction = directionOf(place.session.values["along"]) ?? averageNormal(mesh, pick.elements);
    }
    const tip = centre(mesh, pick.elements);
    const matrix = place.view.group.matrix;
    const foot = tip.clone().addScaledVector(this.direction, -shownDepth(place, depth)).applyMatrix4(matrix);
    tip.applyMatrix4(matrix);
    const unit = linear(matrix, this.direction);
    const handle = tip.clone().addScaledVector(unit.clone().normalize(), 34 * place.camera.pixel(tip));
    return { foot, tip, unit, handle };
  }

  handleAt(place: ToolPlace, at: Pointer): Handle | null {
    const stalk = this.stalk(place);
    if (stalk === null) return null;
    const p = place.camera.project(stalk.handle);
    return Math.hypot(p.x - at.x, p.y - at.y) <= 11 ? handle("knob") : null;
  }

  press(place: ToolPlace, _pressed: Handle, at: Pointer): void {
    const stalk = this.stalk(place);
    if (stalk === null) return;
    this.anchor = stalk.foot.clone();
    this.start = { depth: place.session.values["depth"] as number, along: this.along(place, stalk.unit, at) };
  }

  private anchor = new Vector3();

  private along(place: ToolPlace, unit: Vector3, at: Pointer): number {
    const ray = place.camera.ray(at.x, at.y);
    return alongLine(this.anchor, unit, ray.origin, ray.direction);
  }

  drag(place: ToolPlace, at: Pointer): ToolSession["values"] {
    const metres = METRES[unitOf(editor.get())];
    const unit = linear(place.view.group.matrix, this.direction);
    const moved = this.along(place, unit, at) - this.start.along;
    const depth = this.start.depth * metres + moved;
    if (snapping(at.invert) && prefs.get().snap.grid) return { depth: Number((toStep(depth, prefs.get().gridStep) / metres).toPrecision(9)) };
    return { depth: rounded(depth, place.camera.pixel(this.anchor), metres, at.fine) };
  }

  draw(place: ToolPlace, overlay: Overlay, hot: Handle | null): void {
    const stalk = this.stalk(place);
    if (stalk === null) return;
    overlay.polyline([stalk.foot, stalk.handle], token("ink"), 2);
    overlay.dot(stalk.handle, hot !== null ? 8 : 6.5, token("panel"), token("pick"));
    overlay.label(stalk.handle, lengthText(place.session.values["depth"] as number), token("pick"));
    fault(overlay, stalk.handle);
  }
}

/** A direction that was chosen instead of the faces' own. */
function directionOf(along: unknown): Vector3 | null {
  if (Array.isArray(along)) return new Vector3(...(along as [number, number, number])).normalize();
  const axis = typeof along === "string" ? /^([+-])([xyz])$/.exec(along) : null;
  return axis === null ? null : new Vector3().setComponent("xyz".indexOf(axis[2] as string), axis[1] === "+" ? 1 : -1);
}

/** The depth that what is on screen shows: the trial's once its preview came, else the stored one. */
function shownDepth(place: ToolPlace, depth: number): number {
  if (editor.get().preview !== null) return depth;
  const stored = place.session.stored?.["depth"];
  return typeof stored === "number" ? stored * METRES[unitOf(editor.get())] : 0;
}

function linear(matrix: Matrix4, v: Vector3): Vector3 {
  return v.clone().applyMatrix4(matrix).sub(new Vector3().setFromMatrixPosition(matrix));
}

/** Mean of the faces' centres; only for where a handle stands. */
export function centre(mesh: MeshData, faces: readonly number[]): Vector3 {
  const out = new Vector3();
  const v = new Vector3();
  for (const f of faces) {
    const [a, b] = [mesh.shape.offsets[f] as number, mesh.shape.offsets[f + 1] as number];
    const middle = new Vector3();
    for (let c = a; c < b; c++) middle.add(v.fromArray(mesh.positions, (mesh.shape.corners[c] as number) * 3));
    out.addScaledVector(middle, 1 / (b - a));
  }
  return out.multiplyScalar(1 / Math.max(faces.length, 1));
}

function averageNormal(mesh: MeshData, faces: readonly number[]): Vector3 {
  const out = new Vector3();
  const p = new Vector3();
  const q = new Vector3();
  const o = new Vector3();
  for (const f of faces) {
    const [a, b] = [mesh.shape.offsets[f] as number, mesh.shape.offsets[f + 1] as number];
    o.fromArray(mesh.positions, (mesh.shape.corners[a] as number) * 3);
    for (let c = a + 1; c + 1 < b; c++) {
      p.fromArray(mesh.positions, (mesh.shape.corners[c] as number) * 3).sub(o);
      q.fromArray(mesh.positions, (mesh.shape.corners[c + 1] as number) * 3).sub(o);
      out.add(p.cross(q));
    }
  }
  return out.lengthSq() > 0 ? out.normalize() : new Vector3(0, 1, 0);
}
