import { Matrix4, Vector3 } from "three";

import { planeOf } from "../../model/drawing/plane";
import { isClosed, pathOf, pointsOf, setPath, tidy, underWay } from "../../model/drawing/pathPoints";
import { prefs } from "../../model/prefs";
import { editor, METRES, partOf, type Triple, unitOf } from "../../model/store";
import { metresText } from "../../model/units";
import { rounded } from "../../scene/numbers";
import type { Overlay } from "../../scene/overlay";
import type { Pointer } from "../../scene/pointer";
import type { Pane } from "../../scene/Sheet";
import { type Snapped, snapping, SnapTargets, toStep } from "../../scene/snap";
import { token } from "../../theme/theme";
import { addPoint, closePath, insertPoint, movePoint, reserve, takeStroke } from "./drawPath";
import type { Views } from "../views";

/** A click this near to a point means it, in pixels; to a span, a little less. */
const REACH = 9;
const BESIDE = 6;
/** Points of a freehand stroke stand this far apart, in pixels. */
const STROKE = 4;
/** A press that moves this far draws a handle out. */
const DRAWN = 5;

interface Press {
  readonly at: Pointer;
  readonly place: Vector3;
  /** what looks out of the plane that is drawn in */
  readonly out: Vector3;
  /** the point of the path that was pressed */
  readonly on: number | null;
  handle: Vector3 | null;
}

/** Drawing a path: click points, drag for soft ones, click the first to close; points that are there are picked and moved. */
export class PathDrawer {
  private targets: SnapTargets | null = null;
  private snapped: Snapped | null = null;
  private pressed: Press | null = null;
  private stroke: Vector3[] = [];
  private over: Vector3 | null = null;
  /** the view whose plane is proposed */
  private inPlane: string | null = null;

  constructor(private readonly views: Views) {}

  press(pane: Pane, at: Pointer): void {
    const { path } = editor.get();
    if (path === null) return;
    const view = pane.view === "perspective" ? null : pane.view;
    // each view draws in its own plane, through the last point where there is one
    setPath({ fixed: true, plane: { ...planeOf(view), origin: (this.last()?.toArray() ?? [0, 0, 0]) as Triple } });
    this.targets = new SnapTargets(this.views.parts, this.views.boards, false);
    this.stroke = [];
    const place = this.placeAt(pane, at);
    this.pressed = place === null ? null : { at, place, out: new Vector3(...planeOf(view).out), on: this.pointAt(pane, at), handle: null };
  }

  drag(pane: Pane, at: Pointer): void {
    const held = this.pressed;
    if (held !== null && editor.get().path?.freehand) {
      const place = this.onPlane(pane, at);
      if (place !== null && (this.stroke.at(-1)?.distanceTo(place) ?? Infinity) > STROKE * pane.camera.pixel(place)) this.stroke.push(place);
      this.views.invalidate("overlay");
      return;
    }
    if (held === null || (held.handle === null && Math.hypot(at.x - held.at.x, at.y - held.at.y) < DRAWN)) return;
    const to = this.placeAt(pane, at);
    if (to !== null) held.handle = held.on === null ? to.sub(held.place) : to;
    this.views.invalidate("overlay");
  }

  /** The press ends; what it meant is stored when its turn comes, and the next may be under way by then. */
  release(pane: Pane): () => Promise<void> {
    const [held, stroke] = [this.pressed, this.stroke];
    this.pressed = null;
    this.stroke = [];
    const turn = held === null || editor.get().path?.freehand ? null : reserve();
    return async () => {
      await turn?.before;
      try {
        if (held !== null) await this.done(pane, held, stroke);
      } finally {
        turn?.release();
      }
    };
  }

