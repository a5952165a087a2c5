import type { Vector3 } from "three";

import { editor, METRES, type ToolSession } from "../state/store";
import { shownUnit } from "../state/units";
import { token } from "../theme/theme";
import type { Camera } from "../viewport/Camera";
import type { Boards } from "../viewport/boards/Boards";
import type { Sight } from "../viewport/hit";
import type { Overlay } from "../viewport/overlay";
import type { PartView } from "../viewport/PartView";

export interface Pointer {
  /** in the pane's own pixels */
  readonly x: number;
  readonly y: number;
  readonly fine: boolean;
  /** Ctrl: the snap master stands the other way */
  readonly invert: boolean;
}

export interface ToolPlace {
  readonly session: ToolSession;
  readonly view: PartView;
  readonly camera: Camera;
  readonly sight: Sight;
  readonly boards: Boards;
}

/** An interactive tool: handles that are drawn, hit and dragged. It proposes values; the core makes the geometry. */
export interface Tool {
  /** The handle under the pointer, or null. */
  handleAt(place: ToolPlace, at: Pointer): string | null;
  /** A drag begins on a handle. */
  press(place: ToolPlace, handle: string, at: Pointer): void;
  /** The values the drag stands for. */
  drag(place: ToolPlace, at: Pointer): ToolSession["values"];
  /** The handle pressed belongs to another step: what to arm before the drag goes on with it. */
  instead?(place: ToolPlace, handle: string): (() => Promise<boolean>) | null;
  /** The pointer rests over a pane, nothing pressed. */
  hover?(place: ToolPlace, at: Pointer): void;
  /** A click beside the handles, for tools that are worked by clicks; whether it was taken. */
  click?(place: ToolPlace, at: Pointer): boolean;
  draw(place: ToolPlace, overlay: Overlay, hot: string | null): void;
}

/** The nearest step of 1, 2 or 5 times a power of ten that is at least ``least``. */
export function niceStep(least: number): number {
  const power = 10 ** Math.floor(Math.log10(Math.max(least, 1e-9)));
  return (least <= power ? 1 : least <= 2 * power ? 2 : least <= 5 * power ? 5 : 10) * power;
}

/** A dragged value in metres rounded to what a pixel can tell in the unit that is shown, in the build's. */
export function rounded(value: number, pixel: number, metres: number, fine: boolean): number {
  const unit = METRES[shownUnit(editor.get())];
  const step = niceStep((fine ? 0.1 : 1) * (pixel / unit));
  return Number(((Number((Math.round(value / unit / step) * step).toPrecision(9)) * unit) / metres).toPrecision(12));
}

/** How far along a line (point, direction of any length) a ray passes nearest. */
export function alongLine(point: Vector3, direction: Vector3, origin: Vector3, ray: Vector3): number {
  const w = point.clone().sub(origin);
  const a = direction.dot(direction);
  const b = direction.dot(ray);
  const c = ray.dot(ray);
  const denominator = a * c - b * b;
  if (denominator < 1e-9 * a * c) return 0;
  return (b * ray.dot(w) - c * direction.dot(w)) / denominator;
}

/** What keeps the trial from being, said where the hand is; the tray says it whole. */
export function fault(overlay: Overlay, at: Vector3): void {
  const told = editor.get().previewError;
  if (told !== null) overlay.label(at, `▲ ${told.length > 64 ? `${told.slice(0, 63)}…` : told}`, token("warn"), 1);
}

export function format(value: number): string {
  const text = Number(value.toFixed(4)).toString();
  const [whole, part = ""] = text.split(".");
  return `${whole}.${part.padEnd(2, "0")}`.replace("-", "−");
}
