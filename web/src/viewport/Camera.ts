import { Box3, OrthographicCamera, PerspectiveCamera, Quaternion, Ray, Vector2, Vector3 } from "three";

import type { ViewName } from "../state/store";
import { BASES, type Basis } from "./views";

/** Vertical angle of a 50 mm lens on a 24 mm high frame, in degrees. */
const LENS = (2 * Math.atan(12 / 50) * 180) / Math.PI;

/** What the view looks at, and from where. Perspective and the flat views keep their own place. */
export class Camera {
  readonly perspective = new PerspectiveCamera(LENS, 1, 0.001, 1000);
  readonly flat = new OrthographicCamera();
  view: ViewName = "perspective";
  width = 1;
  height = 1;

  private target = new Vector3(0, 0.12, 0);
  private distance = 1.2;
  private yaw = 0.6;
  private pitch = 0.35;
  private flatTarget = new Vector3();
  /** metres seen from top to bottom in a flat view */
  private span = 0.6;

  get camera(): PerspectiveCamera | OrthographicCamera {
    return this.view === "perspective" ? this.perspective : this.flat;
  }

  /** Right, up and towards the eye, of the view as it is. */
  basis(): Basis {
    if (this.view !== "perspective") return BASES[this.view];
    const q = this.perspective.getWorldQuaternion(new Quaternion());
    return {
      right: new Vector3(1, 0, 0).applyQuaternion(q),
      up: new Vector3(0, 1, 0).applyQuaternion(q),
      eye: new Vector3(0, 0, 1).applyQuaternion(q),
    };
  }

  /** Metres per pixel at a point. */
  pixel(at: Vector3): number {
    if (this.view !== "perspective") return this.span / this.height;
    const depth = at.clone().sub(this.perspective.position).dot(this.basis().eye.negate());
    return (2 * Math.max(depth, 0.001) * Math.tan((LENS * Math.PI) / 360)) / this.height;
  }

  resize(width: number, height: number): void {
    this.width = Math.max(width, 1);
    this.height = Math.max(height, 1);
    this.update();
  }

  update(): void {
    const aspect = this.width / this.height;
    const p = this.perspective;
    const eye = new Vector3(
      Math.sin(this.yaw) * Math.cos(this.pitch),
      Math.sin(this.pitch),
      Math.cos(this.yaw) * Math.cos(this.pitch),
    );
    p.aspect = aspect;
    p.near = this.distance / 200;
    p.far = this.distance * 200;
    p.position.copy(this.target).addScaledVector(eye, this.distance);
    p.up.set(0, 1, 0);
    p.lookAt(this.target);
    p.updateProjectionMatrix();
    p.updateMatrixWorld();
    if (this.view === "perspective") return;
    const { right, up, eye: towards } = BASES[this.view];
    const f = this.flat;
    f.top = this.span / 2;
    f.bottom = -this.span / 2;
    f.right = (this.span * aspect) / 2;
    f.left = -f.right;
    f.near = -1000;
    f.far = 1000;
    f.position.copy(this.flatTarget).addScaledVector(towards, 1);
    f.up.copy(up);
    f.matrixWorld.makeBasis(right, up, towards).setPosition(f.position);
    f.matrixAutoUpdate = false;
    f.matrix.copy(f.matrixWorld);
    f.matrixWorldInverse.copy(f.matrixWorld).invert();
    f.updateProjectionMatrix();
  }

  look(view: ViewName): void {
    this.view = view;
    this.update();
  }

  turn(dx: number, dy: number): void {
    this.yaw -= dx * 0.008;
    this.pitch = Math.min(Math.max(this.pitch + dy * 0.008, -1.55), 1.55);
    this.update();
  }

  pan(dx: number, dy: number): void {
    const { right, up } = this.basis();
    const at = this.view === "perspective" ? this.target : this.flatTarget;
    const size = this.pixel(at);
    at.addScaledVector(right, -dx * size).addScaledVector(up, dy * size);
    this.update();
  }

  /** Zoom so that what lies under the pointer stays there. */
  zoom(factor: number, x: number, y: number): void {
    const before = this.onPlane(x, y);
    if (this.view === "perspective") this.distance = Math.min(Math.max(this.distance * factor, 1e-4), 1e5);
    else this.span = Math.min(Math.max(this.span * factor, 1e-5), 1e5);
    this.update();
    const after = this.onPlane(x, y);
    (this.view === "perspective" ? this.target : this.flatTarget).add(before).sub(after);
    this.update();
  }

  /** The point under a pixel on the plane through the target that faces the eye. */
  onPlane(x: number, y: number, through?: Vector3): Vector3 {
    const at = through ?? (this.view === "perspective" ? this.target : this.flatTarget);
    const ray = this.ray(x, y);
    const { eye } = this.basis();
    const along = ray.direction.dot(eye);
    const t = at.clone().sub(ray.origin).dot(eye) / (Math.abs(along) < 1e-9 ? -1e-9 : along);
    return ray.origin.clone().addScaledVector(ray.direction, t);
  }

  ray(x: number, y: number): Ray {
    const ndc = new Vector2((x / this.width) * 2 - 1, 1 - (y / this.height) * 2);
    if (this.view === "perspective") {
      const origin = this.perspective.position.clone();
      const direction = new Vector3(ndc.x, ndc.y, 0.5).unproject(this.perspective).sub(origin).normalize();
      return new Ray(origin, direction);
    }
    const { right, up, eye } = BASES[this.view];
    const origin = this.flatTarget
      .clone()
      .addScaledVector(right, (ndc.x * this.span * this.width) / this.height / 2)
      .addScaledVector(up, (ndc.y * this.span) / 2)
      .addScaledVector(eye, 500);
    return new Ray(origin, eye.clone().negate());
  }

  /** Pixels of a point of the build; z is its depth, beyond ±1 when not in view. */
  project(point: Vector3): Vector3 {
    const p = point.clone().project(this.camera);
    return new Vector3(((p.x + 1) / 2) * this.width, ((1 - p.y) / 2) * this.height, p.z);
  }

  /** Show all of a box. */
  frame(box: Box3): void {
    if (box.isEmpty()) return;
    const centre = box.getCenter(new Vector3());
    const size = box.getSize(new Vector3());
    this.target.copy(centre);
    this.flatTarget.copy(centre);
    const radius = Math.max(size.length() / 2, 1e-4);
    this.distance = (radius / Math.sin((LENS * Math.PI) / 360)) * Math.max(1, this.height / this.width) * 1.15;
    if (this.view !== "perspective") {
      const { right, up } = BASES[this.view];
      const across = Math.abs(size.dot(new Vector3(Math.abs(right.x), Math.abs(right.y), Math.abs(right.z))));
      const tall = Math.abs(size.dot(new Vector3(Math.abs(up.x), Math.abs(up.y), Math.abs(up.z))));
      this.span = Math.max(tall, (across * this.height) / this.width, 1e-4) * 1.35;
    } else {
      this.span = Math.max(size.y, size.x, size.z) * 1.5;
    }
    this.update();
  }

  /** Scale of a flat view on a screen of 96 pixels to the inch, as "1:4"; null in 3D. */
  scaleText(): string | null {
    if (this.view === "perspective") return null;
    const paper = 0.0254 / 96;
    const ratio = this.span / this.height / paper;
    return ratio >= 1 ? `1:${Number(ratio.toPrecision(2))}` : `${Number((1 / ratio).toPrecision(2))}:1`;
  }
}
