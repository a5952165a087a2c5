import { Vector3 } from "three";

import { cornersOf, fromPlane, viewOf } from "../../model/places/boardPlane";
import { apart, type Asked, asking, boardOf } from "../../model/session/asking";
import { editor, METRES, type Triple, unitOf } from "../../model/store";
import { shownUnit, steady } from "../../model/units";
import { BASES } from "../../model/views";
import type { Overlay } from "../../scene/overlay";
import type { Pointer } from "../../scene/pointer";
import type { Pane } from "../../scene/Sheet";
import { type Snapped, SnapTargets } from "../../scene/snap";
import { token } from "../../theme/theme";
import type { Redraws, Scenery } from "../views";

/** Points asked for in the views: where a click would be, and those clicked so far. */
export class Asker {
  private here: { pane: Pane; point: Asked; snapped: Snapped | null } | null = null;

  constructor(private readonly views: Redraws & Scenery) {}

  /** The point a click stands for. On a picture it is the pointer's own; elsewhere it may snap, with snap off by Ctrl. */
  point(pane: Pane, at: Pointer): Asked {
    return this.look(pane, at).point;
  }

  hover(pane: Pane, at: Pointer): void {
    this.here = { pane, ...this.look(pane, at) };
    this.views.invalidate("overlay");
  }

  leave(): void {
    this.here = null;
    this.views.invalidate("overlay");
  }

  private look(pane: Pane, at: Pointer): { point: Asked; snapped: Snapped | null } {
    const what = asking.get().asking;
    const onPicture = what?.kind === "scale" || (what?.kind === "line up" && what.points.length === 0);
    // a point of something is meant wherever something can be met; Ctrl takes the pointer's own
    const snapped = !onPicture && !at.invert ? new SnapTargets(this.views.parts, this.views.boards, false).nearest(at.x, at.y, pane.camera) : null;
    const p = snapped?.at ?? pane.camera.onPlane(at.x, at.y);
    const eye = pane.view === "perspective" ? null : BASES[pane.view].eye;
    const solid = snapped !== null && snapped.flat !== true;
    const told = p.toArray().map((v, k) => (eye !== null && !solid && Math.abs(eye.getComponent(k)) > 0.5 ? Number.NaN : v)) as Triple;
    return { point: { at: told, view: pane.view, ...(onPicture && this.beside(what.board, pane, p) ? { beside: true } : {}) }, snapped };
  }

  /** Whether a place of a board's own view lies beside what is shown of its picture. */
  private beside(id: string, pane: Pane, at: Vector3): boolean {
    const board = boardOf(id);
    if (board === null || pane.view === "perspective" || viewOf(board) !== pane.view) return false;
    const { right, up } = BASES[pane.view];
    const metres = METRES[unitOf(editor.get())];
    const [x, y] = fromPlane(board, [at.dot(right) / metres, at.dot(up) / metres]);
    const [low, , high] = cornersOf(board, this.views.boards.aspectOf(board));
    const slack = 1e-6 * board.width;
    return x < low![0] - slack || y < low![1] - slack || x > high![0] + slack || y > high![1] + slack;
  }

  draw(pane: Pane, o: Overlay): void {
    const what = asking.get().asking;
    if (what === null) {
      this.here = null;
      return;
    }
    const eye = pane.view === "perspective" ? null : BASES[pane.view].eye;
    const place = (p: Asked) => new Vector3(...(p.at.map((v) => (Number.isNaN(v) ? 0 : v)) as Triple));
    const seen = (p: Asked) => eye === null || p.at.every((v, k) => !Number.isNaN(v) || Math.abs(eye.getComponent(k)) > 0.5);
    const points = what.points.filter(seen);
    const next = this.here !== null && this.here.pane === pane ? this.here : null;
    const all = [...points, ...(next === null || (what.kind === "scale" && what.points.length > 1) ? [] : [next.point])];
    if (all.length === 2) o.polyline(all.map(place), token("pick"), 1.6, { dash: what.kind === "line up" ? [5, 4] : [] });
    for (const p of points) cross(o, place(p), 9);
    if (next !== null) {
      cross(o, place(next.point), 13);
      if (next.snapped !== null) o.label(next.snapped.at, next.snapped.what, token("mark"));
    }
    if (what.kind === "scale" && all.length === 2) {
      const unit = shownUnit(editor.get());
      o.label(place(all[1] as Asked), `now ${steady(apart(all) / METRES[unit])} ${unit}`, token("pick"));
    }
  }
}

function cross(o: Overlay, at: Vector3, size: number): void {
  const p = o.camera.project(at);
  const c = o.context;
  c.strokeStyle = token("pick");
  c.lineWidth = 1.4;
  c.beginPath();
  c.moveTo(p.x - size, p.y);
  c.lineTo(p.x + size, p.y);
  c.moveTo(p.x, p.y - size);
  c.lineTo(p.x, p.y + size);
  c.moveTo(p.x + size / 2, p.y);
  c.arc(p.x, p.y, size / 2, 0, 2 * Math.PI);
  c.stroke();
}
