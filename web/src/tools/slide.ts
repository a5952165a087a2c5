import { Vector3 } from "three";

import { verticesOf } from "../model/picks/picks";
import { editor, type Values } from "../model/store";
import { format } from "../model/units";
import type { Overlay } from "../scene/overlay";
import type { Pointer } from "../scene/pointer";
import { token } from "../theme/theme";
import { type Handle, handle } from "./Handle";
import { fault, type Tool, type ToolPlace } from "./Tool";

const NEAR = 11;

/** A knob on the pick that follows the neighbouring edges, as the core lays them. */
export class SlideTool implements Tool {
  private start = { x: 0, y: 0, amount: 0 };
  private way: { step: string; amount: number; by: Vector3 } | null = null;

  /** How the first picked vertex moves for an amount, read off what the core shows. */
  private ways(place: ToolPlace): { at: Vector3; by: Vector3 } | null {
    const { meshes, pick, preview } = editor.get();
    const before = meshes[place.session.part]?.mesh.cage;
    if (before === undefined || pick === null) return null;
    const vertex = verticesOf(before, pick.kind, pick.elements)[0] as number;
    const from = new Vector3().fromArray(before.positions, vertex * 3);
    const amount = Number(place.session.values["amount"] ?? 0);
    const trial = preview?.cage;
    if (trial !== undefined && trial.positions.length === before.positions.length && Math.abs(amount) > 0.02 && place.session.stored === null) {
      const by = new Vector3().fromArray(trial.positions, vertex * 3).sub(from).divideScalar(amount);
      if (by.lengthSq() > 0) this.way = { step: place.session.stepId, amount, by };
    }
    if (this.way === null || this.way.step !== place.session.stepId) return null;
    return { at: from.applyMatrix4(place.view.group.matrix), by: this.way.by.clone().transformDirection(place.view.group.matrix).multiplyScalar(this.way.by.length()) };
  }

  private knob(place: ToolPlace): Vector3 {
    const ways = this.ways(place);
    if (ways === null) return new Vector3(...(place.session.spots[0] ?? [0, 0, 0])).applyMatrix4(place.view.group.matrix);
    return ways.at.addScaledVector(ways.by, Number(place.session.values["amount"] ?? 0));
  }

  handleAt(place: ToolPlace, at: Pointer): Handle | null {
    const p = place.camera.project(this.knob(place));
    return Math.hypot(p.x - at.x, p.y - at.y) <= NEAR ? handle("knob") : null;
  }

  press(place: ToolPlace, _pressed: Handle, at: Pointer): void {
    this.start = { x: at.x, y: at.y, amount: Number(place.session.values["amount"] ?? 0) };
  }

  drag(place: ToolPlace, at: Pointer): Values {
    const ways = this.ways(place);
    if (ways === null) return {};
    const a = place.camera.project(ways.at);
    const b = place.camera.project(ways.at.clone().add(ways.by));
    const [dx, dy] = [b.x - a.x, b.y - a.y];
    const by = ((at.x - this.start.x) * dx + (at.y - this.start.y) * dy) / Math.max(dx * dx + dy * dy, 1);
    const amount = this.start.amount + by * (at.fine ? 0.1 : 1);
    return { amount: Number(Math.min(Math.max(amount, -1), 1).toFixed(at.fine ? 3 : 2)) };
  }

  draw(place: ToolPlace, overlay: Overlay, hot: Handle | null): void {
    const ways = this.ways(place);
    if (ways !== null) overlay.polyline([ways.at.clone().sub(ways.by), ways.at.clone().add(ways.by)], token("mark"), 1.2, { dash: [5, 4] });
    const at = this.knob(place);
    overlay.dot(at, hot !== null ? 8 : 6.5, token("panel"), token("pick"));
    overlay.label(at, format(Number(place.session.values["amount"] ?? 0)), token("pick"));
    fault(overlay, at);
  }
}
