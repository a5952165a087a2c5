import type { Part } from "../../api/client";
import { freeName } from "../../model/document/intents";
import { axesOf, middle, pivotOf } from "../../model/places/frames";
import type { Frame } from "../../model/prefs";
import { editor, type EditorState, partOf, type Picked, type ToolName, type ToolSession, type TransformField, type Triple, unitOf, type Values } from "../../model/store";

/** What a tool begins with beside its values. */
interface Beginning {
  readonly field?: TransformField;
  readonly proposes: boolean;
  readonly asks?: string | null;
  readonly box?: ToolSession["box"];
  readonly riders?: readonly string[];
}

const MOST_SPOTS = 200;

/** A tool at work on a pick, or on a whole part. */
export function begin(tool: ToolName, part: string, pick: Picked | null, takes: ToolSession["takes"], initial: Values, more: Beginning): void {
  const held = partOf(editor.get(), part);
  const steps = held?.steps ?? [];
  const mesh = editor.get().meshes[part]?.mesh.cage;
  const frame = (initial["frame"] as Frame | undefined) ?? "part";
  editor.set({
    session: {
      tool,
      part,
      pickKind: pick?.kind ?? "faces",
      pickIds: pick?.ids ?? [],
      takes,
      spots: spots(editor.get(), part, pick),
      pivot: held === null ? [0, 0, 0] : pivotOf(held, mesh, pick, unitOf(editor.get())),
      axes: held === null ? axesOf("part", {} as Part, undefined, null) : axesOf(frame, held, mesh, pick),
      box: more.box ?? null,
      riders: more.riders ?? [],
      ridesAs: tool === "lattice" ? "deformed" : "rigid",
      stepId: freeName(tool, steps.map((s) => s.id)),
      values: initial,
      initial,
      stored: null,
      field: more.field ?? "translate",
      asks: more.asks ?? null,
      proposes: more.proposes,
      dragging: false,
      hover: null,
      left: {},
    },
    path: null,
    gridPick: [],
    previewError: null,
    soft: null,
  });
}

/** Middles of the picked edges or vertices; of faces, or of a whole part, the one middle. */
function spots(state: EditorState, part: string, pick: Picked | null): Triple[] {
  const mesh = state.meshes[part]?.mesh.cage;
  if (pick === null || pick.kind === "faces" || mesh === undefined) return [middle(mesh, pick).at];
  return pick.elements.slice(0, MOST_SPOTS).map((e) => {
    const ends = pick.kind === "vertices" ? [e, e] : [mesh.shape.edges[2 * e] as number, mesh.shape.edges[2 * e + 1] as number];
    return [0, 1, 2].map((k) => ((mesh.positions[3 * (ends[0] as number) + k] as number) + (mesh.positions[3 * (ends[1] as number) + k] as number)) / 2) as Triple;
  });
}
