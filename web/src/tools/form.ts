import { Vector3 } from "three";

import type { KindInfo } from "../api/client";
import { prefs } from "../model/prefs";
import { editor, kindOf, METRES, unitOf, type Values } from "../model/store";
import { lengthText } from "../model/units";
import { alongLine, rounded } from "../scene/numbers";
import type { Overlay } from "../scene/overlay";
import type { Pointer } from "../scene/pointer";
import { snapping, toStep } from "../scene/snap";
import { token } from "../theme/theme";
import { AXES, type Axis, type Handle, handle, sameHandle } from "./Handle";
import { fault, type Tool, type ToolPlace } from "./Tool";

type Span = KindInfo["spans"][number];

/** What an end bar of a form writes: a number of it, as so many times the distance from the middle, or from the base. */
interface Bar {
  readonly end: Handle;
  readonly span: Span;
  readonly times: number;
}

/** A form stands on its base, so its height is pulled from above; widths grow to both sides. */
function barsOf(kind: KindInfo, centred: boolean): Bar[] {
  return kind.spans.flatMap((span) => {
    const axis = AXES.indexOf(span.axis) as Axis;
    const times = span.axis === "y" && !centred ? span.times / 2 : span.times;
    const sides: readonly (1 | -1)[] = span.axis === "y" ? [1] : [1, -1];
    return sides.map((side) => ({ end: handle("end", axis, side), span, times }));
  });
}

/** End bars of a base form nobody has edited: dragging one writes the form's true size, not a scale factor. */
export class FormTool implements Tool {
  private start: { bar: Bar; value: number; along: number; origin: Vector3; unit: Vector3 } | null = null;

  private bars(place: ToolPlace): Bar[] {
    const kind = kindOf(editor.get(), place.session.tool);
    return kind === null ? [] : barsOf(kind, place.session.values["anchor"] === "centre");
  }

  private value(values: Values, bar: Bar): number {
    const held = values[bar.span.parameter];
    return Number(bar.span.index === null ? held : (held as readonly number[])[bar.span.index]);
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
    const k = bar.end.axis;
    const size = this.value(place.session.values, bar) * metres;
    const centred = place.session.values["anchor"] === "centre";
    if (k === 1 && !centred) from.y = 0;
    const at = from.clone();
    // what the handle shows is the trial's own size, not the last answer's
    const further = bar.span.beyond === null ? 0 : Number(place.session.values[bar.span.beyond]) * metres;
    const reach = size / bar.times + further;
    at.setComponent(k, from.getComponent(k) + bar.end.side * reach);
    return { from, at };
  }

  handleAt(place: ToolPlace, at: Pointer): Handle | null {
    for (const bar of this.bars(place)) {
      const p = place.camera.project(this.ends(place, bar).at.applyMatrix4(place.view.group.matrix));
      if (Math.hypot(p.x - at.x, p.y - at.y) <= 10) return bar.end;
    }
    return null;
  }

  /** A bar of the common set may hand its drag over: it takes the end bar of that axis. */
  press(place: ToolPlace, pressed: Handle, at: Pointer): void {
    const bars = this.bars(place);
    const bar = bars.find((b) => sameHandle(pressed, b.end)) ?? bars.find((b) => b.end.axis === pressed.axis && b.end.side === 1);
    if (bar === undefined) return;
    const unit = new Vector3().setFromMatrixColumn(place.view.group.matrix, bar.end.axis).multiplyScalar(bar.end.side);
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
    const { parameter, index } = bar.span;
    if (index === null) return { [parameter]: size };
    const held = place.session.values[parameter] as readonly number[];
    return { [parameter]: held.map((v, i) => (i === index ? size : v)) };
  }

  draw(place: ToolPlace, overlay: Overlay, hot: Handle | null): void {
    for (const bar of this.bars(place)) {
      const { from, at } = this.ends(place, bar);
      const side = new Vector3().setComponent((bar.end.axis + 1) % 3, 1);
      const isHot = sameHandle(hot, bar.end);
      at.applyMatrix4(place.view.group.matrix);
      from.applyMatrix4(place.view.group.matrix);
      const p = overlay.camera.project(at);
      const q = overlay.camera.project(from);
      if (Math.hypot(p.x - q.x, p.y - q.y) < 12) continue;
      const size = 11 * overlay.camera.pixel(at);
      const across = side.transformDirection(place.view.group.matrix).multiplyScalar(size);
      overlay.polyline([at.clone().sub(across), at.clone().add(across)], isHot ? token("pick") : token("ink"), isHot ? 6 : 4);
      if (isHot) overlay.label(at, lengthText(this.value(place.session.values, bar)), token("pick"));
    }
    if (this.start !== null && place.session.dragging) {
      const { at } = this.ends(place, this.start.bar);
      at.applyMatrix4(place.view.group.matrix);
      overlay.label(at, lengthText(this.value(place.session.values, this.start.bar)), token("pick"));
      fault(overlay, at);
    }
  }
}
