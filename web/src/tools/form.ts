import { Vector3 } from "three";

import { prefs } from "../state/prefs";
import { lengthText } from "../state/units";
import { editor, METRES, unitOf, type Triple, type Values } from "../state/store";
import { token } from "../theme/theme";
import type { Overlay } from "../viewport/overlay";
import { snapping, toStep } from "../viewport/snap";
import { AXES } from "./handles";
import { alongLine, fault, rounded, type Pointer, type Tool, type ToolPlace } from "./Tool";

type Side = `${"+" | "-"}${"x" | "y" | "z"}`;

/** What an end bar of a form writes: a parameter, or one number of it, as so many times the distance from the middle. */
interface Bar {
  readonly side: Side;
  readonly key: string;
  readonly index: number | null;
  /** the parameter's metres for one metre from the middle (or from the base, for heights) */
  readonly times: number;
}

const box = (side: Side, index: number, times: number): Bar => ({ side, key: "size", index, times });
const round = (side: Side, key: string, times = 1): Bar => ({ side, key, index: null, times });

/** A form stands on its base, so its height is pulled from above; widths grow to both sides. */
function barsOf(form: string, centred: boolean): Bar[] {
  const up = centred ? 2 : 1;
  if (form === "box") return [box("+x", 0, 2), box("-x", 0, 2), box("+y", 1, up), box("+z", 2, 2), box("-z", 2, 2)];
  if (form === "plane") return [box("+x", 0, 2), box("-x", 0, 2), box("+z", 1, 2), box("-z", 1, 2)];
  if (form === "sphere" || form === "quad_sphere") return [round("+x", "radius"), round("-x", "radius"), round("+z", "radius"), round("-z", "radius"), round("+y", "radius", centred ? 1 : 0.5)];
  if (form === "torus") return [round("+x", "radius"), round("-x", "radius"), round("+z", "radius"), round("-z", "radius"), round("+y", "tube_radius", centred ? 1 : 0.5)];
  return [round("+x", "radius"), round("-x", "radius"), round("+z", "radius"), round("-z", "radius"), round("+y", "height", up)];
}

/** End bars of a base form nobody has edited: dragging one writes the form's true size, not a scale factor. */
export class FormTool implements Tool {
  private start: { bar: Bar; value: number; along: number; origin: Vector3; unit: Vector3 } | null = null;

  private bars(place: ToolPlace): Bar[] {
    return barsOf(place.session.tool, place.session.values["anchor"] === "centre");
  }

  private value(values: Values, bar: Bar): number {
    const held = values[bar.key];
    return Number(bar.index === null ? held : (held as readonly number[])[bar.index]);
  }

  /** Middle of the side a bar stands at, in the part's axes and metres, and what it is measured from. */
  private ends(place: ToolPlace, bar: Bar): { from: Vector3; at: Vector3 } {
    const metres = METRES[unitOf(editor.get())];
    const mesh = place.view.mesh?.cage;
    const low = new Vector3(Infinity, Infinity, Infinity);
    const high = low.clone().negate();
    const v = new Vector3();
    for (let i = 0; i < (mesh?.positions.length ?? 0); i += 3) {
      v.fromArray(mesh?.positions ?? [], i);
      low.min(v);
      high.max(v);
    }
    const from = low.clone().add(high).multiplyScalar(0.5);
    const k = AXES.indexOf(bar.side[1] as "x");
    const size = this.value(place.session.values, bar) * metres;
    const centred = place.session.values["anchor"] === "centre";
    if (k === 1 && !centred) from.y = 0;
    const at = from.clone();
    // what the handle shows is the trial's own size, not the last answer's
    const reach = bar.key === "radius" && place.session.tool === "torus" ? size + Number(place.session.values["tube_radius"]) * metres : size / bar.times;
    at.setComponent(k, from.getComponent(k) + (bar.side[0] === "+" ? 1 : -1) * reach);
    return { from, at };
  }

  handleAt(place: ToolPlace, at: Pointer): string | null {
    for (const bar of this.bars(place)) {
      const p = place.camera.project(this.ends(place, bar).at.applyMatrix4(place.view.group.matrix));
      if (Math.hypot(p.x - at.x, p.y - at.y) <= 10) return `size ${bar.side}`;
    }
    return null;
  }

  /** A scale handle of the common set hands its drag over as `scale x`: it takes the bar of that axis. */
  press(place: ToolPlace, handle: string, at: Pointer): void {
    const bars = this.bars(place);
    const bar = bars.find((b) => handle === `size ${b.side}`) ?? bars.find((b) => b.side[1] === handle.slice(-1) && b.side[0] === "+");
    if (bar === undefined) return;
    const k = AXES.indexOf(bar.side[1] as "x");
    const unit = new Vector3().setFromMatrixColumn(place.view.group.matrix, k).multiplyScalar(bar.side[0] === "+" ? 1 : -1);
    const origin = this.ends(place, bar).from.applyMatrix4(place.view.group.matrix);
    this.start = { bar, value: this.value(place.session.values, bar), along: 0, origin, unit };
    this.start.along = this.along(place, at);
  }

  private along(place: ToolPlace, at: Pointer): number {
    const { origin, unit } = this.start as NonNullable<typeof this.start>;
    const ray = place.camera.ray(at.x, at.y);
    return alongLine(origin, unit, ray.origin, ray.direction);
  }

  drag(place: ToolPlace, at: Pointer): Values {
    if (this.start === null) return {};
    const { bar, value, along, origin } = this.start;
    const metres = METRES[unitOf(editor.get())];
    const pixel = place.camera.pixel(origin);
    const wanted = value * metres + (this.along(place, at) - along) * bar.times;
    const snapped = snapping(at.invert) && prefs.get().snap.grid ? toStep(wanted, prefs.get().gridStep) / metres : rounded(wanted, pixel, metres, at.fine);
    const size = Math.max(Number(snapped.toPrecision(9)), Number((pixel / metres).toPrecision(1)));
    if (bar.index === null) return { [bar.key]: size };
    const held = place.session.values[bar.key] as readonly number[];
    return { [bar.key]: held.map((v, i) => (i === bar.index ? size : v)) as unknown as Triple };
  }

  draw(place: ToolPlace, overlay: Overlay, hot: string | null): void {
    for (const bar of this.bars(place)) {
      const name = `size ${bar.side}`;
      const { from, at } = this.ends(place, bar);
      const k = AXES.indexOf(bar.side[1] as "x");
      const side = new Vector3().setComponent((k + 1) % 3, 1);
      at.applyMatrix4(place.view.group.matrix);
      from.applyMatrix4(place.view.group.matrix);
      const p = overlay.camera.project(at);
      const q = overlay.camera.project(from);
      if (Math.hypot(p.x - q.x, p.y - q.y) < 12) continue;
      const size = 11 * overlay.camera.pixel(at);
      const across = side.transformDirection(place.view.group.matrix).multiplyScalar(size);
      overlay.polyline([at.clone().sub(across), at.clone().add(across)], hot === name ? token("pick") : token("ink"), hot === name ? 6 : 4);
      if (hot === name) overlay.label(at, lengthText(this.value(place.session.values, bar)), token("pick"));
    }
    if (this.start !== null && place.session.dragging) {
      const { at } = this.ends(place, this.start.bar);
      at.applyMatrix4(place.view.group.matrix);
      overlay.label(at, lengthText(this.value(place.session.values, this.start.bar)), token("pick"));
      fault(overlay, at);
    }
  }
}