  private async done(pane: Pane, held: Press, stroke: readonly Vector3[]): Promise<void> {
    const { path } = editor.get();
    if (path === null) return;
    if (path.freehand) {
      await takeStroke(stroke.map((p) => tidy(p.toArray())), pane.camera.pixel(held.place));
      return;
    }
    const points = underWay(editor.get());
    // a click means the points that are there by now
    const on = held.handle === null ? this.pointAt(pane, held.at) : held.on;
    if (on !== null && held.handle !== null) {
      setPath({ picked: on });
      await movePoint(on, this.own(asDeep(held.handle, held.out, this.points()[on])));
    } else if (on !== null) await this.meant(on, points.length);
    else {
      const between = held.handle === null ? this.spanAt(pane, held.at) : null;
      if (between !== null) await insertPoint(between.after, this.own(asDeep(held.place, held.out, between.at)));
      else if (!this.closed()) {
        setPath({ picked: null });
        await addPoint(this.own(held.place), held.handle === null ? null : this.ownWay(held.handle));
        setPath({ added: true });
      }
    }
    this.targets = null; // there is one more of them now
    this.views.invalidate("overlay");
  }

  /** A click on a point: the far end closes, an end that is alone is drawn on from, any other is picked. */
  private async meant(index: number, count: number): Promise<void> {
    const { path } = editor.get();
    if (path === null) return;
    const far = path.end === "last" ? 0 : count - 1;
    const near = count - 1 - far;
    if (!this.closed() && index === far && count > 2 && path.picked === null && path.added) await closePath();
    else if (!this.closed() && index === far && count > 1) setPath({ end: path.end === "last" ? "first" : "last", picked: null });
    else setPath({ picked: index === near && !this.closed() ? null : index });
  }

  hover(pane: Pane, at: Pointer): void {
    const { path } = editor.get();
    if (path === null) return;
    if (path.plane === null || (!path.fixed && this.inPlane !== pane.view)) {
      this.inPlane = pane.view;
      const view = pane.view === "perspective" ? null : pane.view;
      setPath({ plane: { ...planeOf(view), origin: (this.last()?.toArray() ?? [0, 0, 0]) as Triple } });
    }
    this.targets ??= new SnapTargets(this.views.parts, this.views.boards, false);
    this.over = this.placeAt(pane, at);
    this.views.invalidate("overlay");
  }

  /** The press is taken back. */
  forget(): void {
    this.pressed = null;
    this.views.invalidate("overlay");
  }

  private closed(): boolean {
    return isClosed(pathOf(partOf(editor.get(), editor.get().path?.part ?? null)));
  }

  private get matrix(): Matrix4 {
    const part = editor.get().path?.part;
    return (part == null ? undefined : this.views.parts.get(part)?.group.matrix) ?? new Matrix4();
  }

  /** Points of the path in the build, in metres. */
  private points(): Vector3[] {
    const metres = METRES[unitOf(editor.get())];
    const matrix = this.matrix;
    return underWay(editor.get()).map((p) => new Vector3(...p.at).multiplyScalar(metres).applyMatrix4(matrix));
  }

  private last(): Vector3 | null {
    const points = this.points();
    return (editor.get().path?.end === "first" ? points[0] : points.at(-1)) ?? null;
  }

  private own(at: Vector3): Triple {
    return tidy(at.clone().applyMatrix4(this.matrix.clone().invert()).toArray());
  }

  private ownWay(way: Vector3): Triple {
    const inverse = this.matrix.clone().invert().setPosition(0, 0, 0);
    return tidy(way.clone().applyMatrix4(inverse).toArray());
  }

  private pointAt(pane: Pane, at: Pointer): number | null {
    let best: number | null = null;
    let least = REACH;
    this.points().forEach((p, i) => {
      const s = pane.camera.project(p);
      const off = Math.hypot(s.x - at.x, s.y - at.y);
      if (off < least) [best, least] = [i, off];
    });
    return best;
  }

  /** The point that begins the span under the pointer, and the place on it. */
  private spanAt(pane: Pane, at: Pointer): { readonly after: number; readonly at: Vector3 } | null {
    const own = this.points();
    const points = own.map((p) => pane.camera.project(p));
    const spans = points.length - (this.closed() ? 0 : 1);
    for (let i = 0; i < spans; i++) {
      const a = points[i]!;
      const b = points[(i + 1) % points.length]!;
      const [dx, dy] = [b.x - a.x, b.y - a.y];
      const t = Math.min(Math.max(((at.x - a.x) * dx + (at.y - a.y) * dy) / Math.max(dx * dx + dy * dy, 1e-9), 0), 1);
      if (Math.hypot(a.x + t * dx - at.x, a.y + t * dy - at.y) < BESIDE) return { after: i, at: own[i]!.clone().lerp(own[(i + 1) % own.length]!, t) };
    }
    return null;
  }

