import { type Box3, Vector3 } from "three";

import type { Size, SizeInfo, View } from "../../api/client";
import { useBrief } from "../../model/brief/boardFit";
import { prefs } from "../../model/prefs";
import { haveText, offText, signOf, verdictColour } from "../../model/brief/sizes";
import { editor } from "../../model/store";
import { BASES } from "../../model/views";
import type { Overlay } from "../../scene/overlay";
import type { Pane, Sheet } from "../../scene/Sheet";

/** A dimension line stands so far from what it measures, in pixels, and each further one so much more. */
const FIRST = 20;
const NEXT = 18;
/** Where each side of the box is told on the sheet, so that it stands once. */
const HOME: Partial<Record<Size["measure"], readonly View[]>> = { width: ["front", "back"], height: ["front", "back"], depth: ["right", "left"] };

/** Sizes as dimension lines: in flat views where they are seen at true length. */
export function drawDimensions(pane: Pane, sheet: Sheet, o: Overlay, model: Box3): void {
  if (!prefs.get().shown.sizes) return;
  const { sizes, more, tried } = useBrief.getState();
  const rows: [Size, SizeInfo][] = (editor.get().build?.document.sizes ?? []).flatMap((s) => (s.shown !== false && sizes[s.id] !== undefined ? [[s, sizes[s.id] as SizeInfo]] : []));
  more.forEach((s, i) => tried[i] !== undefined && rows.push([s, tried[i] as SizeInfo]));
  const lines: Line[] = [];
  for (const [size, info] of rows) {
    if (info.drawn === null) continue;
    const points = info.points.map((p) => new Vector3(...(p as [number, number, number])));
    const colour = verdictColour(info);
    const text = `${signOf(info)}${haveText(size, info)}${info.verdict === "near" || info.verdict === "fail" ? `  ${offText(size, info)}` : ""}`;
    if (info.drawn === "span") {
      const line = spanOf(pane, sheet, o, size, points, text, colour);
      if (line !== null) lines.push(line);
    } else if (info.drawn === "note") note(o, points[0] as Vector3, `${size.name} ${text}`, colour);
    else if (info.drawn === "radius") drawRadius(pane, o, points, text, colour);
    else drawAngle(o, points, text, colour);
  }
  stack(pane, o, lines, model);
}

/** Lines of the box stand clear of the model, the shorter nearer to it; others stand where they are. */
function stack(pane: Pane, o: Overlay, lines: Line[], model: Box3): void {
  const corners = model.isEmpty() ? [] : [0, 1, 2, 3, 4, 5, 6, 7].map((i) => pane.camera.project(new Vector3(i & 1 ? model.max.x : model.min.x, i & 2 ? model.max.y : model.min.y, i & 4 ? model.max.z : model.min.z)));
  const below = Math.max(...corners.map((c) => c.y), ...lines.flatMap((l) => [l.p.y, l.q.y]));
  const beside = Math.max(...corners.map((c) => c.x), ...lines.flatMap((l) => [l.p.x, l.q.x]));
  const size = (l: Line) => Math.hypot(l.q.x - l.p.x, l.q.y - l.p.y);
  const taken = { below: 0, beside: 0 };
  for (const l of [...lines].sort((a, b) => size(a) - size(b))) {
    if (l.side === null) dimension(o, l.p, l.q, l.p, l.q, l.text, l.colour);
    else if (l.side === "below") {
      const y = below + FIRST + NEXT * taken.below++;
      dimension(o, l.p, l.q, { x: l.p.x, y }, { x: l.q.x, y }, l.text, l.colour);
    } else {
      const x = beside + FIRST + NEXT * taken.beside++;
      dimension(o, l.p, l.q, { x, y: l.p.y }, { x, y: l.q.y }, l.text, l.colour);
    }
  }
}

interface Pixel {
  readonly x: number;
  readonly y: number;
}

interface Line {
  readonly p: Pixel;
  readonly q: Pixel;
  readonly text: string;
  readonly colour: string;
  readonly side: "below" | "beside" | null;
}

function note(o: Overlay, at: Vector3, text: string, colour: string): void {
  o.label(at, text, colour);
}

