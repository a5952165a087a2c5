import { Box3, Vector3 } from "three";

import type { MeshData } from "../api/packets";
import { editor, METRES, type Section, unitOf } from "../model/store";
import { metresText } from "../model/units";
import type { Camera } from "../scene/Camera";
import { alongLine, rounded } from "../scene/numbers";
import type { Overlay } from "../scene/overlay";
import type { PartView } from "../scene/PartView";
import type { Pointer } from "../scene/pointer";
import { cutLines } from "../scene/section";
import { token } from "../theme/theme";

const AXES = ["x", "y", "z"] as const;
const REACH = 8;

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
