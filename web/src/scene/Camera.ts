import { Box3, OrthographicCamera, PerspectiveCamera, Quaternion, Ray, Vector2, Vector3 } from "three";

import type { ViewName } from "../model/store";
import { BASES, type Basis } from "../model/views";

/** Vertical angle of a 50 mm lens on a 24 mm high frame, in degrees. */
const LENS = (2 * Math.atan(12 / 50) * 180) / Math.PI;
/** Where the eye of a flat view stands, in metres from the middle. */
const AWAY = 500;

/** What all flat views share, so that a point stands in line in all of them. */
export class FlatFrame {
  readonly centre = new Vector3(0, 0.12, 0);
  /** metres per pixel */
  size = 0.001;
}

/** What a view looks at, and from where. */
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

  constructor(private readonly frame: FlatFrame) {
    this.flat.matrixAutoUpdate = false;
  }

  get camera(): PerspectiveCamera | OrthographicCamera {
    return this.view === "perspective" ? this.perspective : this.flat;
  }

  get isFlat(): boolean {
    return this.view !== "perspective";
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
    if (this.view !== "perspective") return this.frame.size;
    const depth = at.clone().sub(this.perspective.position).dot(this.basis().eye.negate());
    return (2 * Math.max(depth, 0.001) * Math.tan((LENS * Math.PI) / 360)) / this.height;
  }

  resize(width: number, height: number): void {
    this.width = Math.max(width, 1);
    this.height = Math.max(height, 1);
    this.update();
  }

  update(): void {
    if (this.view === "perspective") this.updatePerspective();
    else this.updateFlat(this.view);
  }

  private updatePerspective(): void {
    const p = this.perspective;
    const eye = new Vector3(Math.sin(this.yaw) * Math.cos(this.pitch), Math.sin(this.pitch), Math.cos(this.yaw) * Math.cos(this.pitch));
    p.aspect = this.width / this.height;
    p.near = this.distance / 200;
    p.far = this.distance * 200;
    p.position.copy(this.target).addScaledVector(eye, this.distance);
    p.up.set(0, 1, 0);
    p.lookAt(this.target);
    p.updateProjectionMatrix();
    p.updateMatrixWorld();
  }

  private updateFlat(view: keyof typeof BASES): void {
    const { right, up, eye } = BASES[view];
    const f = this.flat;
    f.right = (this.frame.size * this.width) / 2;
    f.left = -f.right;
    f.top = (this.frame.size * this.height) / 2;
    f.bottom = -f.top;
    f.near = 0;
    f.far = 2 * AWAY;
    f.position.copy(this.frame.centre).addScaledVector(eye, AWAY);
    f.matrix.makeBasis(right, up, eye).setPosition(f.position);
    f.matrixWorld.copy(f.matrix);
    f.matrixWorldInverse.copy(f.matrix).invert();
    f.updateProjectionMatrix();
  }

  /** Stand nearer to or farther from what 3D looks at. */
  stand(factor: number): void {
    this.distance = Math.min(Math.max(this.distance * factor, 1e-4), 1e5);
    this.update();
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

  /** Look straight against a direction at a point; only in 3D. */
  face(at: Vector3, normal: Vector3): void {
    this.pitch = Math.min(Math.max(Math.asin(Math.min(Math.max(normal.y, -1), 1)), -1.5), 1.5);
    if (Math.hypot(normal.x, normal.z) > 1e-6) this.yaw = Math.atan2(normal.x, normal.z);
    this.target.copy(at);
    this.update();
  }

  pan(dx: number, dy: number): void {
    const { right, up } = this.basis();
    const at = this.view === "perspective" ? this.target : this.frame.centre;
    const size = this.pixel(at);
    at.addScaledVector(right, -dx * size).addScaledVector(up, dy * size);
    this.update();
  }

  /** Zoom so that what lies under the pointer stays there. */
  zoom(factor: number, x: number, y: number): void {
    const before = this.onPlane(x, y);
    if (this.view === "perspective") this.distance = Math.min(Math.max(this.distance * factor, 1e-4), 1e5);
    else this.frame.size = Math.min(Math.max(this.frame.size * factor, 1e-8), 100);
    this.update();
    const after = this.onPlane(x, y);
    (this.view === "perspective" ? this.target : this.frame.centre).add(before).sub(after);
    this.update();
  }

  /** The point under a pixel on the plane through the target, or another point, that faces the eye. */
  onPlane(x: number, y: number, through?: Vector3): Vector3 {
    const at = through ?? (this.view === "perspective" ? this.target : this.frame.centre);
    return this.onAnyPlane(x, y, at, this.basis().eye) ?? at.clone();
  }

  /** Where the ray through a pixel meets a plane; null where they run side by side. */
  onAnyPlane(x: number, y: number, at: Vector3, normal: Vector3): Vector3 | null {
    const ray = this.ray(x, y);
    const along = ray.direction.dot(normal);
    if (Math.abs(along) < 1e-6) return null;
    const t = at.clone().sub(ray.origin).dot(normal) / along;
    return ray.origin.clone().addScaledVector(ray.direction, t);
  }

  ray(x: number, y: number): Ray {
    if (this.view === "perspective") {
      const ndc = new Vector2((x / this.width) * 2 - 1, 1 - (y / this.height) * 2);
      const origin = this.perspective.position.clone();
      const direction = new Vector3(ndc.x, ndc.y, 0.5).unproject(this.perspective).sub(origin).normalize();
      return new Ray(origin, direction);
    }
    const { right, up, eye } = BASES[this.view];
    const origin = this.frame.centre
      .clone()
      .addScaledVector(right, (x - this.width / 2) * this.frame.size)
      .addScaledVector(up, (this.height / 2 - y) * this.frame.size)
      .addScaledVector(eye, AWAY);
    return new Ray(origin, eye.clone().negate());
  }

  /** Pixels of a point of the build; z is its depth, beyond ±1 when not in view. */
  project(point: Vector3): Vector3 {
    const p = point.clone().project(this.camera);
    return new Vector3(((p.x + 1) / 2) * this.width, ((1 - p.y) / 2) * this.height, p.z);
  }

  /** Stand so far off that all of a box is seen in 3D. */
  fit(box: Box3): void {
    this.target.copy(box.getCenter(new Vector3()));
    const radius = Math.max(box.getSize(new Vector3()).length() / 2, 1e-4);
    this.distance = (radius / Math.sin((LENS * Math.PI) / 360)) * Math.max(1, this.height / this.width) * 1.15;
    this.update();
  }

  /** Scale of a flat view on a screen of 96 pixels to the inch, as "1:4"; null in 3D. */
  scaleText(): string | null {
    if (this.view === "perspective") return null;
    const paper = 0.0254 / 96;
    const ratio = this.frame.size / paper;
    return ratio >= 1 ? `1:${Number(ratio.toPrecision(2))}` : `${Number((1 / ratio).toPrecision(2))}:1`;
  }
}