function spanOf(pane: Pane, sheet: Sheet, o: Overlay, size: Size, points: readonly Vector3[], text: string, colour: string): Line | null {
  const [a, b] = [points[0] as Vector3, points[1] as Vector3];
  const home = HOME[size.measure];
  if (pane.view !== "perspective") {
    const { eye } = BASES[pane.view];
    const length = a.distanceTo(b);
    if (Math.abs(b.clone().sub(a).dot(eye)) > 0.02 * length) return null; // foreshortened
    if (sheet.shown.length > 1 && home !== undefined && !home.includes(pane.view)) return null;
  } else if (sheet.shown.length > 1) return null; // told in the flat views
  const [p, q] = [o.camera.project(a), o.camera.project(b)];
  if (points.length > 2) o.polyline([b, points[2] as Vector3], colour, 0.8, { dash: [3, 3] });
  const boxed = home !== undefined && pane.view !== "perspective";
  const side = !boxed ? null : Math.abs(q.x - p.x) > Math.abs(q.y - p.y) ? "below" : "beside";
  return { p: { x: p.x, y: p.y }, q: { x: q.x, y: q.y }, text, colour, side };
}

/** A dimension line a – b of what lies between p and q, with lines from them to it. */
function dimension(o: Overlay, p: Pixel, q: Pixel, a: Pixel, b: Pixel, text: string, colour: string): void {
  const c = o.context;
  const size = Math.hypot(b.x - a.x, b.y - a.y);
  if (size < 4) return;
  const [ux, uy] = [(b.x - a.x) / size, (b.y - a.y) / size];
  c.strokeStyle = colour;
  c.lineWidth = 1;
  c.globalAlpha = 0.4;
  c.beginPath();
  for (const [e, f] of [[p, a], [q, b]] as const) {
    const away = Math.hypot(f.x - e.x, f.y - e.y);
    if (away < 1) continue;
    const [vx, vy] = [(f.x - e.x) / away, (f.y - e.y) / away];
    c.moveTo(e.x + 4 * vx, e.y + 4 * vy);
    c.lineTo(f.x + 4 * vx, f.y + 4 * vy);
  }
  c.stroke();
  c.globalAlpha = 1;
  c.lineWidth = 1.3;
  c.beginPath();
  c.moveTo(a.x, a.y);
  c.lineTo(b.x, b.y);
  for (const e of [a, b]) {
    c.moveTo(e.x - 6 * uy, e.y + 6 * ux);
    c.lineTo(e.x + 6 * uy, e.y - 6 * ux);
  }
  c.stroke();
  o.title((a.x + b.x) / 2, (a.y + b.y) / 2, text, colour);
}

function drawRadius(pane: Pane, o: Overlay, points: readonly Vector3[], text: string, colour: string): void {
  const [centre, rim] = [points[0] as Vector3, points[1] as Vector3];
  if (pane.view !== "perspective" && Math.abs(rim.clone().sub(centre).dot(BASES[pane.view].eye)) > 0.02 * rim.distanceTo(centre)) return;
  const [p, q] = [o.camera.project(centre), o.camera.project(rim)];
  dimension(o, p, q, p, q, `R ${text}`, colour);
}

function drawAngle(o: Overlay, points: readonly Vector3[], text: string, colour: string): void {
  const [a, at, b] = points.map((p) => o.camera.project(p)) as [Vector3, Vector3, Vector3];
  const [from, to] = [Math.atan2(a.y - at.y, a.x - at.x), Math.atan2(b.y - at.y, b.x - at.x)];
  const radius = Math.min(28, Math.hypot(a.x - at.x, a.y - at.y), Math.hypot(b.x - at.x, b.y - at.y));
  if (radius < 6) return;
  const turn = ((((to - from) % (2 * Math.PI)) + 3 * Math.PI) % (2 * Math.PI)) - Math.PI;
  const c = o.context;
  c.strokeStyle = colour;
  c.lineWidth = 1.3;
  c.beginPath();
  c.moveTo(a.x, a.y);
  c.lineTo(at.x, at.y);
  c.lineTo(b.x, b.y);
  c.stroke();
  c.beginPath();
  c.arc(at.x, at.y, radius, from, from + turn, turn < 0);
  c.stroke();
  const middle = from + turn / 2;
  o.title(at.x + (radius + 18) * Math.cos(middle), at.y + (radius + 12) * Math.sin(middle), text, colour);
}

