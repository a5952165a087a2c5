import { Matrix3, Vector3 } from "three";

import { editor, METRES, type Triple, unitOf, type Values } from "../model/store";
import { linearOf } from "../model/places/turns";
import type { Overlay } from "../scene/overlay";
import type { Pointer } from "../scene/pointer";
import { SnapTargets } from "../scene/snap";
import { token } from "../theme/theme";
import { type Handle, handle } from "./Handle";
import { MoveDrag } from "./moveDrag";
import { NumberTool } from "./number";
import type { Tool, ToolPlace } from "./Tool";

const NEAR = 11;

/** Copies in a row: the knob pulls their number, the middle of the last one is dragged to where it belongs. */
export class ArrayTool implements Tool {
  private readonly count = new NumberTool();
  private move: MoveDrag | null = null;
  private from: Triple = [0, 0, 0];

  /** From the first copy to the last, in the build's unit and the part's axes; null where they do not stand in a row. */
  private reach({ session }: ToolPlace): Triple | null {
    const { step, span, count } = session.values;
    if (Array.isArray(span)) return span as unknown as Triple;
    return Array.isArray(step) ? ((step as readonly number[]).map((v) => v * (Number(count) - 1)) as Triple) : null;
  }

  /** The middle of the last copy; null also in a view that sees it behind the first, where the knob of their number stands. */
  private last(place: ToolPlace, camera = place.camera): Vector3 | null {
    const reach = this.reach(place);
    const [spot] = place.session.spots;
    if (reach === null || spot === undefined || Number(place.session.values["count"]) < 2) return null;
    const first = new Vector3(...spot);
    const last = first.clone().addScaledVector(new Vector3(...reach), METRES[unitOf(editor.get())]).applyMatrix4(place.view.group.matrix);
    const [p, q] = [camera.project(first.applyMatrix4(place.view.group.matrix)), camera.project(last)];
    return Math.hypot(p.x - q.x, p.y - q.y) < 3 * NEAR ? null : last;
  }

  handleAt(place: ToolPlace, at: Pointer): Handle | null {
    const last = this.last(place);
    const p = last === null ? null : place.camera.project(last);
    return p !== null && Math.hypot(p.x - at.x, p.y - at.y) <= NEAR ? handle("end") : this.count.handleAt(place, at);
  }

  press(place: ToolPlace, pressed: Handle, at: Pointer): void {
    const last = this.last(place);
    this.move = null;
    if (pressed.kind !== "end" || last === null) {
      this.count.press(place, pressed, at);
      return;
    }
    this.from = this.reach(place) ?? [0, 0, 0];
    const linear: Matrix3 = linearOf(place.view.group.matrix);
    const axes = [0, 1, 2].map((k) => new Vector3().setComponent(k, 1).applyMatrix3(linear)) as [Vector3, Vector3, Vector3];
    const metres = METRES[unitOf(editor.get())];
    const still = new Map([...place.sight.parts].filter(([id]) => id !== place.session.part));
    this.move = new MoveDrag(handle("free"), axes, last, this.from.map((v) => v * metres) as Triple, new SnapTargets(still, place.boards, false), place.camera, at);
  }

  drag(place: ToolPlace, at: Pointer): Values {
    if (this.move === null) return this.count.drag(place, at);
    const by = this.move.by(place.camera, at);
    const metres = METRES[unitOf(editor.get())];
    const reach = this.from.map((v, k) => v + by[k]! / metres);
    const { values } = place.session;
    const gaps = Math.max(Number(values["count"]) - 1, 1);
    const tidy = (v: number) => Number(v.toPrecision(9)) + 0;
    return Array.isArray(values["span"]) ? { span: reach.map(tidy) as Triple } : { step: reach.map((v) => tidy(v / gaps)) as Triple };
  }

  draw(place: ToolPlace, overlay: Overlay, hot: Handle | null): void {
    this.count.draw(place, overlay, hot?.kind === "knob" ? hot : null);
    const last = this.last(place, overlay.camera);
    if (last === null) return;
    overlay.dot(last, hot?.kind === "end" ? 8 : 6.5, token("panel"), token("pick"));
    overlay.label(last, "last", token("pick"));
    const snapped = place.session.dragging ? (this.move?.snapped ?? null) : null;
    if (snapped !== null) overlay.label(snapped.at, snapped.what, token("mark"), 1);
  }
}
