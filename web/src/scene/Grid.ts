import { BufferAttribute, BufferGeometry, Color, LineSegments, type Vector3 } from "three";

import { BASES } from "../model/views";
import { token } from "../theme/theme";
import { lineMaterial } from "./materials";
import { niceStep } from "./numbers";
import type { Pane } from "./Sheet";

/** Lines at least so many pixels apart. */
const APART = 26;
/** Behind everything a flat view shows, in metres from its middle. */
const BEHIND = 450;
const MOST = 240;

export interface Ruled {
  /** metres between lines */
  readonly step: number;
  readonly lines: Float32Array;
}

/** The grid of a flat view in real units, or of the floor in 3D. Its step follows the zoom. */
export class Grid {
  readonly object = new LineSegments(new BufferGeometry(), lineMaterial());
  private key = "";
  private held: Ruled = { step: 1, lines: new Float32Array(0) };

  constructor() {
    this.object.frustumCulled = false;
    this.object.renderOrder = -30;
  }

  /** Make ready for a pane. `reach` is how far the floor goes in 3D, in metres. */
  update(pane: Pane, centre: Vector3, reach: number, metres: number, night: boolean): void {
    const { camera } = pane;
    const flat = pane.view !== "perspective";
    const pixel = flat ? camera.pixel(centre) : (2 * reach) / 900;
    const step = ruledStep(pixel, metres);
    const key = `${pane.view} ${step} ${flat ? `${centre.toArray().join()} ${camera.width} ${camera.height} ${pixel}` : reach}`;
    if (key !== this.key) {
      this.key = key;
      this.held = { step, lines: flat ? flatLines(pane, centre, step, pixel) : floorLines(centre, reach, step) };
      this.object.geometry.setAttribute("position", new BufferAttribute(this.held.lines, 3));
    }
    const m = this.object.material;
    (m.uniforms["colour"]?.value as Color).set(token("rule"));
    const alpha = m.uniforms["alpha"];
    if (alpha !== undefined) alpha.value = night ? 0.55 : 0.75;
  }

}

/** Metres between lines where a pixel is so large: 1, 2 or 5 times a power of ten of the unit. */
export function ruledStep(pixel: number, metres: number): number {
  return niceStep((APART * pixel) / metres) * metres;
}

function flatLines(pane: Pane, centre: Vector3, step: number, pixel: number): Float32Array {
  const { right, up, eye } = BASES[pane.view as "front"];
  const out: number[] = [];
  const back = eye.clone().multiplyScalar(-BEHIND + centre.dot(eye));
  const [u0, v0] = [centre.dot(right), centre.dot(up)];
  const [w, h] = [(pane.camera.width * pixel) / 2, (pane.camera.height * pixel) / 2];
  const add = (u: number, v: number) => {
    const p = right.clone().multiplyScalar(u).addScaledVector(up, v).add(back);
    out.push(p.x, p.y, p.z);
  };
  for (let i = Math.ceil((u0 - w) / step), n = 0; i * step <= u0 + w && n < MOST; i++, n++) {
    add(i * step, v0 - h);
    add(i * step, v0 + h);
  }
  for (let i = Math.ceil((v0 - h) / step), n = 0; i * step <= v0 + h && n < MOST; i++, n++) {
    add(u0 - w, i * step);
    add(u0 + w, i * step);
  }
  return new Float32Array(out);
}

function floorLines(centre: Vector3, reach: number, step: number): Float32Array {
  const out: number[] = [];
  const many = Math.min(Math.ceil(reach / step), MOST / 2);
  const [x0, z0] = [Math.round(centre.x / step) * step, Math.round(centre.z / step) * step];
  const far = many * step;
  for (let i = -many; i <= many; i++) {
    out.push(x0 + i * step, 0, z0 - far, x0 + i * step, 0, z0 + far, x0 - far, 0, z0 + i * step, x0 + far, 0, z0 + i * step);
  }
  return new Float32Array(out);
}
