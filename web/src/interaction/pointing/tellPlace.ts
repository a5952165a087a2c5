import { usePointer } from "../../model/session/pointer";
import type { Triple } from "../../model/store";
import type { Pointer } from "../../scene/pointer";
import type { Pane } from "../../scene/Sheet";

/** Where the pointer is in the build: two coordinates in a flat view, the point of the model or floor under it in 3D. */
export function tellPlace({ camera }: Pane, at: Pointer): void {
  let point = camera.onPlane(at.x, at.y).toArray() as Triple;
  if (camera.isFlat) {
    const { eye } = camera.basis();
    point = point.map((v, i) => (Math.abs(eye.getComponent(i)) > 0.5 ? Number.NaN : v)) as Triple;
  } else {
    const { origin, direction } = camera.ray(at.x, at.y);
    const t = direction.y < -1e-6 ? -origin.y / direction.y : Number.NaN;
    point = [origin.x + t * direction.x, 0, origin.z + t * direction.z];
  }
  usePointer.setState({ at: point });
}
