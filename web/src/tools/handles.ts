import { Vector3 } from "three";

import type { Camera } from "../scene/Camera";
import type { Overlay } from "../scene/overlay";
import type { Pointer } from "../scene/pointer";
import { token } from "../theme/theme";
import { AXES, type Axis, type Handle, handle, sameHandle } from "./Handle";

const PLACES: readonly Axis[] = [0, 1, 2];
/** Axes are told by letter and line type. */
export const DASHES: readonly number[][] = [[], [10, 3, 2, 3], [5, 4]];

/** Distances from the middle, in pixels. */
const TIP = 78;
const COLLAR = 102;
const BAR = 54;
const PATCH: readonly [number, number] = [15, 29];
const PLANE_BAR = 40;
const ARC = 90;
const EVEN = 46;
/** Pixels from a bar at which it is taken hold of: beside it a press picks. */
const BARS = 4;
/** Lines above the middle at which a label stands over the handles. */
export const OVER = -4;
/** The bar at the top of a view is so high. */
const HEAD = 32;
/** Arcs stand between these angles of their plane, clear of the patches. */
const SPAN: readonly [number, number] = [100, 170];
/** An axis seen so nearly end on has no handle, as a share of its full length. */
const LEAST = 0.28;

/** Where the set of handles stands: its middle and its axes, unit vectors of the build. */
export interface Stand {
  readonly origin: Vector3;
  readonly axes: readonly [Vector3, Vector3, Vector3];
  /** what dragging a collar makes: new geometry along an axis or within, a copy along an axis, or nothing */
  readonly makes: "geometry" | "copy" | null;
  /** whether there is anything to turn and scale, not just to move */
  readonly whole: boolean;
}

interface Flat {
  readonly x: number;
  readonly y: number;
}

/** The set, laid out in the pixels of one pane. */
class Laid {
  readonly o: Flat;
  private readonly size: number;
  /** as they point here: inwards where the view ends before the handle would */
  private readonly axes: readonly Vector3[];

  constructor(
    private readonly stand: Stand,
    private readonly camera: Camera,
  ) {
    this.o = camera.project(stand.origin);
    this.size = camera.pixel(stand.origin);
    this.axes = stand.axes.map((axis) => {
      const reach = (way: number) => this.at(axis.clone().multiplyScalar(way * (COLLAR + 8)));
      return this.holds(reach(1)) || !this.holds(reach(-1)) ? axis : axis.clone().negate();
    });
  }

  /** Whether a place is to be seen, below the bar of the view and above its title. */
  private holds({ x, y }: Flat): boolean {
    return x >= 0 && y >= HEAD && x <= this.camera.width && y <= this.camera.height - HEAD;
  }

  at(offset: Vector3): Flat {
    return this.camera.project(this.stand.origin.clone().addScaledVector(offset, this.size));
  }

  axis(i: number, pixels: number): Flat {
    return this.at((this.axes[i] as Vector3).clone().multiplyScalar(pixels));
  }

  corner(i: number, j: number, a: number, b: number): Flat {
    return this.at((this.axes[i] as Vector3).clone().multiplyScalar(a).addScaledVector(this.axes[j] as Vector3, b));
  }

  /** Whether an axis runs enough across the view to be taken hold of. */
  lies(i: number): boolean {
    const tip = this.axis(i, TIP);
    return Math.hypot(tip.x - this.o.x, tip.y - this.o.y) > TIP * LEAST;
  }

  /** Whether the plane across an axis is open enough to the eye. */
  opens(i: number): boolean {
    const { eye } = this.camera.basis();
    return Math.abs(eye.dot(this.axes[i] as Vector3)) > LEAST;
  }

  arc(i: number): Flat[] {
    const [j, k] = [(i + 1) % 3, (i + 2) % 3];
    const out: Flat[] = [];
    for (let a = SPAN[0]; a <= SPAN[1]; a += 7) {
      const angle = (a * Math.PI) / 180;
      out.push(this.corner(j, k, Math.cos(angle) * ARC, Math.sin(angle) * ARC));
    }
    return out;
  }

  patch(i: number): Flat[] {
    const [j, k] = [(i + 1) % 3, (i + 2) % 3];
    const [a, b] = PATCH;
    return [this.corner(j, k, a, a), this.corner(j, k, b, a), this.corner(j, k, b, b), this.corner(j, k, a, b)];
  }

