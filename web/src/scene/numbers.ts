import type { Vector3 } from "three";

import { editor, METRES } from "../model/store";
import { shownUnit } from "../model/units";

/** The nearest step of 1, 2 or 5 times a power of ten that is at least ``least``. */
export function niceStep(least: number): number {
  const wanted = Math.max(least, 1e-9) * (1 - 1e-9); // what is a hair above a step is that step
  const power = 10 ** Math.floor(Math.log10(wanted));
  return (wanted <= power ? 1 : wanted <= 2 * power ? 2 : wanted <= 5 * power ? 5 : 10) * power;
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
