import type { ToolName, ToolSession } from "../../model/store";
import type { Pointer } from "../../scene/pointer";
import type { Pane } from "../../scene/Sheet";
import type { Marks } from "../Marks";
import type { Views } from "../views";
import type { Gesture } from "./Gesture";
import { Turn } from "./navigate";
import { BrushSize, BrushStroke, PointPick } from "./shape";

/** Where a press came, and what its deed waits for. */
export interface Pressed {
  readonly views: Views;
  readonly marks: Marks;
  readonly pane: Pane;
  readonly at: Pointer;
  readonly inTurn: (deed: () => unknown) => Promise<unknown>;
}

/** How a tool at work takes presses that meet no handle; elements are not what is meant then. */
export interface ToolPresses {
  /** also where a press on the rim of a 3D view would turn it */
  readonly overRim: boolean;
  readonly cursor: string;
  /** null where the press is taken and comes to nothing, undefined where it is not for the tool */
  begin(pressed: Pressed): Gesture | null | undefined;
}

const OF_TOOLS: Readonly<Record<ToolName, ToolPresses>> = {
  brush: {
    overRim: true,
    cursor: "crosshair",
    begin: ({ views, pane, at, inTurn }) => {
      if (at.invert) return new BrushSize(views, pane, at);
      return BrushStroke.at(views, pane, at, inTurn) ?? (pane.camera.isFlat ? null : new Turn(views, pane, at));
    },
  },
  lattice: {
    overRim: false,
    cursor: "default",
    begin: ({ views, marks, pane, at }) => PointPick.at(views, marks, pane, at) ?? undefined,
  },
};

export function pressesOf(session: ToolSession | null): ToolPresses | null {
  return session === null ? null : (OF_TOOLS[session.tool] ?? null);
}