  private placeAt(pane: Pane, at: Pointer): Vector3 | null {
    const plane = editor.get().path?.plane;
    if (plane == null) return null;
    const origin = new Vector3(...plane.origin);
    const hit = pane.camera.onAnyPlane(at.x, at.y, origin, new Vector3(...plane.out));
    if (hit === null) return null;
    const metres = METRES[unitOf(editor.get())];
    const snaps = snapping(at.invert);
    this.snapped = snaps ? (this.targets?.nearest(at.x, at.y, pane.camera) ?? null) : null;
    const out = new Vector3(...plane.out);
    const pixel = pane.camera.pixel(origin);
    const place = origin.clone();
    for (const d of [plane.across, plane.up]) {
      const way = new Vector3(...d);
      const v = (this.snapped?.at ?? hit).dot(way);
      const put = this.snapped !== null ? v : snaps && prefs.get().snap.grid ? toStep(v, prefs.get().gridStep) : rounded(v, pixel, metres, at.fine) * metres;
      place.addScaledVector(way, put - place.dot(way));
    }
    // a target tells how deep it lies, unless it is flat; the first point takes that
    if (this.snapped !== null && this.snapped.flat !== true && this.last() === null) place.addScaledVector(out, this.snapped.at.dot(out) - place.dot(out));
    return place;
  }

  /** Where the pointer is in the plane that is drawn in, freely. */
  private onPlane(pane: Pane, at: Pointer): Vector3 | null {
    const plane = editor.get().path?.plane;
    return plane == null ? null : pane.camera.onAnyPlane(at.x, at.y, new Vector3(...plane.origin), new Vector3(...plane.out));
  }

  draw(o: Overlay): void {
    const { path } = editor.get();
    if (path === null) return;
    if (path.freehand) {
      o.polyline(this.stroke, token("pick"), 2, { close: this.stroke.length > 2 });
      return;
    }
    const points = this.points();
    const held = this.pressed;
    points.forEach((p, i) => o.dot(p, i === path.picked ? 6 : 4.5, i === path.picked ? token("pick") : token("panel"), token("pick"), 2));
    const picked = path.picked === null ? undefined : pointsOf(pathOf(partOf(editor.get(), path.part)))[path.picked];
    const metres = METRES[unitOf(editor.get())];
    for (const arm of [picked?.in, picked?.out]) {
      if (arm === undefined || picked === undefined || path.picked === null) continue;
      const from = points[path.picked] as Vector3;
      const to = new Vector3(...picked.at).add(new Vector3(...arm)).multiplyScalar(metres).applyMatrix4(this.matrix);
      o.polyline([from, to], token("pick"), 1);
      o.dot(to, 3, token("panel"), token("pick"), 1.5);
    }
    if (held?.handle != null && held.on === null) {
      const [a, b] = [held.place.clone().add(held.handle), held.place.clone().sub(held.handle)];
      o.polyline([a, b], token("pick"), 1.2);
      for (const end of [a, b]) o.dot(end, 3, token("panel"), token("pick"), 1.5);
    }
    const from = path.end === "last" ? points.at(-1) : points[0];
    const to = held?.on != null ? (held.handle ?? null) : (held?.place ?? this.over);
    if (from !== undefined && to !== null && path.picked === null && !this.closed() && held?.on == null) {
      o.polyline([from, to], token("pick"), 1.4, { dash: [5, 4] });
      if (from.distanceTo(to) > 1e-9) o.label(to, metresText(from.distanceTo(to)), token("pick"));
    }
    if (held?.on != null && held.handle !== null) o.dot(held.handle, 6, token("panel"), token("pick"), 2);
    if (this.snapped !== null) o.dot(this.snapped.at, 7, "transparent", token("mark"), 2);
  }
}

/** A place pointed at in a view, as deep in it as another: what is seen flat keeps its third coordinate. */
function asDeep(place: Vector3, out: Vector3, other: Vector3 | undefined): Vector3 {
  return other === undefined ? place : place.clone().addScaledVector(out, other.dot(out) - place.dot(out));
}
