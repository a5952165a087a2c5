import { Vector3 } from "three";

import { knobOf } from "../model/steps/kinds";
import { editor, METRES, type ToolSession, type Triple, unitOf, type Values } from "../model/store";
import { format } from "../model/units";
import type { Overlay } from "../scene/overlay";
import type { Pointer } from "../scene/pointer";
import { token } from "../theme/theme";
import { type Handle, handle } from "./Handle";
import { fault, type Tool, type ToolPlace } from "./Tool";

const REACH = 10;

/** The numbers a drag goes through, and how finely. */
interface Scale {
  readonly least: number;
  readonly most: number;
  readonly step: number;
  readonly fine: number;
}

const SCALES: Readonly<Record<string, Scale>> = {
  twist: { least: -720, most: 720, step: 5, fine: 0.5 },
  taper: { least: 0, most: 4, step: 0.05, fine: 0.01 },
  stretch: { least: 0.05, most: 6, step: 0.05, fine: 0.01 },
};

/** A part's two end sections as they come to be: drag a corner of the one that does not stay, and it turns, shrinks or goes on. */
export class EndsTool implements Tool {
  private knob(session: ToolSession): { readonly name: string; readonly title: string; readonly value: number; readonly degrees: boolean } | null {
    const parameter = knobOf(session.tool)?.parameter;
    if (parameter === undefined) return null;
    return { name: parameter.name, title: parameter.title, value: Number(session.values[parameter.name] ?? 1), degrees: parameter.quantity === "angle" };
  }

  /** Corners of a section, in the part's axes and metres: at the lower or the upper end, for a value of the knob. */
  private section(session: ToolSession, upper: boolean, value: number): Triple[] | null {
    if (session.box === null) return null;
    const [low, high] = session.box;
    const metres = METRES[unitOf(editor.get())];
    const { from, to, hold } = session.values;
    const axis = "xyz".indexOf(String(session.values["axis"]));
    if (axis < 0) return null;
    const [u, v] = [(axis + 1) % 3, (axis + 2) % 3];
    const middle = [0, 1, 2].map((k) => (low[k]! + high[k]!) / 2);
    const [start, end] = [typeof from === "number" ? from * metres : low[axis]!, typeof to === "number" ? to * metres : high[axis]!];
    const held = hold === "to" ? upper : !upper; // the end that stays
    let [turn, scale, along] = [0, 1, upper ? end : start];
    if (session.tool === "twist") turn = upper ? (value * Math.PI) / 180 : 0;
    else if (session.tool === "taper") scale = hold === "middle" ? (upper ? value : 2 - value) : held ? 1 : value;
    else {
      along = upper ? start + (end - start) * value : start;
      scale = session.values["keep_volume"] === false ? 1 : value ** -0.5;
    }
    const [c, s] = [Math.cos(turn) * scale, Math.sin(turn) * scale];
    return ([[1, 1], [-1, 1], [-1, -1], [1, -1]] as const).map(([p, q]) => {
      const [a, b] = [(p * (high[u]! - low[u]!)) / 2, (q * (high[v]! - low[v]!)) / 2];
      const out: Triple = [0, 0, 0];
      out[axis] = along;
      out[u] = middle[u]! + a * c - b * s;
      out[v] = middle[v]! + a * s + b * c;
      return out;
    });
  }

  private free(session: ToolSession): boolean {
    return session.values["hold"] !== "to";
  }

  private grip(place: ToolPlace, value: number): Vector3 | null {
    const corners = this.section(place.session, this.free(place.session), value);
    return corners === null ? null : new Vector3(...(corners[0] as Triple)).applyMatrix4(place.view.group.matrix);
  }

  handleAt(place: ToolPlace, at: Pointer): Handle | null {
    const knob = this.knob(place.session);
    const grip = knob === null ? null : this.grip(place, knob.value);
    if (grip === null) return null;
    const p = place.camera.project(grip);
    return Math.hypot(p.x - at.x, p.y - at.y) <= REACH ? handle("end") : null;
  }

  press(): void {}

  drag(place: ToolPlace, at: Pointer): Values {
    const knob = this.knob(place.session);
    const scale = SCALES[place.session.tool];
    if (knob === null || scale === undefined) return {};
    const off = (value: number) => {
      const grip = this.grip(place, value);
      if (grip === null) return Infinity;
      const p = place.camera.project(grip);
      return Math.hypot(p.x - at.x, p.y - at.y) + Math.abs(value - knob.value) * (knob.degrees ? 1e-3 : 1e-1); // of two alike the nearer
    };
    const best = (least: number, most: number, step: number) => {
      let found = least;
      for (let i = 0; least + i * step <= most + 1e-9; i++) if (off(least + i * step) < off(found)) found = least + i * step;
      return found;
    };
    let value = best(scale.least, scale.most, scale.step);
    if (at.fine) value = best(Math.max(value - scale.step, scale.least), Math.min(value + scale.step, scale.most), scale.fine);
    return { [knob.name]: Number(value.toFixed(3)) };
  }

  draw(place: ToolPlace, overlay: Overlay, hot: Handle | null): void {
    const { session } = place;
    const knob = this.knob(session);
    const into = (corners: readonly Triple[]) => corners.map((p) => new Vector3(...p).applyMatrix4(place.view.group.matrix));
    const [lower, upper] = knob === null ? [null, null] : [this.section(session, false, knob.value), this.section(session, true, knob.value)];
    if (knob === null || lower === null || upper === null) {
      fault(overlay, new Vector3(...(session.spots[0] ?? [0, 0, 0])).applyMatrix4(place.view.group.matrix));
      return;
    }
    const still = this.section(session, this.free(session), session.tool === "twist" ? 0 : 1);
    if (still !== null) overlay.polyline(into(still), token("ink"), 1, { close: true, dash: [5, 4] });
    for (const corners of [lower, upper]) overlay.polyline(into(corners), token("pick"), 2, { close: true });
    const grip = into(this.free(session) ? upper : lower)[0] as Vector3;
    overlay.dot(grip, hot !== null ? 8 : 6.5, token("panel"), token("pick"));
    fault(overlay, grip);
    overlay.label(grip, `${knob.title} ${format(knob.value)}${knob.degrees ? "°" : ""}`, token("pick"));
  }
}
