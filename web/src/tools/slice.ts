import { Matrix3, Vector3 } from "three";

import { editor, METRES, type Triple, unitOf, type Values } from "../model/store";
import { rounded } from "../scene/numbers";
import type { Overlay } from "../scene/overlay";
import type { Pointer } from "../scene/pointer";
import { token } from "../theme/theme";
import { type Handle, handle } from "./Handle";
import { fault, type Tool, type ToolPlace } from "./Tool";

/** The line snaps to these angles, in degrees; with Shift it turns freely. */
const STEP = 15;
const REACH = 9;

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
  private start: { handle: Handle; at: Vector3; ends: Line } | null = null;

  private ends(place: ToolPlace): Line | null {
    return this.line?.step === place.session.stepId && place.session.values["point"] !== undefined ? this.line.ends : null;
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
    const here = place.camera.onPlane(at.x, at.y);
    const ends = this.ends(place) ?? { from: here, to: here };
    this.start = { handle: pressed, at: here, ends };
  }

  drag(place: ToolPlace, at: Pointer): Values {
    const start = this.start;
    if (start === null) return {};
    const here = place.camera.onPlane(at.x, at.y);
    if (start.handle.kind === "line") {
      const along = start.ends.to.clone().sub(start.ends.from).normalize();
      const moved = here.sub(start.at);
      moved.addScaledVector(along, -moved.dot(along));
      return this.take(place, { from: start.ends.from.clone().add(moved), to: start.ends.to.clone().add(moved) }, at.fine);
    }
    const fixed = start.handle.kind === "draw" ? start.at : start.handle.kind === "from" ? start.ends.to : start.ends.from;
    const free = this.snapped(place, fixed, here, at.fine);
    return this.take(place, start.handle.kind === "from" ? { from: free, to: fixed } : { from: fixed, to: free }, at.fine);
  }

  /** The free end, turned to the nearest angle step about the fixed one. */
  private snapped(place: ToolPlace, fixed: Vector3, free: Vector3, fine: boolean): Vector3 {
    const { right, up } = place.camera.basis();
    const d = free.clone().sub(fixed);
    const [x, y] = [d.dot(right), d.dot(up)];
    const step = (fine ? 1 : STEP) * (Math.PI / 180);
    const angle = Math.round(Math.atan2(y, x) / step) * step;
    const size = Math.max(Math.hypot(x, y), 1e-9);
    return fixed.clone().addScaledVector(right, Math.cos(angle) * size).addScaledVector(up, Math.sin(angle) * size);
  }

  /** The plane a line stands for, in the part's axes and the build's unit: through it, seen edge on, its normal upward. */
  private take(place: ToolPlace, ends: Line, fine: boolean): Values {
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
    const point = ends.from.clone().applyMatrix4(matrix.clone().invert());
    const clean = (v: number) => (Math.abs(v) < 1e-9 ? 0 : Number(v.toFixed(6)));
    return {
      point: point.toArray().map((v) => rounded(v, pixel, metres, fine)) as Triple,
      normal: inPart.toArray().map(clean) as Triple,
    };
  }

  draw(place: ToolPlace, overlay: Overlay, hot: Handle | null): void {
    const ends = this.ends(place);
    if (ends === null) return;
    const colour = hot === null ? token("ink") : token("pick");
    overlay.polyline([ends.from, ends.to], colour, 2, { dash: [12, 4, 2, 4] });
    for (const [name, end] of [["from", ends.from], ["to", ends.to]] as const) overlay.dot(end, hot?.kind === name ? 7 : 5, token("panel"), token("pick"));
    fault(overlay, ends.to);
  }
}
