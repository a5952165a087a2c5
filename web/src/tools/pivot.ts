import { Matrix4, Vector3 } from "three";

import type { Part } from "../api/client";
import { editor, METRES, type Triple, unitOf } from "../model/store";
import type { Boards } from "../scene/boards/Boards";
import type { Camera } from "../scene/Camera";
import type { Overlay } from "../scene/overlay";
import type { PartView } from "../scene/PartView";
import type { Pointer } from "../scene/pointer";
import { SnapTargets } from "../scene/snap";
import { token } from "../theme/theme";
import type { Handle } from "./Handle";
import { drawHandles, handleAt, type Stand } from "./handles";
import { MoveDrag } from "./moveDrag";

/** Moves a part's pivot: the same arrows and patches, snapping to the same targets. */
export class PivotHandles {
  private drag: MoveDrag | null = null;
  private from: Triple = [0, 0, 0];
  /** where it would stand, in the part's axes and the build's unit; null while none is dragged */
  moved: Triple | null = null;

  private axes(matrix: Matrix4): [Vector3, Vector3, Vector3] {
    return [0, 1, 2].map((i) => new Vector3().setFromMatrixColumn(matrix, i)) as [Vector3, Vector3, Vector3];
  }

  private stand(part: Part, view: PartView): Stand {
    const metres = METRES[unitOf(editor.get())];
    const pivot = this.moved ?? ((part.pivot ?? [0, 0, 0]) as Triple);
    const origin = new Vector3(...pivot).multiplyScalar(metres).applyMatrix4(view.group.matrix);
    return { origin, axes: this.axes(view.group.matrix).map((a) => a.normalize()) as [Vector3, Vector3, Vector3], makes: null, whole: false };
  }

  handleAt(part: Part, view: PartView, camera: Camera, at: Pointer): Handle | null {
    return handleAt(this.stand(part, view), camera, at);
  }

  press(part: Part, view: PartView, parts: ReadonlyMap<string, PartView>, boards: Boards, camera: Camera, handle: Handle, at: Pointer): void {
    const metres = METRES[unitOf(editor.get())];
    this.from = [...((part.pivot ?? [0, 0, 0]) as Triple)];
    const base = this.from.map((v) => v * metres) as Triple;
    this.drag = new MoveDrag(handle, this.axes(view.group.matrix), this.stand(part, view).origin, base, new SnapTargets(parts, boards, false), camera, at);
  }

  move(camera: Camera, at: Pointer): Triple {
    const metres = METRES[unitOf(editor.get())];
    const by = this.drag?.by(camera, at) ?? [0, 0, 0];
    this.moved = this.from.map((v, i) => Number((v + by[i]! / metres).toPrecision(9))) as Triple;
    return this.moved;
  }

  end(): void {
    this.moved = null;
    this.drag = null;
  }

  draw(part: Part, view: PartView, overlay: Overlay, hot: Handle | null): void {
    const stand = this.stand(part, view);
    drawHandles(stand, overlay, hot);
    overlay.label(stand.origin, `pivot of ${part.name}`, token("mark"));
    const snapped = this.drag?.snapped ?? null;
    if (snapped !== null) {
      overlay.dot(snapped.at, 7, "transparent", token("mark"), 2);
      overlay.label(snapped.at, snapped.what, token("mark"), 1);
    }
  }
}
