import { Vector3 } from "three";

import type { MeshData } from "../api/packets";
import type { Camera } from "./Camera";
import { along } from "./hit";
import { vertexAt } from "./overlay";
import type { PartView } from "./PartView";

/** A band of faces runs through an edge of the face under the pointer, and out of the one opposite. */
export interface BandWay {
  readonly edge: number;
  /** from the middle of that edge to where the band leaves the face; the middle alone where it is no quad */
  readonly line: readonly Vector3[];
}

/** From the middle of a quad on, as a share of its width, the band runs along the quad's length; all over one that is no wider on
 * the screen than this, in pixels. */
const MIDDLE = 0.3;
const NARROW = 16;

/** Which way the band through a face runs that a double click at a pixel takes: through the edge that is nearest there, and along
 * the face where no edge is near. */
export function bandWay(mesh: MeshData, face: number, view: PartView, camera: Camera, x: number, y: number): BandWay {
  const { offsets, corners } = mesh.shape;
  const ring = [...corners.subarray(offsets[face], offsets[face + 1])];
  const place = ring.map((v) => vertexAt(view, mesh, v));
  const flat = place.map((p) => camera.project(p));
  const n = ring.length;
  const off = flat.map((a, i) => {
    const b = flat[(i + 1) % n] as Vector3;
    const t = Math.min(Math.max(along(x, y, a.x, a.y, b.x, b.y), 0), 1);
    return Math.hypot(a.x + t * (b.x - a.x) - x, a.y + t * (b.y - a.y) - y);
  });
  const side = n === 4 ? quadSide(off, place) : off.indexOf(Math.min(...off));
  const middle = (i: number) => (place[i % n] as Vector3).clone().add(place[(i + 1) % n] as Vector3).multiplyScalar(0.5);
  return { edge: edgeBetween(mesh, ring[side] as number, ring[(side + 1) % n] as number), line: n === 4 ? [middle(side), middle(side + 2)] : [middle(side)] };
}

/** The side of a quad that is nearest by the quad's own width that way; its short sides from the middle on. */
function quadSide(off: readonly number[], place: readonly Vector3[]): number {
  const share = (i: number) => (off[i] as number) / Math.max((off[i] as number) + (off[(i + 2) % 4] as number), 1e-9);
  const best = [0, 1, 2, 3].sort((a, b) => share(a) - share(b)) as [number, number, number, number];
  const width = (i: number) => (off[i] as number) + (off[(i + 2) % 4] as number);
  const narrow = Math.min(width(0), width(1)) < NARROW && Math.max(width(0), width(1)) > NARROW;
  if (share(best[0]) < MIDDLE && !narrow) return best[0];
  const length = (i: number) => (place[i] as Vector3).distanceTo(place[(i + 1) % 4] as Vector3);
  const across = [length(0) + length(2), length(1) + length(3)] as const;
  const pair = across[0] < 0.8 * across[1] ? 0 : across[1] < 0.8 * across[0] ? 1 : best[0] % 2;
  return share(pair) <= share(pair + 2) ? pair : pair + 2;
}

function edgeBetween(mesh: MeshData, a: number, b: number): number {
  const { edges } = mesh.shape;
  for (let e = 0; e < edges.length / 2; e++) {
    const [p, q] = [edges[2 * e], edges[2 * e + 1]];
    if ((p === a && q === b) || (p === b && q === a)) return e;
  }
  return -1;
}
