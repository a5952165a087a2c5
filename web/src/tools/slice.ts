import { Matrix3, Vector3 } from "three";

import { editor, METRES, type Triple, unitOf, type Values } from "../model/store";
import { rounded } from "../scene/numbers";
import type { Overlay } from "../scene/overlay";
import type { Pointer } from "../scene/pointer";
import { CORNERS, type Snapped, snapping, SnapTargets } from "../scene/snap";
import { token } from "../theme/theme";
import { type Handle, handle } from "./Handle";
import { fault, type Tool, type ToolPlace } from "./Tool";

/** The line turns in steps of so many degrees; with Shift, or where an end lies on a snap target, it turns freely. */
const STEP = 15;
const REACH = 9;
/** The sine up to which a view sees a plane edge on. */
const EDGE_ON = 0.02;

interface Line {
  readonly from: Vector3;
  readonly to: Vector3;
}

/**
 * A line drawn over a view is where a plane stands that sees the view edge on. Drawn once, dragging the line moves the
 * plane along its normal, and dragging one of its ends turns it.
 */
export class SliceTool implements Tool {
  private line: { readonly step: string; readonly ends: Line } | null = null;
  private start: { handle: Handle; at: Vector3; ends: Line; targets: SnapTargets; on: Snapped | null } | null = null;
  /** the target that the end in the hand lies on */
  private snapped: Snapped | null = null;

  /** The line of the plane that the numbers say, whether they were drawn or typed; null where there is none, and where the view does
   * not see it edge on. As long as it was drawn, or as the part is wide. */
  private ends(place: ToolPlace): Line | null {
    const { point, normal } = place.session.values as { readonly point?: Triple; readonly normal?: Triple };
    if (point === undefined || normal === undefined) return null;
    const drawn = this.line?.step === place.session.stepId ? this.line.ends : null;
    const matrix = place.view.group.matrix;
    const at = new Vector3(...point).multiplyScalar(METRES[unitOf(editor.get())]).applyMatrix4(matrix);
    const upright = new Vector3(...normal).applyMatrix3(new Matrix3().getNormalMatrix(matrix)).normalize();
    const { eye } = place.camera.basis();
    const along = new Vector3().crossVectors(upright, eye);
    if (Math.abs(upright.dot(eye)) > EDGE_ON || along.lengthSq() < 1e-9) return null;
    along.normalize();
    if (drawn === null) {
      const box = place.view.bounds();
      const middle = box.getCenter(new Vector3());
      const foot = middle.addScaledVector(upright, at.clone().sub(middle).dot(upright));
      const half = box.getSize(new Vector3()).length() / 2;
      return { from: foot.clone().addScaledVector(along, -half), to: foot.addScaledVector(along, half) };
    }
    const on = (end: Vector3) => end.clone().addScaledVector(upright, at.clone().sub(end).dot(upright));
    const turned = drawn.to.clone().sub(drawn.from);
    const length = turned.length();
    if (Math.abs(turned.dot(upright)) <= EDGE_ON * length) return { from: on(drawn.from), to: on(drawn.to) };
    const foot = on(drawn.from.clone().lerp(drawn.to, 0.5));
    const way = (Math.sign(turned.dot(along)) * length) / 2;
    return { from: foot.clone().addScaledVector(along, -way), to: foot.addScaledVector(along, way) };
  }

  handleAt(place: ToolPlace, at: Pointer): Handle | null {
    const ends = this.ends(place);
    if (ends === null) return handle("draw");
    const a = place.camera.project(ends.from);
    const b = place.camera.project(ends.to);
    if (Math.hypot(a.x - at.x, a.y - at.y) <= REACH) return handle("from");
    if (Math.hypot(b.x - at.x, b.y - at.y) <= REACH) return handle("to");
    const size = Math.hypot(b.x - a.x, b.y - a.y);
    const t = ((at.x - a.x) * (b.x - a.x) + (at.y - a.y) * (b.y - a.y)) / Math.max(size * size, 1e-9);
    const off = Math.abs((at.x - a.x) * (b.y - a.y) - (at.y - a.y) * (b.x - a.x)) / Math.max(size, 1e-9);
    return off <= REACH && t >= 0 && t <= 1 ? handle("line") : null;
  }

