import type { View } from "../../api/client";
import { type Drawing, editor, type Triple } from "../store";
import { BASES } from "../views";

export type Plane = NonNullable<Drawing["plane"]>;

/** The plane a flat view draws in, through the origin; the floor in 3D. */
export function planeOf(view: View | null): Plane {
  const { right, up, eye } = BASES[view ?? "top"];
  return { origin: [0, 0, 0], across: right.toArray() as Triple, up: up.toArray() as Triple, out: eye.toArray() as Triple };
}

export function setDrawing(values: Partial<Drawing>): void {
  const { drawing } = editor.get();
  if (drawing !== null) editor.set({ drawing: { ...drawing, ...values } });
}

export function cancelDrawing(): void {
  editor.set({ drawing: null });
}

/** Width and depth of the footprint, in metres. */
export function footprint(d: Drawing): [number, number] {
  return [Math.abs(d.to[0] - d.from[0]), Math.abs(d.to[1] - d.from[1])];
}