  /** Ends of the bar across an axis. */
  bar(i: number): [Flat, Flat] {
    const m = this.axis(i, BAR);
    const size = Math.hypot(m.x - this.o.x, m.y - this.o.y) || 1;
    const [nx, ny] = [(-(m.y - this.o.y) / size) * 7, ((m.x - this.o.x) / size) * 7];
    return [{ x: m.x + nx, y: m.y + ny }, { x: m.x - nx, y: m.y - ny }];
  }

  planeBar(i: number): [Flat, Flat] {
    const [j, k] = [(i + 1) % 3, (i + 2) % 3];
    return [this.corner(j, k, PLANE_BAR, PLANE_BAR - 12), this.corner(j, k, PLANE_BAR - 12, PLANE_BAR)];
  }

  /** The even bar stands in the plane of the view, to the lower left. */
  even(pixels: number): [Flat, Flat] {
    const m = { x: this.o.x - pixels * 0.7, y: this.o.y + pixels * 0.7 };
    return [{ x: m.x - 5, y: m.y - 5 }, { x: m.x + 5, y: m.y + 5 }];
  }
}

function off(at: Pointer, a: Flat, b: Flat): number {
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const t = Math.min(Math.max(((at.x - a.x) * dx + (at.y - a.y) * dy) / (dx * dx + dy * dy || 1), 0), 1);
  return Math.hypot(a.x + t * dx - at.x, a.y + t * dy - at.y);
}

function near(at: Pointer, p: Flat, reach: number): boolean {
  return Math.hypot(p.x - at.x, p.y - at.y) <= reach;
}

function inside(at: Pointer, ring: readonly Flat[]): boolean {
  let in_ = false;
  ring.forEach((a, i) => {
    const b = ring[(i + 1) % ring.length] as Flat;
    if (a.y > at.y !== b.y > at.y && at.x < ((b.x - a.x) * (at.y - a.y)) / (b.y - a.y) + a.x) in_ = !in_;
  });
  return in_;
}

/** The handle of the common set at a pixel; null beside all of them. */
export function handleAt(stand: Stand, camera: Camera, at: Pointer): Handle | null {
  const laid = new Laid(stand, camera);
  if (near(at, laid.o, 9)) return handle("free");
  const axes = PLACES.filter((i) => laid.lies(i));
  const planes = PLACES.filter((i) => laid.opens(i));
  if (stand.makes !== null) {
    const made = axes.find((i) => near(at, laid.axis(i, COLLAR), 7));
    if (made !== undefined) return handle("extrude", made);
    if (stand.makes === "geometry" && near(at, midway(laid.even(EVEN + 20)), 8)) return handle("inset");
  }
  if (stand.whole) {
    if (off(at, ...laid.even(EVEN)) <= BARS) return handle("even");
    const bar = axes.find((i) => off(at, ...laid.bar(i)) <= BARS);
    if (bar !== undefined) return handle("stretch", bar);
    const wide = planes.find((i) => off(at, ...laid.planeBar(i)) <= BARS);
    if (wide !== undefined) return handle("spread", wide);
  }
  const patch = planes.find((i) => inside(at, laid.patch(i)));
  if (patch !== undefined) return handle("plane", patch);
  const arrow = axes.find((i) => off(at, laid.axis(i, 12), laid.axis(i, TIP + 9)) <= 6);
  if (arrow !== undefined) return handle("move", arrow);
  if (!stand.whole) return null;
  const arc = planes.find((i) => {
    const points = laid.arc(i);
    return points.some((p, n) => n > 0 && off(at, points[n - 1] as Flat, p) <= 6);
  });
  return arc === undefined ? null : handle("turn", arc);
}

/** The angle of the pointer in the plane of an arc, in degrees; 0 for other handles and where the plane is seen edge on. */
export function angleAt(stand: Stand, camera: Camera, pressed: Handle, at: Pointer): number {
  if (pressed.kind !== "turn") return 0;
  const i = pressed.axis;
  const [u, v, n] = [stand.axes[(i + 1) % 3], stand.axes[(i + 2) % 3], stand.axes[i]] as [Vector3, Vector3, Vector3];
  const hit = camera.onAnyPlane(at.x, at.y, stand.origin, n);
  if (hit === null) return 0;
  hit.sub(stand.origin);
  return (Math.atan2(hit.dot(v), hit.dot(u)) * 180) / Math.PI;
}

