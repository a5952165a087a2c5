import { Vector3 } from "three";

import { footprint, planeOf, setDrawing } from "../../model/drawing/plane";
import { isRound } from "../../model/steps/kinds";
import { prefs } from "../../model/prefs";
import { type Drawing, editor, kindOf, METRES, unitOf } from "../../model/store";
import { metresText } from "../../model/units";
import { alongLine, rounded } from "../../scene/numbers";
import type { Overlay } from "../../scene/overlay";
import type { Pointer } from "../../scene/pointer";
import type { Pane } from "../../scene/Sheet";
import { type Snapped, snapping, SnapTargets, toStep } from "../../scene/snap";
import { token } from "../../theme/theme";
import { finishDrawing, footprintDone } from "./drawForm";
import type { Scenery } from "../views";

type Plane = NonNullable<Drawing["plane"]>;

/** Drawing a form by hand: press and drag its footprint, let go, move to its height, click. */
export class FormDrawer {
  private targets: SnapTargets | null = null;
  private snapped: Snapped | null = null;
  private start = 0;

  constructor(private readonly views: Scenery) {}

  /** The footprint begins where the pointer is pressed: in the plane of that view, or of the picked face. */
  press(pane: Pane, at: Pointer): void {
    const { drawing } = editor.get();
    if (drawing === null) return;
    const view = pane.view === "perspective" ? null : pane.view;
    const plane = drawing.plane ?? planeOf(view);
    this.targets = new SnapTargets(this.views.parts, this.views.boards, false);
    const from = this.onPlane(plane, pane, at);
    if (from !== null) setDrawing({ stage: "footprint", plane, view: drawing.plane === null ? view : drawing.view, from, to: from, height: 0 });
  }

  drag(pane: Pane, at: Pointer): void {
    const { drawing } = editor.get();
    if (drawing?.plane == null) return;
    const to = this.onPlane(drawing.plane, pane, at);
    if (to !== null) setDrawing({ to });
  }

  async release(pane: Pane, at: Pointer): Promise<void> {
    this.start = Number.NaN;
    await footprintDone();
    const { drawing } = editor.get();
    if (drawing?.plane != null && drawing.stage === "height") this.start = this.outward(drawing, pane, at) - drawing.height;
  }

  /** Without a button pressed the pointer sets the height. */
  hover(pane: Pane, at: Pointer): void {
    const { drawing } = editor.get();
    if (drawing?.plane == null || drawing.stage !== "height") return;
    const metres = METRES[unitOf(editor.get())];
    if (Number.isNaN(this.start)) this.start = this.outward(drawing, pane, at) - drawing.height;
    const raw = this.outward(drawing, pane, at) - (this.seesHeight(drawing.plane, pane) ? 0 : this.start);
    const pixel = pane.camera.pixel(new Vector3(...drawing.plane.origin));
    setDrawing({ height: snapping(at.invert) && prefs.get().snap.grid ? toStep(raw, prefs.get().gridStep) : rounded(raw, pixel, metres, at.fine) * metres });
  }

  click(): void {
    void finishDrawing();
  }

  private seesHeight(plane: Plane, pane: Pane): boolean {
    return Math.abs(pane.camera.basis().eye.dot(new Vector3(...plane.out))) < 0.95;
  }

  /** Where the pointer is along the plane's normal; in a view that looks along it, going up is going out. */
  private outward(drawing: Drawing, pane: Pane, at: Pointer): number {
    const plane = drawing.plane as Plane;
    const out = new Vector3(...plane.out);
    const base = this.point(plane, (drawing.from[0] + drawing.to[0]) / 2, (drawing.from[1] + drawing.to[1]) / 2);
    if (!this.seesHeight(plane, pane)) return -at.y * pane.camera.pixel(base);
    const ray = pane.camera.ray(at.x, at.y);
    return alongLine(base, out, ray.origin, ray.direction);
  }

  private point(plane: Plane, u: number, v: number): Vector3 {
    return new Vector3(...plane.origin).addScaledVector(new Vector3(...plane.across), u).addScaledVector(new Vector3(...plane.up), v);
  }

  private onPlane(plane: Plane, pane: Pane, at: Pointer): [number, number] | null {
    const origin = new Vector3(...plane.origin);
    const hit = pane.camera.onAnyPlane(at.x, at.y, origin, new Vector3(...plane.out));
    if (hit === null) return null;
    const metres = METRES[unitOf(editor.get())];
    const snaps = snapping(at.invert);
    this.snapped = snaps ? (this.targets?.nearest(at.x, at.y, pane.camera) ?? null) : null;
    if (this.snapped !== null) hit.copy(this.snapped.at);
    hit.sub(origin);
    const pixel = pane.camera.pixel(origin);
    return [plane.across, plane.up].map((d) => {
      const v = hit.dot(new Vector3(...d));
      if (this.snapped !== null) return Number((v / metres).toFixed(6)) * metres;
      return snaps && prefs.get().snap.grid ? toStep(v, prefs.get().gridStep) : rounded(v, pixel, metres, at.fine) * metres;
    }) as [number, number];
  }

  draw(drawing: Drawing, o: Overlay): void {
    const { plane } = drawing;
    if (plane === null || drawing.stage === "wait") return;
    const out = new Vector3(...plane.out).multiplyScalar(drawing.height);
    const base = outline(drawing).map(([u, v]) => this.point(plane, u, v));
    const top = base.map((p) => p.clone().add(out));
    o.polyline(base, token("pick"), 2, { close: true });
    if (drawing.stage === "height") {
      o.polyline(top, token("pick"), 1.4, { close: true });
      const step = Math.max(1, base.length / 4);
      for (let i = 0; i < base.length; i += step) o.polyline([base[i] as Vector3, top[i] as Vector3], token("pick"), 1.2);
    }
    const [w, d] = footprint(drawing).map(metresText);
    o.label((drawing.stage === "height" ? top : base)[0] as Vector3, drawing.stage === "height" ? `${w} × ${d}, height ${metresText(drawing.height)}` : `${w} × ${d}`, token("pick"));
    if (this.snapped !== null) o.dot(this.snapped.at, 7, "transparent", token("mark"), 2);
  }
}

/** The footprint in its plane: a rectangle, or the circle that fits it. */
function outline(drawing: Drawing): [number, number][] {
  const { from, to, form } = drawing;
  const kind = kindOf(editor.get(), form);
  if (kind === null || !isRound(kind)) return [[from[0], from[1]], [to[0], from[1]], [to[0], to[1]], [from[0], to[1]]];
  const [w, d] = footprint(drawing);
  const radius = Math.min(w, d) / 2;
  const centre = [(from[0] + to[0]) / 2, (from[1] + to[1]) / 2] as const;
  return Array.from({ length: 32 }, (_, i) => [centre[0] + radius * Math.cos((i * Math.PI) / 16), centre[1] + radius * Math.sin((i * Math.PI) / 16)]);
}
