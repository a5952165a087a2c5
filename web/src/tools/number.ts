import { Vector3 } from "three";

import type { Parameter } from "../api/client";
import { lengthText } from "../state/units";
import { editor, kindOf, METRES, unitOf, type Values } from "../state/store";
import { token } from "../theme/theme";
import type { Overlay } from "../viewport/overlay";
import { fault, format, rounded, type Pointer, type Tool, type ToolPlace } from "./Tool";

/** The number a drag changes, where it is not the first of the kind. */
const MAIN: Record<string, string> = {
  weld: "distance", extrude_edges: "width", insert_loop: "shift", connect: "shift", relax: "strength", bridge: "taper", ridge: "height", mirror: "at",
};
/** A drag over so many pixels changes a plain number by one. */
const PER_ONE = 160;

/** The parameter that the knob stands for. */
export function mainParameter(word: string): Parameter | null {
  const parameters = kindOf(editor.get(), word)?.parameters ?? [];
  const numeric = parameters.filter((p) => p.count === 1 && ["length", "angle", "ratio", "count"].includes(p.quantity));
  return numeric.find((p) => p.name === MAIN[word]) ?? numeric.find((p) => p.required) ?? numeric[0] ?? null;
}

/** A knob at the pick: dragged to the right its number grows. */
export class NumberTool implements Tool {
  private start = { x: 0, value: 0 };

  private knob(place: ToolPlace): Vector3 {
    const spots = place.session.spots.map((s) => new Vector3(...s).applyMatrix4(place.view.group.matrix));
    const { eye } = place.camera.basis();
    return spots.reduce((best, s) => (s.dot(eye) > best.dot(eye) ? s : best), spots[0] ?? new Vector3());
  }

  private value(place: ToolPlace, parameter: Parameter): number {
    const value = place.session.values[parameter.name];
    return typeof value === "number" ? value : 0;
  }

  handleAt(place: ToolPlace, at: Pointer): string | null {
    const parameter = mainParameter(place.session.tool);
    if (parameter === null) return null;
    const p = place.camera.project(this.knob(place));
    return Math.hypot(p.x - at.x, p.y - at.y) <= 11 ? parameter.name : null;
  }

  press(place: ToolPlace, _handle: string, at: Pointer): void {
    const parameter = mainParameter(place.session.tool);
    if (parameter !== null) this.start = { x: at.x, value: this.value(place, parameter) };
  }

  drag(place: ToolPlace, at: Pointer): Values {
    const parameter = mainParameter(place.session.tool);
    if (parameter === null) return {};
    const moved = (at.x - this.start.x) * (at.fine ? 0.1 : 1);
    let value: number;
    if (parameter.quantity === "length") {
      const metres = METRES[unitOf(editor.get())];
      const pixel = place.camera.pixel(this.knob(place));
      value = rounded(this.start.value * metres + moved * pixel, pixel, metres, at.fine);
    } else {
      const scale = parameter.quantity === "angle" ? 90 : parameter.quantity === "count" ? 8 : 1;
      value = this.start.value + (moved / PER_ONE) * scale;
      value = parameter.quantity === "count" ? Math.round(value) : Number(value.toFixed(at.fine ? 3 : 2));
    }
    if (parameter.least != null) value = Math.max(value, parameter.quantity === "length" && parameter.least === 0 ? Math.max(value, 0) : parameter.least);
    if (parameter.most != null) value = Math.min(value, parameter.most);
    return { [parameter.name]: value };
  }

  draw(place: ToolPlace, overlay: Overlay, hot: string | null): void {
    const parameter = mainParameter(place.session.tool);
    const at = this.knob(place);
    fault(overlay, at);
    if (parameter === null) return;
    overlay.dot(at, hot === parameter.name ? 8 : 6.5, token("panel"), token("pick"));
    const value = this.value(place, parameter);
    const told = parameter.quantity === "length" ? lengthText(value) : `${format(value)}${parameter.quantity === "angle" ? "°" : ""}`;
    overlay.label(at, `${parameter.title} ${told}`, token("pick"));
  }
}
