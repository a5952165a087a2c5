import { Vector3 } from "three";

import { editor, METRES, type ToolSession, type Triple, unitOf, type Values } from "../model/store";
import { format } from "../model/units";
import { alongLine, rounded } from "../scene/numbers";
import type { Overlay } from "../scene/overlay";
import type { Pointer } from "../scene/pointer";
import { token } from "../theme/theme";
import { type Handle, handle } from "./Handle";
import { fault, type Tool, type ToolPlace } from "./Tool";

const REACH = 10;
/** The bend goes in these steps, in degrees; finely in tenths. */
const STEP = 5;
/** An end is dragged no further round than this, in degrees. */
const MOST = 360;
const PIECES = 32;

/** What a bend does, in the part's axes and metres. */
interface Bent {
  readonly axis: number;
  readonly toward: number;
  readonly sign: number;
  readonly from: number;
  readonly to: number;
  readonly hold: number;
  readonly middle: Triple;
}

/** The bent line with its two ends: drag one and the part bends after it; the marks on the straight line say from where to where. */
export class BendTool implements Tool {
  private side: "from" | "to" = "to";

  private bent(session: ToolSession): Bent | null {
    if (session.box === null) return null;
    const [low, high] = session.box;
    const metres = METRES[unitOf(editor.get())];
    const { along, toward, from, to, hold } = session.values;
    const axis = "xyz".indexOf(String(along));
    const told = String(toward);
    const across = "xyz".indexOf(told.slice(-1));
    if (axis < 0 || across < 0 || across === axis) return null;
    const [start, end] = [typeof from === "number" ? from * metres : low[axis]!, typeof to === "number" ? to * metres : high[axis]!];
    if (end <= start) return null;
    const held = hold === "to" ? end : hold === "middle" ? (start + end) / 2 : start;
    return { axis, toward: across, sign: told.startsWith("-") ? -1 : 1, from: start, to: end, hold: held, middle: [0, 1, 2].map((k) => (low[k]! + high[k]!) / 2) as Triple };
  }

  /** The point of the middle line so far along, once it is bent by an angle in degrees; in the build. */
  private at(place: ToolPlace, b: Bent, along: number, angle: number): Vector3 {
    const k = (angle * Math.PI) / 180 / (b.to - b.from);
    const arc = along - b.hold;
    const p = [...b.middle] as Triple;
    if (Math.abs(k * arc) < 1e-9) p[b.axis] = along;
    else {
      p[b.axis] = b.hold + Math.sin(k * arc) / k;
      p[b.toward] = b.middle[b.toward]! + (b.sign * (1 - Math.cos(k * arc))) / k;
    }
    return new Vector3(...p).applyMatrix4(place.view.group.matrix);
  }

  private angle(session: ToolSession): number {
    return Number(session.values["angle"] ?? 0);
  }

  private straight(place: ToolPlace, b: Bent, along: number): Vector3 {
    const p = [...b.middle] as Triple;
    p[b.axis] = along;
    return new Vector3(...p).applyMatrix4(place.view.group.matrix);
  }

  /** Which ends bend: not the one that stays. */
  private free(b: Bent): ("from" | "to")[] {
    return (["from", "to"] as const).filter((side) => Math.abs(b[side] - b.hold) > 1e-12);
  }

  handleAt(place: ToolPlace, at: Pointer): Handle | null {
    const b = this.bent(place.session);
    if (b === null) return null;
    const near = (p: Vector3) => {
      const s = place.camera.project(p);
      return Math.hypot(s.x - at.x, s.y - at.y) <= REACH;
    };
    const angle = this.angle(place.session);
    for (const side of this.free(b)) if (near(this.at(place, b, b[side], angle))) return handle("end", 0, side === "to" ? 1 : -1);
    for (const side of ["from", "to"] as const) if (near(this.straight(place, b, b[side]))) return handle(side);
    return null;
  }

  press(_place: ToolPlace, pressed: Handle): void {
    this.side = pressed.kind === "from" || (pressed.kind === "end" && pressed.side < 0) ? "from" : "to";
    this.bends = pressed.kind === "end";
  }

  private bends = true;

  drag(place: ToolPlace, at: Pointer): Values {
    const b = this.bent(place.session);
    if (b === null) return {};
    if (!this.bends) {
      const metres = METRES[unitOf(editor.get())];
      const unit = this.straight(place, b, 1).sub(this.straight(place, b, 0));
      const ray = place.camera.ray(at.x, at.y);
      const origin = this.straight(place, b, 0);
      const value = rounded(alongLine(origin, unit, ray.origin, ray.direction), place.camera.pixel(origin), metres, at.fine);
      const other = (this.side === "from" ? b.to : b.from) / metres;
      return (this.side === "from" ? value < other : value > other) ? { [this.side]: value } : {};
    }
    // the bend whose end comes nearest to the pointer
    const step = at.fine ? 0.1 : STEP;
    const off = (angle: number) => {
      const s = place.camera.project(this.at(place, b, b[this.side], angle));
      return Math.hypot(s.x - at.x, s.y - at.y);
    };
    const now = this.angle(place.session);
    let best = now;
    let least = Infinity;
    for (let angle = -MOST; angle <= MOST; angle += STEP) {
      const far = off(angle) + Math.abs(angle - now) * 1e-3; // of two alike the one nearer to what is now
      if (far < least) [best, least] = [angle, far];
    }
    if (at.fine) for (let angle = best - STEP; angle <= best + STEP; angle += step) if (off(angle) < least) [best, least] = [angle, off(angle)];
    return { angle: Number(best.toFixed(1)) + 0 };
  }

  draw(place: ToolPlace, overlay: Overlay, hot: Handle | null): void {
    const b = this.bent(place.session);
    if (b === null) {
      fault(overlay, new Vector3(...(place.session.spots[0] ?? [0, 0, 0])).applyMatrix4(place.view.group.matrix));
      return;
    }
    const angle = this.angle(place.session);
    overlay.polyline([this.straight(place, b, b.from), this.straight(place, b, b.to)], token("ink"), 1, { dash: [5, 4] });
    const line = Array.from({ length: PIECES + 1 }, (_, i) => this.at(place, b, b.from + ((b.to - b.from) * i) / PIECES, angle));
    overlay.polyline(line, token("pick"), 2.4);
    for (const side of ["from", "to"] as const) {
      const p = this.straight(place, b, b[side]);
      overlay.dot(p, hot?.kind === side ? 6 : 4, token("panel"), token("ink"), 1.6);
    }
    const free = this.free(b);
    for (const side of free) overlay.dot(this.at(place, b, b[side], angle), hot?.kind === "end" && hot.side === (side === "to" ? 1 : -1) ? 8 : 6.5, token("panel"), token("pick"));
    const last = free[free.length - 1] ?? "to";
    const end = this.at(place, b, b[last], angle);
    fault(overlay, end);
    const radius = angle === 0 ? null : (b.to - b.from) / Math.abs((angle * Math.PI) / 180);
    overlay.label(end, `${format(angle)}°${radius === null ? "" : `, radius ${format(Number((radius / METRES[unitOf(editor.get())]).toPrecision(4)))}`}`, token("pick"));
  }
}
