import type { View } from "../../api/client";

export type ViewName = "perspective" | View;
export type Station = "brief" | "form" | "shape" | "wrap" | "handover";

/** A plane that cuts the views open: what lies beyond it along its axis is not drawn. */
export interface Section {
  readonly axis: 0 | 1 | 2;
  /** metres along the axis */
  readonly at: number;
  /** whether the lower side is taken away instead */
  readonly below: boolean;
}

/** Where the person is and looks. */
export interface Looking {
  /** the view at work: the one shown, or the one of the sheet last pointed at */
  view: ViewName;
  section: Section | null;
  station: Station;
  night: boolean;
  /** squares as parts lie on the texture square are drawn over them, in station Wrap */
  checker: boolean;
}

export const LOOKING: Looking = {
  view: "perspective",
  section: null,
  station: "brief",
  night: false,
  checker: false,
};
