import { Box3, Vector3 } from "three";

import { editor, METRES, unitOf, type Section } from "../state/store";
import { metresText } from "../state/units";
import { token } from "../theme/theme";
import { alongLine, rounded, type Pointer } from "../tools/Tool";
import type { MeshData } from "../api/packets";
import type { Camera } from "./Camera";
import { CUT_PLANE, setCutting } from "./materials";
import type { Overlay } from "./overlay";
import type { PartView } from "./PartView";

const AXES = ["x", "y", "z"] as const;
const REACH = 8;

/** The direction that is cut away. */
function outward(section: Section): Vector3 {
  return new Vector3().setComponent(section.axis, section.below ? -1 : 1);
}

/** Tell the shaders. */
export function applySection(section: Section | null): void {
  setCutting(section !== null);
  if (section === null) CUT_PLANE.set(0, 0, 0, 1);
  else {
    const n = outward(section);
    CUT_PLANE.set(n.x, n.y, n.z, n.getComponent(section.axis) * section.at);
  }
}

export function isCutAway(point: Vector3, section: Section | null): boolean {
  return section !== null && (section.below ? point.getComponent(section.axis) < section.at - 1e-9 : point.getComponent(section.axis) > section.at + 1e-9);
}

/** Where a plane cuts a mesh: pairs of points in the build. For drawing only. */
function cutLines(mesh: MeshData, view: PartView, section: Section): Vector3[] {
  const e = view.group.matrix.elements as number[];
  const k = section.axis;
  const p = mesh.positions;
  const height = new Float32Array(p.length / 3);
  for (let v = 0; v < height.length; v++) {
    height[v] = e[k]! * p[3 * v]! + e[4 + k]! * p[3 * v + 1]! + e[8 + k]! * p[3 * v + 2]! + e[12 + k]! - section.at;
  }
  const t = mesh.shape.triangles;
  const out: Vector3[] = [];
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [t[i]!, t[i + 1]!, t[i + 2]!];
    const [ha, hb, hc] = [height[a]! > 0, height[b]! > 0, height[c]! > 0];
    if (ha === hb && hb === hc) continue;
    for (const [u, w] of [[a, b], [b, c], [c, a]] as const) {
      if (height[u]! > 0 === height[w]! > 0) continue;
      const share = height[u]! / (height[u]! - height[w]!);
      const at = new Vector3().fromArray(p, u * 3).lerp(new Vector3().fromArray(p, w * 3), share);
      out.push(at.applyMatrix4(view.group.matrix));
    }
  }
  return out;
}

/** The section's outline and its grips; dragging one moves the plane along its axis. */
export class SectionHandle {
  private lines: { mesh: MeshData; matrix: string; section: Section; points: Vector3[] }[] = [];
  private start = { at: 0, along: 0 };

  /** Where the grip stands: on the plane, beside the model. */
  private grip(section: Section, box: Box3): Vector3 {
    const centre = box.getCenter(new Vector3());
    const high = box.max.clone();
    const at = centre.setComponent((section.axis + 1) % 3, high.getComponent((section.axis + 1) % 3));
    return at.setComponent(section.axis, section.at);
  }

  handleAt(section: Section, box: Box3, camera: Camera, at: Pointer): boolean {
    const p = camera.project(this.grip(section, box));
    if (Math.hypot(p.x - at.x, p.y - at.y) <= 11) return true;
    const ends = this.trace(section, box, camera);
    if (ends === null) return false;
    const [a, b] = ends.map((v) => camera.project(v)) as [Vector3, Vector3];
    const size = Math.hypot(b.x - a.x, b.y - a.y);
    const t = ((at.x - a.x) * (b.x - a.x) + (at.y - a.y) * (b.y - a.y)) / size ** 2;
    return t > 0 && t < 1 && Math.abs((at.x - a.x) * (b.y - a.y) - (at.y - a.y) * (b.x - a.x)) / size <= REACH / 2;
  }

  /** In a flat view that sees the plane edge on: its line, a little longer than the model. */
  private trace(section: Section, box: Box3, camera: Camera): [Vector3, Vector3] | null {
    const { eye } = camera.basis();
    if (camera.view === "perspective" || Math.abs(eye.getComponent(section.axis)) > 0.5) return null;
    const along = [0, 1, 2].find((k) => k !== section.axis && Math.abs(eye.getComponent(k)) < 0.5) as number;
    const more = 0.12 * box.getSize(new Vector3()).length();
    const a = box.getCenter(new Vector3()).setComponent(section.axis, section.at);
    const b = a.clone();
    a.setComponent(along, box.min.getComponent(along) - more);
    b.setComponent(along, box.max.getComponent(along) + more);
    return [a, b];
  }

  private along(section: Section, box: Box3, camera: Camera, at: Pointer): number {
    const ray = camera.ray(at.x, at.y);
    return alongLine(this.grip(section, box), new Vector3().setComponent(section.axis, 1), ray.origin, ray.direction);
  }

  press(section: Section, box: Box3, camera: Camera, at: Pointer): void {
    this.start = { at: section.at, along: this.along({ ...section, at: section.at }, box, camera, at) };
  }

  drag(section: Section, box: Box3, camera: Camera, at: Pointer): Section {
    const fixed = { ...section, at: this.start.at };
    const metres = METRES[unitOf(editor.get())];
    const moved = this.along(fixed, box, camera, at) - this.start.along;
    return { ...section, at: rounded(this.start.at + moved, camera.pixel(this.grip(fixed, box)), metres, at.fine) * metres };
  }

  draw(section: Section, box: Box3, parts: ReadonlyMap<string, PartView>, camera: Camera, overlay: Overlay, hot: boolean): void {
    for (const view of parts.values()) {
      const mesh = view.mesh?.surface ?? view.mesh?.cage;
      if (mesh === undefined || !view.group.visible) continue;
      const points = this.cut(mesh, view, section);
      overlay.segments(points, token("ink"), 2.4);
    }
    const ends = this.trace(section, box, camera);
    const colour = hot ? token("pick") : token("mark");
    if (ends !== null) overlay.polyline(ends, colour, 1.4, { dash: [12, 4, 2, 4] });
    else if (camera.view === "perspective") overlay.polyline(rectangle(section, box), colour, 1.2, { close: true, dash: [12, 4, 2, 4] });
    if (ends === null && camera.view !== "perspective") return;
    const grip = this.grip(section, box);
    overlay.dot(grip, hot ? 8 : 6, token("panel"), colour);
    overlay.label(grip, `section ${AXES[section.axis]} ${metresText(section.at)}`, colour);
  }

  private cut(mesh: MeshData, view: PartView, section: Section): Vector3[] {
    const matrix = view.group.matrix.elements.join();
    const held = this.lines.find((l) => l.mesh === mesh && l.section === section && l.matrix === matrix);
    if (held !== undefined) return held.points;
    this.lines = this.lines.filter((l) => l.section === section && l.mesh !== mesh);
    const points = cutLines(mesh, view, section);
    this.lines.push({ mesh, matrix, section, points });
    return points;
  }
}

function rectangle(section: Section, box: Box3): Vector3[] {
  const [i, j] = [(section.axis + 1) % 3, (section.axis + 2) % 3];
  const more = 0.06 * box.getSize(new Vector3()).length();
  const low = box.min.clone().subScalar(more);
  const high = box.max.clone().addScalar(more);
  return [[low, low], [high, low], [high, high], [low, high]].map(([a, b]) => {
    const p = new Vector3().setComponent(section.axis, section.at);
    p.setComponent(i, (a as Vector3).getComponent(i));
    return p.setComponent(j, (b as Vector3).getComponent(j));
  });
}
