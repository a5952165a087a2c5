import { Vector3 } from "three";

import { idsOf } from "../model/picks/picks";
import { editor, type Values } from "../model/store";
import { nearestPoint } from "../scene/hit";
import type { Overlay } from "../scene/overlay";
import type { Pointer } from "../scene/pointer";
import { token } from "../theme/theme";
import type { Handle } from "./Handle";
import { type Click, fault, type Tool, type ToolPlace } from "./Tool";

/** Loops this near a round share of the edge take it. */
const ROUND = [0.25, 1 / 3, 0.5, 2 / 3, 0.75];
const SLACK = 0.03;

/**
 * Loops placed one after the other: the edge under the pointer shows the loop a click would insert, through the core. At the
 * pointer, or spread evenly, or at a typed distance from an end.
 */
export class LoopTool implements Tool {
  private over: { edge: number; share: number; at: Vector3 } | null = null;
  /** the numbers the loop under the pointer was shown with */
  private shown: Values | null = null;

  handleAt(): Handle | null {
    return null;
  }

  press(): void {}

  drag(): Values {
    return {};
  }

  hover(place: ToolPlace, at: Pointer): Values | null {
    const found = this.find(place, at);
    const before = this.over;
    this.over = found;
    const { values } = place.session;
    if (found === null || (before !== null && before.edge === found.edge && before.share === found.share && this.shown === values)) return null;
    this.shown = values;
    return this.values(place, found);
  }

  private find(place: ToolPlace, at: Pointer): { edge: number; share: number; at: Vector3 } | null {
    const mesh = editor.get().meshes[place.session.part]?.mesh.cage;
    if (mesh === undefined) return null;
    const found = nearestPoint(at.x, at.y, mesh, place.view, { ...place.sight, through: true });
    if (found === null || "vertex" in found) return null;
    const [a, b] = [0, 1].map((k) => new Vector3().fromArray(mesh.positions, (mesh.shape.edges[2 * found.edge + k] as number) * 3)) as [Vector3, Vector3];
    const share = at.fine ? Number(found.share.toFixed(3)) : (ROUND.find((r) => Math.abs(r - found.share) < SLACK) ?? Number(found.share.toFixed(2)));
    // fractions run from the lower end: smaller y, then x, then z
    const first = [1, 0, 2].map((k) => a.getComponent(k) - b.getComponent(k)).find((d) => Math.abs(d) > 1e-9) ?? -1;
    return { edge: found.edge, share: first < 0 ? share : Number((1 - share).toFixed(6)), at: a.lerp(b, share).applyMatrix4(place.view.group.matrix) };
  }

  private values(place: ToolPlace, found: { edge: number; share: number }): Values {
    const mesh = editor.get().meshes[place.session.part]?.mesh.cage;
    const through = { ids: mesh === undefined ? [] : idsOf(mesh, "edges", [found.edge]) };
    const spread = place.session.values["distance"] !== undefined || Number(place.session.values["count"] ?? 1) > 1;
    return { through, ...(spread ? {} : { at: [found.share] }) };
  }

  click(place: ToolPlace, at: Pointer): Click | null {
    const found = this.find(place, at);
    if (found === null) return null;
    this.over = null;
    return { values: this.values(place, found), stores: true };
  }

  draw(_place: ToolPlace, overlay: Overlay): void {
    if (this.over === null) return;
    overlay.dot(this.over.at, 5, token("panel"), token("pick"));
    overlay.label(this.over.at, `${Number((this.over.share * 100).toFixed(1))} %`, token("pick"));
    fault(overlay, this.over.at);
  }
}
