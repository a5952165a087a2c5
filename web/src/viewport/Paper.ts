import { Vector3 } from "three";

import type { Pointing } from "../interaction/pointing/Pointing";
import { placeOf, sightOf, type Views } from "../interaction/views";
import { memberOf } from "../model/document/members";
import { prefs } from "../model/prefs";
import { editor, type EditorState, METRES, partOf, type Triple, unitOf } from "../model/store";
import { shown, shownUnit } from "../model/units";
import { ruledStep } from "../scene/Grid";
import { faceCentres, isSeen } from "../scene/hit";
import type { Overlay } from "../scene/overlay";
import type { PartView } from "../scene/PartView";
import type { Pane } from "../scene/Sheet";
import { token } from "../theme/theme";
import { drawBoardFrames } from "../tools/boardHandles";
import { toolOf } from "../tools/toolbox";
import { drawAxes, drawFloor, drawGridFigures, drawOrigin, drawProjections, drawSheet, drawTitle } from "./annotations";
import { drawDeviation } from "./brief/deviation";
import { drawDimensions } from "./brief/dimensions";
import { drawGuides } from "./brief/guides";

/** Dots of faces beyond this many say no more. */
const MOST_DOTS = 4000;

/** What is drawn over the model: hover, handles, areas, titles, lines. Redrawing it never redraws the model. */
export class Paper {
  constructor(
    private readonly views: Views,
    private readonly hands: Pointing,
    private readonly overlay: Overlay,
  ) {}

  draw(ratio: number): void {
    const { sheet } = this.views;
    const o = this.overlay;
    o.clear(sheet.width, sheet.height, ratio);
    const state = editor.get();
    for (const pane of sheet.shown) o.within(pane, () => this.drawPane(pane, state));
    drawSheet(sheet, o);
    const picked = state.pick === null ? undefined : this.views.parts.get(state.pick.part);
    if (picked !== undefined && picked.group.visible) drawProjections(sheet, picked, o);
  }

  private drawPane(pane: Pane, state: EditorState): void {
    const o = this.overlay;
    const { shown } = prefs.get();
    if (shown.floor) drawFloor(pane, o);
    if (shown.grid && pane.camera.isFlat) drawGridFigures(pane, this.views.sheet, ruledStep(this.views.sheet.flat.size, METRES[shownUnit(state)]), o);
    if (shown.origin) drawOrigin(pane, o);
    if (shown.axes) drawAxes(pane, o);
    drawTitle(pane, this.views.sheet, o);
    drawBoardFrames(this.views.boards, pane, o, this.hands.marks.hotBoard, this.hands.marks.movedBoard);
    drawGuides(pane, o, this.views.bounds());
    drawDeviation(pane, o);
    drawDimensions(pane, this.views.sheet, o, this.views.bounds());
    if (prefs.get().faceDots && state.pickKind === "faces") this.drawDots(pane, state);
    this.drawSoft(state);
    this.drawLit(pane, state);
    if (state.section !== null) this.hands.grips.section.draw(state.section, this.views.bounds(), this.views.parts, pane.camera, o, this.hands.marks.hotHandle?.kind === "section");
    this.drawHandles(pane, state);
    if (state.drawing !== null) this.hands.drawer.draw(state.drawing, o);
    if (state.path !== null) this.hands.tracer.draw(o);
    if (this.hands.marks.swept?.pane === pane) this.drawSwept();
    this.hands.asker.draw(pane, o);
  }

  private drawLit(pane: Pane, state: EditorState): void {
    const dragging = state.session?.dragging ?? false;
    const { hover, hotHandle, way } = this.hands.marks;
    const { parts } = this.views;
    if (hover !== null && !dragging && hotHandle === null) {
      const view = parts.get(hover.part);
      if (view !== undefined) this.overlay.hover(view, hover.kind, [hover.element]);
      if (way?.pane === pane) this.drawWay(way.line);
    }
    const lit = state.lit === null ? undefined : parts.get(state.lit.part);
    if (state.lit !== null && lit !== undefined) {
      this.overlay.lit(lit, state.lit.kind, state.lit.elements);
      this.drawLost(lit, state.lit.lost ?? []);
    }
  }

  /** Where what a step had picked stood. */
  private drawLost(view: PartView, lost: readonly (readonly Triple[])[]): void {
    lost.forEach((corners, i) => {
      const at = corners.map((p) => new Vector3(...p).applyMatrix4(view.group.matrix));
      this.overlay.polyline(at, token("warn"), 2, { close: at.length > 2, dash: [3, 3] });
      if (at.length < 3) for (const p of at) this.overlay.dot(p, 3, token("panel"), token("warn"), 1.5);
      if (i === 0) this.overlay.label(at[0] as Vector3, "was here", token("warn"));
    });
  }

  /** Where the band enters and leaves a face that a double click takes. */
  private drawWay(line: readonly Vector3[]): void {
    this.overlay.polyline(line, token("mark"), 1.2, { dash: [2, 4] });
    for (const end of line) this.overlay.dot(end, 1.5, token("mark"), token("mark"), 1);
  }

