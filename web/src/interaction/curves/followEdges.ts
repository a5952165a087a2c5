import { addPart, freeName } from "../../model/document/intents";
import { pickRule } from "../../model/picks/picks";
import { editor, partOf, partsOf } from "../../model/store";
import { change, storedAs, tell } from "../../sync/build";
import { roundLength } from "../../model/steps/kinds";
import { middle } from "../../model/places/frames";
import { accept } from "../session/storing";

/** A new part that follows the picked edges: as a curve, or as a round rope along it. */
export async function followEdges(as: "curve" | "piping"): Promise<void> {
  await accept();
  const { pick, meshes } = editor.get();
  const part = partOf(editor.get(), pick?.part ?? null);
  if (pick === null || part?.id == null || pick.kind !== "edges" || pick.elements.length === 0) {
    tell(`${as === "curve" ? "A curve" : "Piping"} follows edges; pick a chain or a loop of them first`);
    return;
  }
  const parts = partsOf(editor.get());
  const id = freeName("part", parts.map((p) => p.id));
  const title = as === "curve" ? "Edge curve" : "Piping";
  const name = freeName(title, parts.map((p) => p.name), " ");
  const size = middle(meshes[part.id]?.mesh.cage, pick).size;
  const radius = roundLength(size / 40);
  const spacing = { spacing: Number((radius * 1.5).toPrecision(3)) };
  const smooth = (part.steps ?? []).some((s) => s.kind === "subdivision" && s.enabled !== false);
  const curve = { id: "edge_curve1", kind: "edge_curve", part: part.id, ...(smooth ? { on: "surface" } : {}), pick: pickRule(pick), ...(as === "piping" ? spacing : {}) };
  const rope = { id: "sweep1", kind: "sweep", profile: { circle: radius } };
  const placed = part.group == null ? {} : { group: part.group };
  if (await change(title, addPart({ name, id, ...placed, steps: as === "curve" ? [curve] : [curve, rope] }))) editor.set({ current: storedAs(id), pick: null, openStep: as === "curve" ? curve.id : rope.id });
}

/** The traced outline of a board as a curve, where it stands. */
export async function curveOfBoard(board: string): Promise<void> {
  await accept();
  const parts = partsOf(editor.get());
  const held = editor.get().build?.document.boards?.find((b) => b.id === board);
  if (held?.outline == null) {
    tell("Take the outline of a board first");
    return;
  }
  const id = freeName("part", parts.map((p) => p.id));
  const name = freeName(`Outline of ${held.name}`, parts.map((p) => p.name), " ");
  const tolerance = Number((held.width / 200).toPrecision(1));
  if (await change("Outline as a curve", addPart({ name, id, steps: [{ id: "board_curve1", kind: "board_curve", board, tolerance }] }))) editor.set({ current: storedAs(id), pick: null, openStep: "board_curve1", station: "shape" });
}
