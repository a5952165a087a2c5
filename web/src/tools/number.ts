import { Vector3 } from "three";

import type { Parameter } from "../api/client";
import { knobOf } from "../model/steps/kinds";
import { middle, normalOf } from "../model/places/frames";
import { editor, METRES, unitOf, type Values } from "../model/store";
import { linearOf } from "../model/places/turns";
import { format, lengthText } from "../model/units";
import { alongLine, rounded } from "../scene/numbers";
import type { Overlay } from "../scene/overlay";
import type { Pointer } from "../scene/pointer";
import { token } from "../theme/theme";
import { type Handle, handle } from "./Handle";
import { fault, type Tool, type ToolPlace } from "./Tool";

/** A drag over so many pixels changes a plain number by one. */
const PER_ONE = 160;

/** A knob at the pick, which any kind of step has. Dragged to the right its number grows, or along the normal of what is picked,
 * as the kind declares. */
export class NumberTool implements Tool {
  private start = { x: 0, value: 0, along: 0 };
  private way: { readonly step: string; readonly normal: Vector3 } | null = null;

  /** What one metre of the number is in the build, for kinds that are pulled along a normal. */
  private unit(place: ToolPlace): Vector3 | null {
    const { session, view } = place;
    if (knobOf(session.tool)?.along !== "normal") return null;
    if (this.way?.step !== session.stepId) {
      const { pick, meshes } = editor.get();
      const mesh = meshes[session.part]?.mesh.cage;
      const normal = pick === null || mesh === undefined ? new Vector3() : normalOf(mesh, pick);
      this.way = { step: session.stepId, normal };
    }
    return this.way.normal.lengthSq() === 0 ? null : this.way.normal.clone().applyMatrix3(linearOf(view.group.matrix));
  }

  /** Where the knob stands while its number is nothing. */
  private foot(place: ToolPlace): Vector3 {
    const spots = place.session.spots.map((s) => new Vector3(...s).applyMatrix4(place.view.group.matrix));
    const { eye } = place.camera.basis();
    return spots.reduce((best, s) => (s.dot(eye) > best.dot(eye) ? s : best), spots[0] ?? new Vector3());
  }

  private knob(place: ToolPlace, parameter: Parameter | undefined): Vector3 {
    const unit = this.unit(place);
    const foot = this.foot(place);
    return unit === null || parameter === undefined ? foot : foot.addScaledVector(unit, this.value(place, parameter) * METRES[unitOf(editor.get())]);
  }

  private value(place: ToolPlace, parameter: Parameter): number {
    const value = place.session.values[parameter.name];
    if (typeof value === "number") return value;
    return parameter.follows && parameter.quantity === "length" ? this.about(place) : 0;
  }

  /** About what a number stands at that follows from what is picked: half of how far that reaches. */
  private about(place: ToolPlace): number {
    const { pick, meshes } = editor.get();
    return Number((middle(meshes[place.session.part]?.mesh.cage, pick).size / 2 / METRES[unitOf(editor.get())]).toPrecision(4));
  }

  private along(place: ToolPlace, unit: Vector3, at: Pointer): number {
    const ray = place.camera.ray(at.x, at.y);
    return alongLine(this.foot(place), unit, ray.origin, ray.direction);
  }

  handleAt(place: ToolPlace, at: Pointer): Handle | null {
    const parameter = knobOf(place.session.tool)?.parameter;
    if (parameter === undefined) return null;
    const p = place.camera.project(this.knob(place, parameter));
    return Math.hypot(p.x - at.x, p.y - at.y) <= 11 ? handle("knob") : null;
  }

  press(place: ToolPlace, _pressed: Handle, at: Pointer): void {
    const parameter = knobOf(place.session.tool)?.parameter;
    const unit = this.unit(place);
    if (parameter !== undefined) this.start = { x: at.x, value: this.value(place, parameter), along: unit === null ? 0 : this.along(place, unit, at) };
  }

  drag(place: ToolPlace, at: Pointer): Values {
    const parameter = knobOf(place.session.tool)?.parameter;
    if (parameter === undefined) return {};
    const unit = this.unit(place);
    const moved = (at.x - this.start.x) * (at.fine ? 0.1 : 1);
    let value: number;
    if (parameter.quantity === "length") {
      const metres = METRES[unitOf(editor.get())];
      const pixel = place.camera.pixel(this.foot(place));
      const by = unit === null ? moved * pixel : this.along(place, unit, at) - this.start.along;
      value = rounded(this.start.value * metres + by, pixel, metres, at.fine);
    } else {
      const scale = parameter.quantity === "angle" ? 90 : parameter.quantity === "count" ? 8 : 1;
      value = this.start.value + (moved / PER_ONE) * scale;
      value = parameter.quantity === "count" ? Math.round(value) : Number(value.toFixed(at.fine ? 3 : 2));
    }
    if (parameter.least != null) value = Math.max(value, parameter.least);
    if (parameter.most != null) value = Math.min(value, parameter.most);
    return { [parameter.name]: value };
  }

  draw(place: ToolPlace, overlay: Overlay, hot: Handle | null): void {
    const parameter = knobOf(place.session.tool)?.parameter;
    const at = this.knob(place, parameter);
    fault(overlay, at);
    if (parameter === undefined) return;
    if (this.unit(place) !== null) overlay.polyline([this.foot(place), at], token("ink"), 2);
    overlay.dot(at, hot !== null ? 8 : 6.5, token("panel"), token("pick"));
    const value = this.value(place, parameter);
    const told = parameter.quantity === "length" ? lengthText(value) : parameter.quantity === "count" ? String(value) : `${format(value)}${parameter.quantity === "angle" ? "°" : ""}`;
    overlay.label(at, `${parameter.title} ${place.session.values[parameter.name] === undefined && parameter.follows ? "as it is" : told}`, token("pick"));
  }
}
