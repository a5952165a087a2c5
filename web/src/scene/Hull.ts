import { BufferAttribute, BufferGeometry, DoubleSide, type Ray, type Vector3 } from "three";
import { MeshBVH } from "three-mesh-bvh";

import type { MeshData } from "../api/packets";

export interface FaceHit {
  readonly face: number;
  readonly distance: number;
  /** of what was hit, in the part's axes */
  readonly normal: Vector3 | null;
}

/** Where rays meet what is drawn of a part, told as cage faces. */
export class Hull {
  private readonly bvh: MeshBVH | null;

  constructor(private readonly mesh: MeshData) {
    if (mesh.shape.triangles.length === 0) {
      this.bvh = null;
      return;
    }
    const geometry = new BufferGeometry();
    geometry.setAttribute("position", new BufferAttribute(mesh.positions, 3));
    geometry.setIndex(new BufferAttribute(mesh.shape.triangles, 1));
    this.bvh = new MeshBVH(geometry, { indirect: true });
  }

  /** Hits along a ray in the part's axes that count, nearest first, each cage face once. */
  hits(ray: Ray, counts: ((distance: number) => boolean) | null = null): FaceHit[] {
    if (this.bvh === null) return [];
    const seen = new Set<number>();
    return this.bvh
      .raycast(ray, DoubleSide)
      .sort((a, b) => a.distance - b.distance)
      .map((h) => ({ face: this.mesh.shape.triangleFace[h.faceIndex ?? 0] as number, distance: h.distance, normal: h.face?.normal ?? null }))
      .filter((h) => counts === null || counts(h.distance))
      .filter((h) => !seen.has(h.face) && seen.add(h.face));
  }

  /** Distance to the first hit, Infinity where there is none. */
  first(ray: Ray): number {
    return this.bvh?.raycastFirst(ray, DoubleSide)?.distance ?? Infinity;
  }
}
