import { create } from "zustand";

/** Model files end so; what is neither that nor a drawing is a picture when it is dropped. */
const MODELS = [".obj", ".ply", ".stl", ".glb", ".gltf"];
/** Drawings end so: their outlines come in as curves. */
const DRAWINGS = [".svg", ".dxf"];
export const MODEL_FILES = [...MODELS, ...DRAWINGS].join(",");

/** A file that was dropped or chosen and is a model to be taken in. */
export const useDropped = create<{ model: File | null }>()(() => ({ model: null }));

export function isDrawing(file: File): boolean {
  const name = file.name.toLowerCase();
  return DRAWINGS.some((end) => name.endsWith(end));
}

export function isModel(file: File): boolean {
  const name = file.name.toLowerCase();
  return MODELS.some((end) => name.endsWith(end));
}