export function drawHandles(stand: Stand, o: Overlay, hot: Handle | null): void {
  const laid = new Laid(stand, o.camera);
  const c = o.context;
  const ink = token("ink");
  const isHot = (h: Handle | null) => h !== null && sameHandle(hot, h);
  const colour = (h: Handle | null) => (isHot(h) ? token("pick") : ink);
  const stroke = (points: readonly Flat[], h: Handle | null, width: number, dash: number[] = [], close = false) => {
    c.beginPath();
    points.forEach((p, i) => (i === 0 ? c.moveTo(p.x, p.y) : c.lineTo(p.x, p.y)));
    if (close) c.closePath();
    c.setLineDash(dash);
    c.lineWidth = isHot(h) ? width + 1 : width;
    c.strokeStyle = colour(h);
    c.stroke();
    c.setLineDash([]);
  };
  const ring = (p: Flat, h: Handle) => {
    c.beginPath();
    c.arc(p.x, p.y, 5, 0, 2 * Math.PI);
    c.fillStyle = token("paper");
    c.fill();
    c.lineWidth = isHot(h) ? 3 : 2;
    c.strokeStyle = token("pick");
    c.stroke();
  };
  for (const i of PLACES) {
    if (laid.opens(i)) {
      const patch = laid.patch(i);
      c.globalAlpha = 0.16;
      c.beginPath();
      patch.forEach((p, n) => (n === 0 ? c.moveTo(p.x, p.y) : c.lineTo(p.x, p.y)));
      c.closePath();
      c.fillStyle = colour(handle("plane", i));
      c.fill();
      c.globalAlpha = 1;
      stroke(patch, handle("plane", i), 1, [], true);
      if (stand.whole) {
        stroke(laid.planeBar(i), handle("spread", i), 2.4);
        stroke(laid.arc(i), handle("turn", i), 1.5, DASHES[i]);
      }
    }
    if (!laid.lies(i)) continue;
    const tip = laid.axis(i, TIP);
    arrow(o, laid.axis(i, 8), tip, colour(handle("move", i)), DASHES[i] as number[], isHot(handle("move", i)) ? 3 : 1.8, AXES[i]);
    if (stand.whole) stroke(laid.bar(i), handle("stretch", i), 3);
    if (stand.makes !== null) ring(laid.axis(i, COLLAR), handle("extrude", i));
  }
  if (stand.whole) {
    c.globalAlpha = 0.5;
    stroke([laid.o, midway(laid.even(EVEN))], null, 1, [2, 3]);
    c.globalAlpha = 1;
    stroke(laid.even(EVEN), handle("even"), 3);
  }
  if (stand.makes === "geometry") ring(midway(laid.even(EVEN + 20)), handle("inset"));
  o.dot(stand.origin, isHot(handle("free")) ? 7 : 5.5, token("panel"), token("pick"));
}

function midway([a, b]: [Flat, Flat]): Flat {
  return { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
}

/** A slim arrow with its letter beside the tip. */
function arrow(o: Overlay, a: Flat, b: Flat, colour: string, dash: number[], width: number, letter: string): void {
  const c = o.context;
  const size = Math.hypot(b.x - a.x, b.y - a.y) || 1;
  const [ux, uy] = [(b.x - a.x) / size, (b.y - a.y) / size];
  c.beginPath();
  c.moveTo(a.x, a.y);
  c.lineTo(b.x, b.y);
  c.setLineDash(dash);
  c.lineWidth = width;
  c.strokeStyle = colour;
  c.stroke();
  c.setLineDash([]);
  c.beginPath();
  c.moveTo(b.x + ux * 9, b.y + uy * 9);
  c.lineTo(b.x - uy * 4, b.y + ux * 4);
  c.lineTo(b.x + uy * 4, b.y - ux * 4);
  c.closePath();
  c.fillStyle = colour;
  c.fill();
  o.text(b.x + ux * 4 - uy * 13, b.y + uy * 4 + ux * 13, letter, colour, "center");
}
