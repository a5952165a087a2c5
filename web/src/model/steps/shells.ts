import type { Part } from "../../api/client";
import type { Shape } from "../../api/packets";
import { stepsBelow } from "./workingMark";

/** How many pieces a mesh has that are connected through edges. */
export function shellCount(shape: Shape): number {
  const root = Array.from({ length: shape.faceCount }, (_, f) => f);
  const find = (f: number): number => {
    let at = f;
    while (root[at] !== at) at = root[at] = root[root[at] as number] as number;
    return at;
  };
  const seen = new Map<number, number>();
  let count = shape.faceCount;
  for (let f = 0; f < shape.faceCount; f++) {
    const [begin, end] = [shape.offsets[f] as number, shape.offsets[f + 1] as number];
    for (let c = begin; c < end; c++) {
      const [a, b] = [shape.corners[c] as number, shape.corners[c + 1 < end ? c + 1 : begin] as number];
      const edge = Math.min(a, b) * shape.vertexCount + Math.max(a, b);
      const other = seen.get(edge);
      if (other === undefined) seen.set(edge, f);
      else if (find(other) !== find(f)) {
        root[find(other)] = find(f);
        count -= 1;
      }
    }
  }
  return count;
}

/** Whether an edge has one face only: the mesh is open there. */
export function hasBorder(shape: Shape): boolean {
  const faces = new Map<number, number>();
  for (let f = 0; f < shape.faceCount; f++) {
    const [begin, end] = [shape.offsets[f] as number, shape.offsets[f + 1] as number];
    for (let c = begin; c < end; c++) {
      const [a, b] = [shape.corners[c] as number, shape.corners[c + 1 < end ? c + 1 : begin] as number];
      const edge = Math.min(a, b) * shape.vertexCount + Math.max(a, b);
      faces.set(edge, (faces.get(edge) ?? 0) + 1);
    }
  }
  return [...faces.values()].some((n) => n === 1);
}

/** The live shell below the working mark of a part; null where none gives it thickness. */
export function shellBelow(part: Part): { readonly thickness?: number; readonly rim?: boolean } | null {
  const found = stepsBelow(part).find((s) => s.kind === "shell");
  return found === undefined ? null : (found as { readonly thickness?: number; readonly rim?: boolean });
}
