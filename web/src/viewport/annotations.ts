import { Vector3 } from "three";

import { verticesOf } from "../model/picks/picks";
import { prefs } from "../model/prefs";
import { editor, type EditorState, METRES } from "../model/store";
import { shownUnit } from "../model/units";
import { BASES, VIEW_TITLES } from "../model/views";
import type { Overlay } from "../scene/overlay";
import type { PartView } from "../scene/PartView";
import type { Pane, Sheet } from "../scene/Sheet";
import { token } from "../theme/theme";

/** What is written on the sheet beside the model: titles, axes, floor, grid figures, projection lines. */

/** Width of the title block, in pixels. */
const TITLE_BLOCK = 236;

/** The floor, in views that see it edge on. */
export function drawFloor(pane: Pane, o: Overlay): void {
  const { view } = pane;
  if (view === "perspective" || view === "top" || view === "bottom") return;
  const y = Math.round(pane.camera.project(new Vector3()).y) + 0.5;
  line(o, 0, y, pane.camera.width, y, token("muted"), 0.55);
}

function line(o: Overlay, ax: number, ay: number, bx: number, by: number, colour: string, alpha: number, dash: number[] = []): void {
  const c = o.context;
  c.strokeStyle = colour;
  c.globalAlpha = alpha;
  c.lineWidth = 1;
  c.setLineDash(dash);
  c.beginPath();
  c.moveTo(ax, ay);
  c.lineTo(bx, by);
  c.stroke();
  c.setLineDash([]);
  c.globalAlpha = 1;
}

/** The axes through the origin. */
export function drawOrigin(pane: Pane, o: Overlay): void {
  const far = pane.camera.isFlat ? 100 : 5;
  const dashes = [[], [10, 3, 2, 3], [5, 4]];
  o.context.globalAlpha = 0.45;
  for (let i = 0; i < 3; i++) {
    const a = new Vector3().setComponent(i, -far);
    const b = new Vector3().setComponent(i, far);
    if (pane.camera.isFlat) o.polyline([a, b], token("ink"), 1, { dash: dashes[i] as number[] });
    else o.polyline([new Vector3(), b.multiplyScalar(0.04)], token("ink"), 1, { dash: dashes[i] as number[] });
  }
  o.context.globalAlpha = 1;
}

/** What the lines of the grid stand apart, and where they stand along the edges of a flat view. */
export function drawGridFigures(pane: Pane, sheet: Sheet, step: number, o: Overlay): void {
  if (!pane.camera.isFlat) return;
  const { right, up } = BASES[pane.view as "front"];
  const metres = METRES[shownUnit(editor.get())];
  const { width, height } = pane.camera;
  const every = Math.max(1, Math.ceil(52 / (step / pane.camera.pixel(new Vector3()))));
  const c = o.context;
  c.globalAlpha = 0.8;
  const write = (at: number, text: string, across: boolean) => {
    if (across) o.small(at, height - 7, text, token("muted"), "center");
    else o.small(4, at, text, token("muted"), "left");
  };
  const origin = pane.camera.project(new Vector3());
  const apart = (step / pane.camera.pixel(new Vector3())) * every;
  const name = (v: Vector3, i: number) => {
    const k = [0, 1, 2].find((n) => Math.abs(v.getComponent(n)) > 0.5) as number;
    return String(Number((((i * every * step) / metres) * v.getComponent(k)).toPrecision(6)) + 0);
  };
  const clear = isLast(pane, sheet) ? width - TITLE_BLOCK - 12 : width - 20;
  for (let i = Math.ceil((30 - origin.x) / apart); origin.x + i * apart < clear; i++) write(origin.x + i * apart, name(right, i), true);
  for (let i = Math.ceil((origin.y - height + 34) / apart); origin.y - i * apart > 40; i++) write(origin.y - i * apart, name(up, i), false);
  c.globalAlpha = 1;
}

/** A letter of a title is about so wide, and the title block so high, in pixels. */
const LETTER = 6.8;
const TITLE_HEIGHT = 36;

/** Whether the title block stands in this pane's corner. */
function isLast(pane: Pane, sheet: Sheet): boolean {
  return pane.x + pane.camera.width >= sheet.width - 1 && pane.y + pane.camera.height >= sheet.height - 1;
}

/** The view's title under the drawing, with its scale. */
export function drawTitle(pane: Pane, sheet: Sheet, o: Overlay): void {
  const { camera } = pane;
  const scale = camera.scaleText();
  const opposite = ["back", "bottom", "left"].includes(pane.view) && sheet.shown.length > 1 ? ", not in line" : "";
  const title = scale === null ? "3D, 50 mm" : `${VIEW_TITLES[pane.view]} ${scale}${opposite}`;
  const beside = isLast(pane, sheet);
  const room = camera.width - TITLE_BLOCK - 16;
  const above = beside && title.length * LETTER > room; // it would run under the title block
  o.title(beside && !above ? Math.max(room / 2, 56) : camera.width / 2, camera.height - (above ? 20 + TITLE_HEIGHT : 20), title, token("muted"));
}

