import { Matrix3, Vector3 } from "three";

import { editor, METRES, type Triple, unitOf } from "../model/store";
import type { Camera } from "../scene/Camera";
import { alongLine, rounded } from "../scene/numbers";
import type { Pointer } from "../scene/pointer";
import { snapCoordinate, type Snapped, snapping, type SnapTargets } from "../scene/snap";
import type { Handle } from "./Handle";

/** A drag of an arrow, a patch or the middle knob, told along three axes. */
export class MoveDrag {
  /** what the last step snapped to, to be shown */
  snapped: Snapped | null = null;
  private readonly grabbed: Vector3;
  private readonly inverse: Matrix3;

  /**
   * @param handle of kind free, move or plane
   * @param axes what one metre along each axis is in the build
   * @param origin where the handles stood when the drag began, in the build
   * @param own points of what is dragged, where they stood: they too are brought onto targets
   * @param base the same along the axes, in metres: what the grid is laid through; null lays it through the start
   */
  constructor(
    private readonly handle: Handle,
    private readonly axes: readonly [Vector3, Vector3, Vector3],
    private readonly origin: Vector3,
    private readonly base: Triple | null,
    private readonly targets: SnapTargets,
    camera: Camera,
    at: Pointer,
    private readonly own: readonly Vector3[] = [],
  ) {
    this.inverse = new Matrix3().set(...(columns(axes) as Parameters<Matrix3["set"]>)).invert();
    this.grabbed = this.follow(camera, at);
  }

  /** The point of the build that the pointer stands for. */
  private follow(camera: Camera, at: Pointer): Vector3 {
    if (this.handle.kind === "free") return camera.onPlane(at.x, at.y, this.origin);
    const axis = this.axes[this.handle.axis];
    if (this.handle.kind === "move") {
      const ray = camera.ray(at.x, at.y);
      return this.origin.clone().addScaledVector(axis, alongLine(this.origin, axis, ray.origin, ray.direction));
    }
    const [a, b] = [this.axes[(this.handle.axis + 1) % 3] as Vector3, this.axes[(this.handle.axis + 2) % 3] as Vector3];
    return camera.onAnyPlane(at.x, at.y, this.origin, new Vector3().crossVectors(a, b).normalize()) ?? this.origin.clone();
  }

  /** Which components the handle may change. */
  private frees(k: number): boolean {
    const { kind, axis } = this.handle;
    return kind === "free" || (kind === "move" ? k === axis : k !== axis);
  }

  /** Moved so far along each axis since the drag began, in metres. */
  by(camera: Camera, at: Pointer): Triple {
    const snaps = snapping(at.invert);
    const pixel = camera.pixel(this.origin);
    const metres = METRES[unitOf(editor.get())];
    const tidy = (v: number) => Number((v / metres).toFixed(6)) * metres;
    this.snapped = snaps ? this.targets.nearest(at.x, at.y, camera) : null;
    if (this.snapped !== null) {
      const way = this.snapped.at.clone().sub(this.origin);
      // in the plane of a flat view a target tells nothing of depth
      if (this.handle.kind === "free" && camera.isFlat) way.addScaledVector(camera.basis().eye, -way.dot(camera.basis().eye));
      return this.told(way, tidy);
    }
    const way = this.follow(camera, at).sub(this.grabbed);
    const met = snaps && this.own.length > 0 ? this.targets.nearestOf(this.own, this.along(way), camera) : null;
    if (met !== null) {
      this.snapped = met.target;
      const onto = met.target.at.clone().sub(met.own);
      if (this.handle.kind === "free" && camera.isFlat) onto.addScaledVector(camera.basis().eye, -onto.dot(camera.basis().eye));
      return this.told(onto, tidy);
    }
    return this.told(way, (v, k) => {
      const base = this.base?.[k] ?? 0;
      if (!snaps) return rounded(v, pixel, metres, at.fine) * metres;
      // positions come as single floats; what is snapped to is a round number of the unit
      return tidy(snapCoordinate(base + v, pixel) - base);
    });
  }

  /** A way as far as the handle frees it. */
  private along(way: Vector3): Vector3 {
    const free = this.told(way, (v) => v);
    return this.axes.reduce((sum, axis, k) => sum.addScaledVector(axis, free[k] as number), new Vector3());
  }

  private told(way: Vector3, round: (metres: number, axis: number) => number): Triple {
    const along = way.applyMatrix3(this.inverse);
    return [0, 1, 2].map((k) => {
      const v = along.getComponent(k);
      return this.frees(k) && Math.abs(v) > 1e-12 ? round(v, k) : 0;
    }) as Triple;
  }
}

/** Three columns, row by row. */
function columns(axes: readonly Vector3[]): number[] {
  return [0, 1, 2].flatMap((row) => axes.map((a) => a.getComponent(row)));
}
