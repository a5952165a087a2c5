import { Matrix4, Ray, Vector3 } from "three";

import { radiusOf, type Stroke } from "../model/shaping/strokes";
import { editor, METRES, type Triple, unitOf, type Values } from "../model/store";
import { shareAt } from "../model/shaping/softWeights";
import { surfaceAt } from "../scene/hit";
import type { Hull } from "../scene/Hull";
import type { Overlay } from "../scene/overlay";
import type { Pointer } from "../scene/pointer";
import { token } from "../theme/theme";
import type { Handle } from "./Handle";
import { fault, type Tool, type ToolPlace } from "./Tool";

/** Samples stand this share of the radius apart. */
const APART = 0.2;
/** Rings inside the rim stand where the weight is so much. */
const WEIGHTS = [0.25, 0.5, 0.75];
const ROUND = 48;

interface Ring {
  readonly at: Vector3;
  readonly normal: Vector3;
  /** the surface it lies on; a grab takes it off */
  readonly hull: Hull | null;
}

interface Drawn {
  /** the surface as the stroke began: samples lie on it, however it changes under the brush */
  readonly hull: Hull | null;
  readonly samples: number[][];
  last: Vector3;
  readonly begin: Vector3;
  move: Vector3 | null;
}

/** Strokes over the surface of the part at work. The ring that shows what is reached lies on it. */
export class BrushTool implements Tool {
  private ring: Ring | null = null;
  private drawn: Drawn | null = null;

  handleAt(): Handle | null {
    return null;
  }

  press(): void {}

  drag(): Values {
    return {};
  }

  /** A stroke begins where the part lies under the pointer; whether it does. */
  begin(place: ToolPlace, at: Pointer): Values | null {
    const hull = place.view.picking(place.sight.look);
    const hit = surfaceAt(at.x, at.y, place.view, place.sight, hull);
    if (hit === null) return null;
    this.ring = { ...hit, hull };
    this.drawn = { hull, samples: [this.sample(hit.at, at)], last: hit.at, begin: hit.at, move: null };
    return this.values(place);
  }

  /** It goes on; null where there is nothing new. */
  go(place: ToolPlace, at: Pointer): Values | null {
    const drawn = this.drawn;
    if (drawn === null) return null;
    if (place.session.values["tool"] === "grab") {
      drawn.move = this.grabbed(place, drawn.begin, at);
      this.ring = this.ring === null ? null : { ...this.ring, at: drawn.begin.clone().add(drawn.move), hull: null };
      return this.values(place);
    }
    const hit = surfaceAt(at.x, at.y, place.view, place.sight, drawn.hull);
    if (hit === null) return null;
    this.ring = { ...hit, hull: drawn.hull };
    if (hit.at.distanceTo(drawn.last) < APART * radiusOf(place.session)) return null;
    drawn.last = hit.at;
    drawn.samples.push(this.sample(hit.at, at));
    return this.values(place);
  }

  end(): void {
    this.drawn = null;
  }

  /** How far what was grabbed went: in the plane that faces the view, so that a flat view moves in its own plane alone. */
  private grabbed(place: ToolPlace, begin: Vector3, at: Pointer): Vector3 {
    const from = begin.clone().applyMatrix4(place.view.group.matrix);
    const to = place.camera.onPlane(at.x, at.y, from);
    return to.applyMatrix4(new Matrix4().copy(place.view.group.matrix).invert()).sub(begin);
  }

  private sample(at: Vector3, pointer: Pointer): number[] {
    const metres = METRES[unitOf(editor.get())];
    return [...at.toArray().map((v) => Number((v / metres).toFixed(6)) + 0), Number((pointer.pressure ?? 1).toFixed(3))];
  }

  private values(place: ToolPlace): Values {
    const drawn = this.drawn as Drawn;
    const metres = METRES[unitOf(editor.get())];
    const move = (drawn.move ?? new Vector3()).toArray().map((v) => Number((v / metres).toFixed(6)) + 0) as Triple;
    const stroke: Stroke = { points: [...drawn.samples], ...(place.session.values["tool"] === "grab" ? { move } : {}) };
    return { strokes: [stroke] as never };
  }

  hover(place: ToolPlace, at: Pointer): Values | null {
    const hull = place.view.picking(place.sight.look);
    const hit = surfaceAt(at.x, at.y, place.view, place.sight, hull);
    this.ring = hit === null ? null : { ...hit, hull };
    return null;
  }

  draw(place: ToolPlace, overlay: Overlay): void {
    const { ring } = this;
    if (ring === null) return;
    const radius = radiusOf(place.session);
    const { matrix } = place.view.group;
    this.circle(overlay, matrix, ring, radius, token("pick"), 1.8);
    const fullness = Number(place.session.values["fullness"] ?? 0.5);
    for (const weight of WEIGHTS) {
      overlay.context.globalAlpha = 0.3 + 0.5 * weight;
      this.circle(overlay, matrix, ring, radius * shareAt(weight, fullness), token("pick"), 1);
    }
    overlay.context.globalAlpha = 1;
    const mirror = "xyz".indexOf(String(place.session.values["mirror"]));
    if (mirror >= 0) {
      const flip = (v: Vector3) => v.clone().setComponent(mirror, -v.getComponent(mirror));
      overlay.context.globalAlpha = 0.5;
      this.circle(overlay, matrix, { at: flip(ring.at), normal: flip(ring.normal), hull: ring.hull }, radius, token("pick"), 1.4);
      overlay.context.globalAlpha = 1;
    }
    fault(overlay, ring.at.clone().applyMatrix4(matrix));
  }

  private circle(overlay: Overlay, matrix: Matrix4, { at, normal, hull }: Ring, radius: number, colour: string, width: number): void {
    const other = Math.abs(normal.y) < 0.9 ? new Vector3(0, 1, 0) : new Vector3(1, 0, 0);
    const u = new Vector3().crossVectors(normal, other).normalize();
    const v = new Vector3().crossVectors(normal, u).normalize();
    const points = Array.from({ length: ROUND }, (_, i) => {
      const turn = (2 * Math.PI * i) / ROUND;
      const flat = at.clone().addScaledVector(u, radius * Math.cos(turn)).addScaledVector(v, radius * Math.sin(turn));
      return onto(flat, normal, radius, hull).applyMatrix4(matrix);
    });
    overlay.polyline(points, colour, width, { close: true });
  }
}

/** A point beside the surface put down onto it along a normal, where it lies near. */
function onto(point: Vector3, normal: Vector3, radius: number, hull: Hull | null): Vector3 {
  if (hull === null) return point;
  const ray = new Ray(point.clone().addScaledVector(normal, radius), normal.clone().negate());
  const off = hull.first(ray);
  return off < 2.2 * radius ? ray.at(off, new Vector3()) : point;
}
