import { hex, type MeshData } from "../../api/packets";
import { editor, type Picked, type PickKind } from "../store";

/** Stable ids of elements; an edge is told by its two vertices. */
export function idsOf(mesh: MeshData, kind: PickKind, elements: readonly number[]): string[] {
  const vertex = mesh.vertexIds;
  const face = mesh.faceIds;
  if (vertex === null || face === null) return [];
  if (kind === "faces") return elements.map((e) => hex(face[e] ?? 0n));
  if (kind === "vertices") return elements.map((e) => hex(vertex[e] ?? 0n));
  const ends = mesh.shape.edges;
  return elements.map((e) => `${hex(vertex[ends[2 * e] ?? 0] ?? 0n)}-${hex(vertex[ends[2 * e + 1] ?? 0] ?? 0n)}`);
}

/** Where ids stand in a mesh; those that are gone are left out. */
export function find(mesh: MeshData, kind: PickKind, ids: readonly string[]): number[] {
  const wanted = new Set(ids.map((i) => (kind === "edges" ? i.split("-").sort().join("-") : i)));
  const out: number[] = [];
  const count = kind === "faces" ? mesh.shape.faceCount : kind === "vertices" ? mesh.shape.vertexCount : mesh.shape.edges.length / 2;
  const all = idsOf(mesh, kind, Array.from({ length: count }, (_, i) => i));
  all.forEach((id, i) => {
    if (wanted.has(kind === "edges" ? id.split("-").sort().join("-") : id)) out.push(i);
  });
  return out;
}

/** Pick these elements of a part's cage; an empty list unpicks. */
export function setPick(part: string, kind: PickKind, elements: readonly number[]): void {
  const mesh = editor.get().meshes[part]?.mesh.cage;
  const sorted = [...new Set(elements)].sort((a, b) => a - b);
  const before = editor.get().pick;
  if (before !== null && (sorted.length === 0 || before.part !== part || before.kind !== kind || before.elements.join() !== sorted.join())) editor.set({ lastPick: before });
  if (mesh === undefined || sorted.length === 0) editor.set({ pick: null, current: part, pickKind: kind });
  else editor.set({ pick: { part, kind, elements: sorted, ids: idsOf(mesh, kind, sorted) }, current: part, pickKind: kind });
}

/** After a part's mesh changed: the same ids where they still are, or the same numbers while a tool is at work. */
export function renewPick(part: string, keepNumbers: boolean): void {
  const { pick, meshes } = editor.get();
  const mesh = meshes[part]?.mesh.cage;
  if (pick === null || pick.part !== part || mesh === undefined) return;
  setPick(part, pick.kind, keepNumbers ? pick.elements.filter((e) => inRange(mesh, pick.kind, e)) : find(mesh, pick.kind, pick.ids));
}

function inRange(mesh: MeshData, kind: PickKind, element: number): boolean {
  const { faceCount, vertexCount, edges } = mesh.shape;
  return element < (kind === "faces" ? faceCount : kind === "vertices" ? vertexCount : edges.length / 2);
}

/** The pick of an earlier moment, as undo and redo hand it back. */
export function restorePick(stored: Picked | null | undefined): void {
  if (!stored) return;
  const { part, kind, ids, elements } = stored;
  const mesh = editor.get().meshes[part]?.mesh.cage;
  if (mesh === undefined) return;
  const found = find(mesh, kind, ids);
  setPick(part, kind, found.length ? found : elements.filter((e) => inRange(mesh, kind, e)));
}

/** The pick as a recipe stores it. */
export function pickRule(pick: { kind: PickKind; ids: readonly string[] }): Record<string, unknown> {
  return { [pick.kind]: { ids: [...pick.ids] } };
}

/** Change the kind picked, taking the pick along: to the pieces it is made of, or to what is made wholly of it. */
export function changeKind(kind: PickKind): void {
  const { pick, meshes } = editor.get();
  const mesh = pick === null ? undefined : meshes[pick.part]?.mesh.cage;
  if (pick === null || mesh === undefined || pick.kind === kind) {
    editor.set({ pickKind: kind });
    return;
  }
  const vertices = new Set(verticesOf(mesh, pick.kind, pick.elements));
  if (kind === "vertices") setPick(pick.part, kind, [...vertices]);
  else if (kind === "edges") {
    const { edges } = mesh.shape;
    const out: number[] = [];
    for (let e = 0; e < edges.length / 2; e++) {
      if (vertices.has(edges[2 * e] as number) && vertices.has(edges[2 * e + 1] as number)) out.push(e);
    }
    setPick(pick.part, kind, out);
  } else {
    const { offsets, corners, faceCount } = mesh.shape;
    const out: number[] = [];
    for (let f = 0; f < faceCount; f++) {
      let all = true;
      for (let c = offsets[f] as number; c < (offsets[f + 1] as number); c++) all &&= vertices.has(corners[c] as number);
      if (all) out.push(f);
    }
    setPick(pick.part, kind, out);
  }
}

/** Vertices of elements, each once. */
export function verticesOf(mesh: MeshData, kind: PickKind, elements: readonly number[]): number[] {
  const { offsets, corners, edges } = mesh.shape;
  const out = new Set<number>();
  for (const e of elements) {
    if (kind === "vertices") out.add(e);
    else if (kind === "edges") out.add(edges[2 * e] as number).add(edges[2 * e + 1] as number);
    else for (let c = offsets[e] as number; c < (offsets[e + 1] as number); c++) out.add(corners[c] as number);
  }
  return [...out];
}
