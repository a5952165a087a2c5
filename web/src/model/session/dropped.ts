import { create } from "zustand";

import type { Unit } from "../../api/client";
import { withEachBuild } from "../store";

/** Model files end so; what is neither that nor a drawing is a picture when it is dropped. */
const MODELS = [".obj", ".ply", ".stl", ".glb", ".gltf"];
/** Drawings end so: their outlines come in as curves. */
const DRAWINGS = [".svg", ".dxf"];
export const MODEL_FILES = [...MODELS, ...DRAWINGS].join(",");

/** A drawing that tells no unit, and the one it would be read in. */
export interface Unitless {
  readonly file: File;
  readonly assumed: Unit;
}

/** Files that were dropped or chosen and wait for what they do not tell: a model's axes and unit, a drawing's unit. */
export const useDropped = create<{ model: File | null; drawing: Unitless | null }>()(() => ({ model: null, drawing: null }));

withEachBuild(() => useDropped.setState({ model: null, drawing: null }));

export function isDrawing(file: File): boolean {
  const name = file.name.toLowerCase();
  return DRAWINGS.some((end) => name.endsWith(end));
}

export function isModel(file: File): boolean {
  const name = file.name.toLowerCase();
  return MODELS.some((end) => name.endsWith(end));
}
