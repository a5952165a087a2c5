import { type Matrix4, Vector3 } from "three";

import { verticesOf } from "../state/picks";
import { triple } from "../state/session";
import { editor, METRES, unitOf, type ToolSession, type Triple } from "../state/store";
import { token } from "../theme/theme";
import type { Overlay } from "../viewport/overlay";
import { alongLine, fault, format, rounded, type Pointer, type Tool, type ToolPlace } from "./Tool";

const AXES = ["x", "y", "z"] as const;
/** Axes are told by letter and line type. */
const DASHES: readonly number[][] = [[], [10, 3, 2, 3], [5, 4]];
const REACH = 62;

/** Slim arrows along the part's axes, and a knob that moves freely in the plane of the view. */
export class TransformTool implements Tool {
  private start: { handle: string; translate: Triple; at: Vector3; along: number } | null = null;

  private origin(place: ToolPlace): Vector3 | null {
    const mesh = place.view.mesh?.cage;
    const pick = editor.get().pick;
    if (mesh === undefined || pick === null) return null;
    const low = new Vector3(Infinity, Infinity, Infinity);
    const high = low.clone().negate();
    const v = new Vector3();
    for (const vertex of verticesOf(mesh, pick.kind, pick.elements)) {
      v.fromArray(mesh.positions, vertex * 3);
      low.min(v);
      high.max(v);
    }
    return low.add(high).multiplyScalar(0.5).applyMatrix4(place.view.group.matrix);
  }

  private axis(place: ToolPlace, axis: number): Vector3 {
    return new Vector3().setFromMatrixColumn(place.view.group.matrix as Matrix4, axis);
  }

  private tip(place: ToolPlace, origin: Vector3, axis: number): Vector3 {
    const direction = this.axis(place, axis).normalize();
    return origin.clone().addScaledVector(direction, REACH * place.camera.pixel(origin));
  }

  handleAt(place: ToolPlace, at: Pointer): string | null {
    const origin = this.origin(place);
    if (origin === null) return null;
    const o = place.camera.project(origin);
    if (Math.hypot(o.x - at.x, o.y - at.y) <= 9) return "free";
    for (let i = 0; i < 3; i++) {
      const tip = place.camera.project(this.tip(place, origin, i));
      const size = Math.hypot(tip.x - o.x, tip.y - o.y);
      if (size < 12) continue;
      const t = ((at.x - o.x) * (tip.x - o.x) + (at.y - o.y) * (tip.y - o.y)) / (size * size);
      const off = Math.abs((at.x - o.x) * (tip.y - o.y) - (at.y - o.y) * (tip.x - o.x)) / size;
      if (t > 0.12 && t < 1.25 && off <= 7) return AXES[i] as string;
    }
    return null;
  }

  press(place: ToolPlace, handle: string, at: Pointer): void {
    const origin = this.origin(place);
    if (origin === null) return;
    const along = handle === "free" ? 0 : this.along(place, origin, AXES.indexOf(handle as "x"), at);
    this.start = {
      handle,
      translate: [...triple(place.session.values, "translate")],
      at: handle === "free" ? place.camera.onPlane(at.x, at.y, origin) : origin,
      along,
    };
  }

  private along(place: ToolPlace, origin: Vector3, axis: number, at: Pointer): number {
    const ray = place.camera.ray(at.x, at.y);
    return alongLine(origin, this.axis(place, axis), ray.origin, ray.direction);
  }

  drag(place: ToolPlace, at: Pointer): ToolSession["values"] {
    const start = this.start;
    if (start === null) return {};
    const metres = METRES[unitOf(editor.get())];
    const pixel = place.camera.pixel(start.at);
    const translate: Triple = [...start.translate];
    if (start.handle === "free") {
      const moved = place.camera.onPlane(at.x, at.y, start.at).sub(start.at);
      for (let i = 0; i < 3; i++) {
        const axis = this.axis(place, i);
        const by = moved.dot(axis) / axis.lengthSq();
        if (Math.abs(by) > 1e-12) translate[i] = rounded(start.translate[i]! * metres + by, pixel, metres, at.fine);
      }
    } else {
      const axis = AXES.indexOf(start.handle as "x");
      const by = this.along(place, start.at, axis, at) - start.along;
      translate[axis] = rounded(start.translate[axis]! * metres + by, pixel, metres, at.fine);
    }
    return { translate };
  }

  draw(place: ToolPlace, overlay: Overlay, hot: string | null, unit: string): void {
    const origin = this.origin(place);
    if (origin === null) return;
    for (let i = 0; i < 3; i++) {
      const name = AXES[i] as string;
      const tip = this.tip(place, origin, i);
      overlay.arrow(origin, tip, hot === name ? token("pick") : token("ink"), name, DASHES[i] as number[], hot === name ? 3 : 2);
    }
    overlay.dot(origin, hot === "free" ? 7 : 5.5, token("panel"), token("pick"));
    const moved = triple(place.session.values, "translate");
    fault(overlay, origin);
    if (moved.some((v) => v !== 0)) overlay.label(origin, `${moved.map(format).join("  ")} ${unit}`, token("pick"));
  }
}
