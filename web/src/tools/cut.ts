import { Vector3 } from "three";

import type { MeshData } from "../api/packets";
import { idsOf } from "../model/picks/picks";
import { editor, type Values } from "../model/store";
import { nearestPoint } from "../scene/hit";
import type { Overlay } from "../scene/overlay";
import type { Pointer } from "../scene/pointer";
import { token } from "../theme/theme";
import type { Handle } from "./Handle";
import { type Click, fault, type Tool, type ToolPlace } from "./Tool";

interface Stop {
  readonly entry: Record<string, unknown>;
  readonly at: Vector3;
}

/** Points this near a round fraction of an edge take it. */
const ROUND = [0.25, 1 / 3, 0.5, 2 / 3, 0.75];
const SLACK = 0.02;

/** Clicks on vertices and edges make a path; each two share a face. Nothing is stored before it is accepted. */
export class CutTool implements Tool {
  private path: { readonly step: string; stops: Stop[] } = { step: "", stops: [] };

  private stops(place: ToolPlace): Stop[] {
    if (this.path.step !== place.session.stepId || place.session.values["path"] === undefined) this.path = { step: place.session.stepId, stops: [] };
    return this.path.stops;
  }

  handleAt(): Handle | null {
    return null;
  }

  press(): void {}

  drag(): Values {
    return {};
  }

  /** One more point of the path; null where the click meets neither a vertex nor an edge of the part. */
  click(place: ToolPlace, at: Pointer): Click | null {
    const stops = this.stops(place);
    const mesh = editor.get().meshes[place.session.part]?.mesh.cage;
    if (mesh === undefined) return null;
    const found = nearestPoint(at.x, at.y, mesh, place.view, { ...place.sight, through: false });
    if (found === null) return null;
    stops.push("vertex" in found ? stopAtVertex(mesh, found.vertex) : stopOnEdge(mesh, found.edge, found.share));
    return { values: { path: stops.map((s) => s.entry) }, stores: false };
  }

  draw(place: ToolPlace, overlay: Overlay): void {
    const stops = this.stops(place).map((s) => s.at.clone().applyMatrix4(place.view.group.matrix));
    overlay.polyline(stops, token("pick"), 2, { dash: [6, 4] });
    for (const s of stops) overlay.dot(s, 5, token("panel"), token("pick"));
    const last = stops[stops.length - 1];
    if (last !== undefined && stops.length > 1) fault(overlay, last);
  }
}

function point(mesh: MeshData, vertex: number): Vector3 {
  return new Vector3().fromArray(mesh.positions, vertex * 3);
}

function stopAtVertex(mesh: MeshData, vertex: number): Stop {
  return { entry: { vertex: { ids: idsOf(mesh, "vertices", [vertex]) } }, at: point(mesh, vertex) };
}

/** Fractions run from the lower end: smaller y, then x, then z. */
function stopOnEdge(mesh: MeshData, edge: number, share: number): Stop {
  const a = point(mesh, mesh.shape.edges[2 * edge] as number);
  const b = point(mesh, mesh.shape.edges[2 * edge + 1] as number);
  const round = ROUND.find((r) => Math.abs(r - share) < SLACK) ?? Number(share.toFixed(3));
  const first = [1, 0, 2].map((k) => a.getComponent(k) - b.getComponent(k)).find((d) => Math.abs(d) > 1e-9) ?? -1;
  const at = first < 0 ? round : 1 - round;
  return { entry: { edge: { ids: idsOf(mesh, "edges", [edge]) }, at }, at: a.lerp(b, round) };
}