/** Axis letters in the lower left corner. */
export function drawAxes(pane: Pane, o: Overlay): void {
  const { right, up } = pane.camera.basis();
  const at = { x: 48, y: pane.camera.height - 50 };
  const c = o.context;
  const dashes = [[], [7, 2, 1, 2], [4, 3]];
  (["x", "y", "z"] as const).forEach((letter, i) => {
    const axis = new Vector3().setComponent(i, 1);
    const dx = axis.dot(right) * 24;
    const dy = -axis.dot(up) * 24;
    if (Math.hypot(dx, dy) < 3) return;
    c.beginPath();
    c.setLineDash(dashes[i] as number[]);
    c.moveTo(at.x, at.y);
    c.lineTo(at.x + dx, at.y + dy);
    c.strokeStyle = token("ink");
    c.lineWidth = 1.3;
    c.stroke();
    c.setLineDash([]);
    const size = Math.hypot(dx, dy);
    o.text(at.x + dx + (dx / size) * 9, at.y + dy + (dy / size) * 9, letter, token("muted"), "center", 500);
  });
}

/** The places of the pick that projection lines run from: itself for one vertex, else its extremes and centre. */
function marks(state: EditorState, view: PartView): Vector3[] {
  const { pick } = state;
  const mesh = view.mesh?.cage;
  if (pick === null || mesh === undefined) return [];
  const low = new Vector3(Infinity, Infinity, Infinity);
  const high = low.clone().negate();
  const v = new Vector3();
  for (const i of verticesOf(mesh, pick.kind, pick.elements)) {
    if (i >= mesh.shape.vertexCount) continue;
    v.fromArray(mesh.positions, 3 * i).applyMatrix4(view.group.matrix);
    low.min(v);
    high.max(v);
  }
  if (low.x > high.x) return [];
  return pick.kind === "vertices" && pick.elements.length === 1 ? [low] : [low, high, low.clone().add(high).multiplyScalar(0.5)];
}

/** Lines from the pick across the flat views that stand in line; from Top to Right they turn on the mitre line. */
export function drawProjections(sheet: Sheet, view: PartView, o: Overlay): void {
  if (!prefs.get().shown.lines || sheet.shown.length < 2) return;
  const points = marks(editor.get(), view);
  const c = o.context;
  c.save();
  c.strokeStyle = token("pick");
  c.lineWidth = 1;
  const { top, front, right } = sheet.panes;
  const on = (pane: Pane, p: Vector3) => {
    const q = pane.camera.project(p);
    return { x: q.x + pane.x, y: q.y + pane.y };
  };
  const stroke = (ps: { x: number; y: number }[], centre: boolean) => {
    c.beginPath();
    ps.forEach((p, i) => (i === 0 ? c.moveTo(p.x, p.y) : c.lineTo(p.x, p.y)));
    c.setLineDash(centre ? [8, 3, 2, 3] : [2, 4]);
    c.globalAlpha = centre ? 0.4 : 0.75;
    c.stroke();
  };
  points.forEach((p, i) => {
    const centre = i === 2;
    if (sheet.inLine(top, front) === "x") stroke([on(top, p), on(front, p)], centre);
    if (sheet.inLine(front, right) === "y") stroke([on(front, p), on(right, p)], centre);
    if (sheet.mitred) {
      const [a, b] = [on(top, p), on(right, p)];
      stroke([a, { x: b.x, y: a.y }, b], centre);
    }
  });
  c.restore();
}

/** The frame of the sheet: its dividers, and the mitre line on which Top turns to Right. */
export function drawSheet(sheet: Sheet, o: Overlay): void {
  if (sheet.shown.length < 2) return;
  const { solid, top, right } = sheet.panes;
  const rule = token("rule");
  line(o, solid.x + 0.5, 0, solid.x + 0.5, sheet.height, rule, 1);
  line(o, 0, right.y + 0.5, sheet.width, right.y + 0.5, rule, 1);
  if (!sheet.mitred) return;
  // x + y is the same for a point's place across Right and down Top
  const p = new Vector3();
  const sum = right.camera.project(p).x + right.x + top.camera.project(p).y + top.y;
  const x = Math.max(solid.x, sum - right.y) + 3;
  const reach = Math.min(56, sum - x - 8, sheet.width - x - 30);
  if (reach < 8) return;
  line(o, x, sum - x, x + reach, sum - x - reach, token("muted"), 0.7, [10, 3, 2, 3]);
  o.small(x + reach + 4, sum - x - reach, "45°", token("muted"), "left");
}
