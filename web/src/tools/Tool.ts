import type { Vector3 } from "three";

import { editor, type ToolSession, type Triple, type Values } from "../model/store";
import type { Boards } from "../scene/boards/Boards";
import type { Camera } from "../scene/Camera";
import type { Sight } from "../scene/hit";
import type { Overlay } from "../scene/overlay";
import type { PartView } from "../scene/PartView";
import type { Pointer } from "../scene/pointer";
import type { Handle } from "./Handle";

export interface ToolPlace {
  readonly session: ToolSession;
  readonly view: PartView;
  readonly camera: Camera;
  readonly sight: Sight;
  readonly boards: Boards;
}

/** What a click beside the handles decided: values to try, or to store while the tool stays for the next. */
export interface Click {
  readonly values: Values;
  readonly stores: boolean;
}

/** The handle pressed belongs to another step: what is to be armed before the drag goes on with it. */
export type Wish =
  | { readonly arm: "inset" }
  | { readonly arm: "extrude"; readonly along: string | Triple }
  | { readonly arm: "step"; readonly part: string; readonly step: string }
  | { readonly arm: "again" };

/** An interactive tool: handles that are drawn, hit and dragged. It tells values; whoever holds it tries and stores them. */
export interface Tool {
  /** The handle under the pointer, or null. */
  handleAt(place: ToolPlace, at: Pointer): Handle | null;
  /** A drag begins on a handle. */
  press(place: ToolPlace, handle: Handle, at: Pointer): void;
  /** The values the drag stands for. */
  drag(place: ToolPlace, at: Pointer): Values;
  /** What a press on a handle asks for first. */
  instead?(place: ToolPlace, handle: Handle): Wish | null;
  /** The pointer rests over a pane, nothing pressed: what a click would do, null where that is as before. */
  hover?(place: ToolPlace, at: Pointer): Values | null;
  /** A click beside the handles, for tools that are worked by clicks; null where it means nothing to the tool. */
  click?(place: ToolPlace, at: Pointer): Click | null;
  draw(place: ToolPlace, overlay: Overlay, hot: Handle | null): void;
}

/** What keeps the trial from being, said where the hand is. */
export function fault(overlay: Overlay, at: Vector3): void {
  const told = editor.get().previewError;
  if (told !== null) overlay.fault(at, told);
}
