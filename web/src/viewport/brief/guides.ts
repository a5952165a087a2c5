import { type Box3, Vector3 } from "three";

import type { Guide } from "../../api/client";
import { asking } from "../../model/session/asking";
import { prefs } from "../../model/prefs";
import { editor, METRES, type Triple, unitOf } from "../../model/store";
import { shownUnit, steady, tidy } from "../../model/units";
import { BASES } from "../../model/views";
import type { Overlay } from "../../scene/overlay";
import type { Pane } from "../../scene/Sheet";
import { token } from "../../theme/theme";

const FAR = 50;
const DASH = [14, 4, 2, 4];

function place(p: readonly number[] | null | undefined): Vector3 {
  return new Vector3(...((p ?? [0, 0, 0]) as Triple)).multiplyScalar(METRES[unitOf(editor.get())]);
}

/** Landmarks: points, lines and levels with their names; of the one looked at, its distances to the others. */
export function drawGuides(pane: Pane, o: Overlay, model: Box3): void {
  if (!prefs.get().shown.guides) return;
  const guides = (editor.get().build?.document.guides ?? []).filter((g) => !g.hidden);
  const chosen = asking.get().guide;
  for (const guide of guides) {
    const here = guide.id === chosen;
    const colour = here ? token("pick") : token("mark");
    const at = place(guide.at);
    if (guide.kind === "point") {
      diamond(o, at, here ? 6 : 4.5, colour);
      name(o, at, guide.name, colour, 10);
    } else if (guide.kind === "line") {
      const to = place(guide.to);
      const along = to.clone().sub(at).normalize().multiplyScalar(FAR);
      if (pane.camera.isFlat) o.polyline([at.clone().sub(along), at.clone().add(along)], colour, here ? 1.6 : 1, { dash: DASH });
      else o.polyline([at, to], colour, 1.2, { dash: DASH });
      for (const p of [at, to]) diamond(o, p, 3.5, colour);
      name(o, at, guide.name, colour, 10);
    } else drawLevel(guide, pane, o, model, colour, here);
  }
  const one = guides.find((g) => g.id === chosen);
  if (one !== undefined) drawApart(one, guides, pane, o);
}

function diamond(o: Overlay, at: Vector3, size: number, colour: string): void {
  const p = o.camera.project(at);
  const c = o.context;
  c.beginPath();
  c.moveTo(p.x, p.y - size);
  c.lineTo(p.x + size, p.y);
  c.lineTo(p.x, p.y + size);
  c.lineTo(p.x - size, p.y);
  c.closePath();
  c.fillStyle = token("panel");
  c.fill();
  c.strokeStyle = colour;
  c.lineWidth = 1.6;
  c.stroke();
}

function name(o: Overlay, at: Vector3, text: string, colour: string, dx: number): void {
  const p = o.camera.project(at);
  o.text(p.x + dx, p.y - 8, text, colour, "left", 600);
}

function drawLevel(guide: Guide, pane: Pane, o: Overlay, model: Box3, colour: string, here: boolean): void {
  const k = "xyz".indexOf(guide.axis ?? "y");
  const at = place(guide.at).getComponent(k);
  if (pane.view === "perspective") {
    if (model.isEmpty()) return;
    const box = model.clone().expandByScalar(model.getSize(new Vector3()).length() * 0.08);
    const [i, j] = [(k + 1) % 3, (k + 2) % 3] as [number, number];
    const corner = (a: number, b: number) => new Vector3().setComponent(k, at).setComponent(i, a).setComponent(j, b);
    const [l, h] = [box.min, box.max];
    o.polyline([corner(l.getComponent(i), l.getComponent(j)), corner(h.getComponent(i), l.getComponent(j)), corner(h.getComponent(i), h.getComponent(j)), corner(l.getComponent(i), h.getComponent(j))], colour, here ? 1.4 : 0.9, { close: true, dash: DASH });
    return;
  }
  const { up, eye } = BASES[pane.view];
  if (Math.abs(eye.getComponent(k)) > 0.5) return;
  const across = Math.abs(up.getComponent(k)) > 0.5;
  const p = pane.camera.project(new Vector3().setComponent(k, at));
  const c = o.context;
  c.beginPath();
  if (across) {
    c.moveTo(0, p.y);
    c.lineTo(pane.camera.width, p.y);
  } else {
    c.moveTo(p.x, 0);
    c.lineTo(p.x, pane.camera.height);
  }
  c.setLineDash(DASH);
  c.lineWidth = here ? 1.6 : 1;
  c.strokeStyle = colour;
  c.stroke();
  c.setLineDash([]);
  const unit = METRES[shownUnit(editor.get())];
  const text = `${guide.name} ${tidy(at / unit)}`;
  if (across) o.text(pane.camera.width - 8, p.y - 8, text, colour, "right", 600);
  else o.text(p.x + 6, 40, text, colour, "left", 600);
}

/** Distances of a chosen guide to the others: levels across the same axis, points from points. */
function drawApart(one: Guide, all: readonly Guide[], pane: Pane, o: Overlay): void {
  const unit = METRES[shownUnit(editor.get())];
  const from = place(one.at);
  for (const other of all) {
    if (other.id === one.id || other.kind !== one.kind || one.kind === "line") continue;
    const to = place(other.at);
    if (one.kind === "level") {
      if ((other.axis ?? "y") !== (one.axis ?? "y")) continue;
      if (pane.view === "perspective") continue;
      const k = "xyz".indexOf(one.axis ?? "y");
      if (Math.abs(BASES[pane.view].eye.getComponent(k)) > 0.5) continue;
      const middle = pane.camera.onPlane(pane.camera.width * 0.9, pane.camera.height * 0.5);
      from.copy(middle).setComponent(k, place(one.at).getComponent(k));
      to.copy(middle).setComponent(k, place(other.at).getComponent(k));
    }
    o.polyline([from, to], token("pick"), 1, { dash: [3, 3] });
    o.label(from.clone().lerp(to, 0.5), steady(from.distanceTo(to) / unit), token("pick"));
  }
}
