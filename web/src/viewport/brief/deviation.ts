import { type BoardFit, useBrief } from "../../model/brief/boardFit";
import { onView, viewOf } from "../../model/places/boardPlane";
import { prefs } from "../../model/prefs";
import { boardsOf, editor, METRES, unitOf } from "../../model/store";
import { lengthText } from "../../model/units";
import type { Overlay } from "../../scene/overlay";
import type { Pane } from "../../scene/Sheet";
import { token } from "../../theme/theme";

/** Off by less than so many pixels is told as a thin line only. */
const EXACT = 1;
/** Every so manyth place has a whisker to the picture's outline. */
const WHISKER = 3;

/** The model's outline against the boards of a view: berry and whole where it lies outside the picture's, teal and dashed
 * where inside, as far as can be seen; and where it is worst. */
export function drawDeviation(pane: Pane, o: Overlay): void {
  if (!pane.camera.isFlat || !prefs.get().shown.fit) return;
  const { boards } = useBrief.getState();
  for (const board of boardsOf(editor.get())) {
    const fit = boards[board.id];
    if (fit !== undefined && viewOf(board) === pane.view) drawFit(pane, o, fit);
  }
}

function drawFit(pane: Pane, o: Overlay, fit: BoardFit): void {
  const c = o.context;
  const view = pane.view as "front";
  const zero = pane.camera.project(onView(view, [0, 0]));
  const one = pane.camera.project(onView(view, [1, 0]));
  const scale = one.x - zero.x; // pixels in a metre: the views look straight
  const x = (p: Float32Array, i: number) => zero.x + p[2 * i]! * scale;
  const y = (p: Float32Array, i: number) => zero.y - p[2 * i + 1]! * scale;
  const n = fit.off.length;
  const [thin, outside, inside, whiskers] = [new Path2D(), new Path2D(), new Path2D(), new Path2D()];
  let start = 0;
  for (let i = 0; i < n; i++) {
    const last = i + 1 === n || fit.ring[i + 1] !== fit.ring[i];
    const j = last ? start : i + 1;
    if (last) start = i + 1;
    const off = Math.max(Math.abs(fit.off[i]!), Math.abs(fit.off[j]!)) * scale;
    if (last && Math.hypot(x(fit.points, i) - x(fit.points, j), y(fit.points, i) - y(fit.points, j)) > 0.2 * n) continue; // cut off by what is trusted
    const path = off < EXACT ? thin : fit.off[i]! + fit.off[j]! > 0 ? outside : inside;
    path.moveTo(x(fit.points, i), y(fit.points, i));
    path.lineTo(x(fit.points, j), y(fit.points, j));
    if (off >= EXACT && i % WHISKER === 0) {
      whiskers.moveTo(x(fit.points, i), y(fit.points, i));
      whiskers.lineTo(x(fit.near, i), y(fit.near, i));
    }
  }
  c.lineCap = "butt";
  c.globalAlpha = 0.45;
  c.lineWidth = 1;
  c.strokeStyle = token("ink");
  c.stroke(whiskers);
  c.globalAlpha = 1;
  c.strokeStyle = token("mark");
  c.lineWidth = 1;
  c.stroke(thin);
  c.lineWidth = 2.6;
  c.setLineDash([6, 3]);
  c.stroke(inside);
  c.setLineDash([]);
  c.strokeStyle = token("pick");
  c.stroke(outside);
  if (fit.worstAt !== null && fit.worst > 0) {
    const at = onView(view, [...fit.worstAt]);
    const p = pane.camera.project(at);
    const pixels = fit.worst * scale * METRES[unitOf(editor.get())];
    if (pixels < 3) return;
    c.beginPath();
    c.arc(p.x, p.y, 7, 0, 2 * Math.PI);
    c.strokeStyle = token("ink");
    c.lineWidth = 1.4;
    c.stroke();
    o.title(p.x, p.y + 20, `worst ${lengthText(Number(fit.worst.toPrecision(3)))}`, token("ink"));
  }
}
