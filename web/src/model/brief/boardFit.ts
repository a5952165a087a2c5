import { create } from "zustand";

import type { Size, SizeInfo } from "../../api/client";
import { withEachBuild } from "../store";

/** How the model fits one board: lengths in the build's unit, places in metres across and up of its view. */
export interface BoardFit {
  readonly id: string;
  readonly iou: number;
  readonly mean: number;
  readonly worst: number;
  readonly worstAt: readonly [number, number] | null;
  /** parts that reach beyond the picture's outline */
  readonly beyond: readonly string[];
  /** places along the model's outline, the nearest of the picture's outline to each, how far, above 0 outside it */
  readonly points: Float32Array;
  readonly near: Float32Array;
  readonly off: Float32Array;
  readonly ring: Uint32Array;
}

interface BriefState {
  readonly sizes: Readonly<Record<string, SizeInfo>>;
  readonly boards: Readonly<Record<string, BoardFit>>;
  readonly overall: number | null;
  /** sizes that are being tried, not the build's yet */
  readonly more: readonly Size[];
  readonly tried: readonly SizeInfo[];
  /** parts that came in while the build was open, until what the boards show of them is settled */
  readonly added: readonly string[];
  /** whether what is told is of a trial */
  readonly trial: boolean;
}

const EMPTY: BriefState = { sizes: {}, boards: {}, overall: null, more: [], tried: [], added: [], trial: false };

export const useBrief = create<BriefState>()(() => EMPTY);

withEachBuild(() => useBrief.setState(EMPTY));