  private drawHandles(pane: Pane, state: EditorState): void {
    const part = partOf(state, state.current);
    if (state.pivoting && part !== null) {
      const view = this.views.parts.get(part.id ?? "");
      if (view !== undefined) this.hands.grips.pivot.draw(part, view, this.overlay, this.hands.marks.hotHandle);
      return;
    }
    this.drawClear(state);
    this.drawBeside(state);
    if (state.placing && state.session === null) {
      this.hands.grips.placement.draw(this.overlay, this.hands.marks.hotHandle);
      return;
    }
    const place = placeOf(this.views, state.session, pane);
    if (place !== null) toolOf(place.session).draw(place, this.overlay, this.hands.marks.hotHandle);
    // a tool without a handle to say it at
    if (state.previewError !== null) this.overlay.fault(pane.camera.onPlane(pane.camera.width / 2, pane.camera.height / 3), state.previewError);
  }

  /** Between which points a gap is measured, or the box of what two parts share. */
  private drawBeside(state: EditorState): void {
    const { beside } = state;
    if (beside === null) return;
    const metres = METRES[unitOf(state)];
    const at = (v: readonly number[]) => new Vector3(...(v as [number, number, number])).multiplyScalar(metres);
    if (beside.low !== null && beside.high !== null) {
      const [low, high] = [at(beside.low), at(beside.high)];
      const corner = (k: number) => new Vector3(k & 1 ? high.x : low.x, k & 2 ? high.y : low.y, k & 4 ? high.z : low.z);
      for (let k = 0; k < 8; k++) for (const bit of [1, 2, 4]) if ((k & bit) === 0) this.overlay.polyline([corner(k), corner(k | bit)], token("warn"), 1.4, { dash: [4, 3] });
      this.overlay.label(high, "overlap", token("warn"), 1);
      return;
    }
    const [a, b] = beside.ends.map(at) as [Vector3, Vector3];
    this.overlay.polyline([a, b], token("mark"), 1.6);
    this.overlay.dot(a, 4, token("panel"), token("mark"));
    this.overlay.dot(b, 4, token("panel"), token("mark"));
    this.overlay.label(b, beside.gap > 0 ? `${shown(Number(beside.gap.toPrecision(4)))} ${unitOf(state)}` : "touches", token("mark"), 1);
  }

  /** Where a joint has the least room, or first touches. */
  private drawClear(state: EditorState): void {
    const { clear } = state;
    if (clear === null) return;
    const at = new Vector3(...clear.where).multiplyScalar(METRES[unitOf(state)]);
    const met = clear.touches.some((t) => t !== null);
    if (!met && clear.rests) return; // what rests is where it is seen
    const joint = memberOf(state, clear.key)?.joint;
    const now = state.swung?.key === clear.key ? state.swung.now : (joint?.now ?? 0);
    const there = Math.abs(now - clear.at) <= 1e-3 * Math.max(Math.abs((joint?.to ?? 0) - (joint?.from ?? 0)), 1e-9);
    const colour = token(met ? "warn" : "mark");
    this.overlay.dot(at, 7, "transparent", colour, 2);
    const turned = `${Number(clear.at.toFixed(1))}${joint?.kind === "slide" ? ` ${unitOf(state)}` : "°"}`;
    const nearest = `nearest ${shown(Number(clear.least.toPrecision(3)))} ${unitOf(state)}`;
    this.overlay.label(at, met ? (there ? "touches here" : `touches here at ${turned}`) : there ? nearest : `${nearest}, at ${turned}`, colour, 1);
  }

  /** Middles of the current part's faces, as targets for clicks. */
  private drawDots(pane: Pane, state: EditorState): void {
    const view = state.current === null ? undefined : this.views.parts.get(state.current);
    const mesh = view?.mesh?.cage;
    if (view === undefined || mesh === undefined || mesh.shape.faceCount > MOST_DOTS) return;
    const centres = faceCentres(mesh);
    const sight = sightOf(this.views, pane);
    const c = this.overlay.context;
    c.fillStyle = token("mark");
    for (let f = 0; f < mesh.shape.faceCount; f++) {
      const at = new Vector3().fromArray(centres, 3 * f).applyMatrix4(view.group.matrix);
      c.globalAlpha = sight.through || isSeen(at, sight) ? 0.9 : 0.25;
      const p = pane.camera.project(at);
      c.fillRect(p.x - 2, p.y - 2, 4, 4);
    }
    c.globalAlpha = 1;
  }

  /** Weights of soft selection as the core told them, as the size of dots. */
  private drawSoft(state: EditorState): void {
    const { soft } = state;
    const session = state.session;
    const view = session === null ? undefined : this.views.parts.get(session.part);
    const mesh = view?.mesh?.cage;
    if (soft === null || view === undefined || mesh === undefined || session?.values["falloff"] === undefined) return;
    const c = this.overlay.context;
    c.fillStyle = token("pick");
    const v = new Vector3();
    for (let i = 0; i < soft.vertex.length; i++) {
      v.fromArray(mesh.positions, 3 * soft.vertex[i]!).applyMatrix4(view.group.matrix);
      const p = this.overlay.camera.project(v);
      c.beginPath();
      c.arc(p.x, p.y, 1 + 4.5 * soft.weight[i]!, 0, 2 * Math.PI);
      c.fill();
    }
  }

  private drawSwept(): void {
    const points = this.hands.marks.swept?.area.points ?? [];
    const c = this.overlay.context;
    c.beginPath();
    points.forEach(([x, y], i) => (i === 0 ? c.moveTo(x, y) : c.lineTo(x, y)));
    c.closePath();
    const { inside } = prefs.get();
    c.setLineDash(inside ? [] : [5, 4]);
    c.lineWidth = 1.4;
    c.strokeStyle = token("pick");
    c.stroke();
    c.setLineDash([]);
    c.globalAlpha = 0.07;
    c.fillStyle = token("pick");
    c.fill();
    c.globalAlpha = 1;
  }
}