  press(place: ToolPlace, pressed: Handle, at: Pointer): void {
    const targets = new SnapTargets(new Map([[place.session.part, place.view]]), place.boards, false, snapping(at.invert) ? undefined : CORNERS);
    const on = pressed.kind === "draw" ? this.target(targets, place, at) : null;
    const here = on?.at.clone() ?? place.camera.onPlane(at.x, at.y);
    const ends = this.ends(place) ?? { from: here, to: here };
    this.start = { handle: pressed, at: here, ends, targets, on };
    this.snapped = on;
  }

  private target(targets: SnapTargets, place: ToolPlace, at: Pointer): Snapped | null {
    return at.fine && !snapping(at.invert) ? null : targets.nearest(at.x, at.y, place.camera);
  }

  drag(place: ToolPlace, at: Pointer): Values {
    const start = this.start;
    if (start === null) return {};
    const here = place.camera.onPlane(at.x, at.y);
    if (start.handle.kind === "line") {
      const along = start.ends.to.clone().sub(start.ends.from).normalize();
      const moved = here.sub(start.at);
      moved.addScaledVector(along, -moved.dot(along));
      this.snapped = null;
      return this.take(place, { from: start.ends.from.clone().add(moved), to: start.ends.to.clone().add(moved) }, at.fine);
    }
    const fixed = start.handle.kind === "draw" ? start.at : start.handle.kind === "from" ? start.ends.to : start.ends.from;
    this.snapped = this.target(start.targets, place, at);
    const free = this.snapped?.at.clone() ?? (at.fine ? here : this.turned(place, fixed, here));
    return this.take(place, start.handle.kind === "from" ? { from: free, to: fixed } : { from: fixed, to: free }, at.fine, this.snapped?.at ?? start.on?.at ?? null);
  }

  /** The free end, turned to the nearest angle step about the fixed one. */
  private turned(place: ToolPlace, fixed: Vector3, free: Vector3): Vector3 {
    const { right, up } = place.camera.basis();
    const d = free.clone().sub(fixed);
    const [x, y] = [d.dot(right), d.dot(up)];
    const step = STEP * (Math.PI / 180);
    const angle = Math.round(Math.atan2(y, x) / step) * step;
    const size = Math.max(Math.hypot(x, y), 1e-9);
    return fixed.clone().addScaledVector(right, Math.cos(angle) * size).addScaledVector(up, Math.sin(angle) * size);
  }

  /** The plane a line stands for, in the part's axes and the build's unit: through it, seen edge on, its normal upward. A target that
   * an end lies on is where the plane stands, to the last digit. */
  private take(place: ToolPlace, ends: Line, fine: boolean, on: Vector3 | null = null): Values {
    this.line = { step: place.session.stepId, ends };
    const { eye, up, right } = place.camera.basis();
    const along = ends.to.clone().sub(ends.from);
    if (along.lengthSq() < 1e-18) return {};
    const normal = new Vector3().crossVectors(eye, along).normalize();
    const upward = normal.dot(up);
    if (upward < -1e-9 || (Math.abs(upward) <= 1e-9 && normal.dot(right) < 0)) normal.negate();
    const matrix = place.view.group.matrix;
    const linear = new Matrix3().setFromMatrix4(matrix);
    const inPart = normal.clone().applyMatrix3(linear.clone().transpose()).normalize();
    const metres = METRES[unitOf(editor.get())];
    const pixel = place.camera.pixel(ends.from);
    const point = (on ?? ends.from).clone().applyMatrix4(matrix.clone().invert());
    const clean = (v: number) => (Math.abs(v) < 5e-10 ? 0 : Number(v.toFixed(9)));
    return {
      point: point.toArray().map((v) => (on === null ? rounded(v, pixel, metres, fine) : Number((v / metres).toFixed(6)))) as Triple,
      normal: inPart.toArray().map(clean) as Triple,
    };
  }

  draw(place: ToolPlace, overlay: Overlay, hot: Handle | null): void {
    const ends = this.ends(place);
    if (ends === null) return;
    const colour = hot === null ? token("ink") : token("pick");
    overlay.polyline([ends.from, ends.to], colour, 2, { dash: [12, 4, 2, 4] });
    for (const [name, end] of [["from", ends.from], ["to", ends.to]] as const) overlay.dot(end, hot?.kind === name ? 7 : 5, token("panel"), token("pick"));
    if (place.session.dragging && this.snapped !== null) {
      overlay.dot(this.snapped.at, 7, "transparent", token("mark"), 2);
      overlay.label(this.snapped.at, this.snapped.what, token("mark"), 1);
    }
    fault(overlay, ends.to);
  }
}
