import type { View } from "../../api/client";
import type { Triple } from "./choosing";

/** A form being drawn: first its footprint in a plane, then its height along the plane's normal. */
export interface Drawing {
  readonly form: string;
  readonly stage: "wait" | "footprint" | "height";
  /** the plane: its origin and the directions across, up and out of it, in the build and metres */
  readonly plane: { readonly origin: Triple; readonly across: Triple; readonly up: Triple; readonly out: Triple } | null;
  /** the view whose plane it is, null for a picked face */
  readonly view: View | null;
  /** corners of the footprint in the plane, metres */
  readonly from: readonly [number, number];
  readonly to: readonly [number, number];
  readonly height: number;
}

/** A path under way: drawn on from one of its ends. Its points are those of the document. */
export interface PathWork {
  /** null until its first point is stored */
  readonly part: string | null;
  readonly step: string | null;
  /** where points are put; told by the view that is pressed first */
  readonly plane: Drawing["plane"];
  /** whether the plane was chosen, or a point or number given in it; until then it is that of the view under the pointer */
  readonly fixed: boolean;
  readonly end: "last" | "first";
  /** a point of it that is picked */
  readonly picked: number | null;
  /** a closed stroke is drawn in one go */
  readonly freehand: boolean;
  /** whether points were added since it was taken up: from then on a click on its other end closes it */
  readonly added: boolean;
}

/** Forms and paths that are being drawn. */
export interface Outlining {
  drawing: Drawing | null;
  /** a path that is being drawn */
  path: PathWork | null;
}

export const OUTLINING: Outlining = {
  drawing: null,
  path: null,
};
