import { create } from "zustand";

/** Model files end so; everything else that is dropped is a picture. */
const MODELS = [".obj", ".ply", ".stl", ".glb", ".gltf"];
export const MODEL_FILES = MODELS.join(",");

/** A file that was dropped or chosen and is a model to be taken in. */
export const useDropped = create<{ model: File | null }>()(() => ({ model: null }));

export function isModel(file: File): boolean {
  const name = file.name.toLowerCase();
  return MODELS.some((end) => name.endsWith(end));
}
