import { Vector3 } from "three";

import type { MeshData } from "../api/packets";
import type { Section } from "../model/store";
import { CUT_PLANE, setCutting } from "./materials";
import type { PartView } from "./PartView";

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
export function cutLines(mesh: MeshData, view: PartView, section: Section): Vector3[] {
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

