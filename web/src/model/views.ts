import { Vector3 } from "three";

import type { View } from "../api/client";
import type { Station, ViewName } from "./store";

export interface Basis {
  readonly right: Vector3;
  readonly up: Vector3;
  /** from the model towards the eye */
  readonly eye: Vector3;
}

function basis(right: [number, number, number], up: [number, number, number]): Basis {
  const r = new Vector3(...right);
  const u = new Vector3(...up);
  return { right: r, up: u, eye: new Vector3().crossVectors(r, u) };
}

/** The six flat views, in third-angle projection: front looks along −Z, right along −X, top along −Y. */
export const BASES: Record<View, Basis> = {
  front: basis([1, 0, 0], [0, 1, 0]),
  back: basis([-1, 0, 0], [0, 1, 0]),
  right: basis([0, 0, -1], [0, 1, 0]),
  left: basis([0, 0, 1], [0, 1, 0]),
  top: basis([1, 0, 0], [0, 0, -1]),
  bottom: basis([1, 0, 0], [0, 0, 1]),
};

export const FLAT_VIEWS: readonly View[] = ["front", "back", "left", "right", "top", "bottom"];

export const VIEW_TITLES: Record<ViewName, string> = {
  perspective: "3D",
  front: "Front",
  back: "Back",
  left: "Left",
  right: "Right",
  top: "Top",
  bottom: "Bottom",
};

/** The stations of the work, in their order. */
export const STATIONS: readonly { readonly id: Station; readonly title: string }[] = [
  { id: "brief", title: "Brief" },
  { id: "form", title: "Form" },
  { id: "shape", title: "Shape" },
  { id: "wrap", title: "Wrap" },
  { id: "handover", title: "Handover" },
];
