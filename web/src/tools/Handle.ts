/** The axes of a set of handles, by their place. */
export type Axis = 0 | 1 | 2;
export const AXES = ["x", "y", "z"] as const;

/**
 * What can be taken hold of. Of the common set: `free` the middle knob, `move` an arrow, `plane` the patch across an axis, `turn` an
 * arc, `stretch` the bar of one axis, `spread` the bar across an axis, `even` the bar of all three, `extrude` and `inset` the hollow
 * collars, `rim` the ring of soft selection. Of single tools: `knob`, `end` (the bar at an end of a base form), `line`, `from`, `to`
 * (of a slice), `section`.
 */
export type HandleKind =
  | "free" | "move" | "plane" | "turn" | "stretch" | "spread" | "even" | "extrude" | "inset" | "rim"
  | "knob" | "end" | "draw" | "line" | "from" | "to" | "section";

export interface Handle {
  readonly kind: HandleKind;
  /** the axis it stands on or across, for kinds that have one */
  readonly axis: Axis;
  /** which end of the axis */
  readonly side: 1 | -1;
}

export function handle(kind: HandleKind, axis: Axis = 0, side: 1 | -1 = 1): Handle {
  return { kind, axis, side };
}

export function sameHandle(a: Handle | null, b: Handle): boolean {
  return a !== null && a.kind === b.kind && a.axis === b.axis && a.side === b.side;
}

/** Which triple of a transform a handle changes; null where it changes none. */
export function fieldOf(h: Handle): "translate" | "rotate" | "scale" | null {
  if (h.kind === "turn") return "rotate";
  if (h.kind === "stretch" || h.kind === "spread" || h.kind === "even") return "scale";
  return h.kind === "free" || h.kind === "move" || h.kind === "plane" ? "translate" : null;
}
