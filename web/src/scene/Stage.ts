import { type Box3, CircleGeometry, Color, Mesh, MeshBasicMaterial, type Object3D, Vector3 } from "three";

import { token } from "../theme/theme";

/** The contact shadow under the model in 3D. */
export class Stage {
  private readonly shadow = new Mesh(new CircleGeometry(1, 64), new MeshBasicMaterial({ depthWrite: false }));
  private readonly darker = new Mesh(new CircleGeometry(0.78, 64), new MeshBasicMaterial({ depthWrite: false }));

  readonly objects: readonly Object3D[] = [this.shadow, this.darker];

  constructor() {
    for (const [mesh, order] of [[this.shadow, -5], [this.darker, -4]] as const) {
      mesh.rotation.x = -Math.PI / 2;
      mesh.renderOrder = order;
      mesh.frustumCulled = false;
    }
  }

  colours(): void {
    this.shadow.material.color.set(token("shadow")).lerp(new Color(token("paper")), 0.35);
    this.darker.material.color.set(token("shadow"));
  }

  show(box: Box3, shown: boolean): void {
    const visible = shown && !box.isEmpty();
    this.shadow.visible = this.darker.visible = visible;
    if (!visible) return;
    const size = box.getSize(new Vector3());
    const centre = box.getCenter(new Vector3());
    for (const mesh of [this.shadow, this.darker]) {
      mesh.position.set(centre.x + size.x * 0.06, Math.min(box.min.y, 0) - 1e-4, centre.z + size.z * 0.06);
      mesh.scale.set(Math.max(size.x, size.z * 0.4) * 0.85, Math.max(size.z, size.x * 0.4) * 0.85, 1);
    }
  }
}
