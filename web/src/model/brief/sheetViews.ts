import type { View } from "../../api/client";
import type { Place } from "../places/boardPlane";

/** A frame round one view of a drawing: two opposite corners, across and up. */
export interface Framed {
  readonly a: Place;
  readonly b: Place;
}

/** Where a view stands about the front one on a drawing in third-angle projection (ISO 5456-2, projection method 3), and how much
 * it says that another is the front one: views from above and from the right are drawn most. */
const PLACES: readonly { readonly view: View; readonly across: -1 | 0 | 1; readonly up: -1 | 0 | 1; readonly weight: number }[] = [
  { view: "top", across: 0, up: 1, weight: 3 },
  { view: "right", across: 1, up: 0, weight: 3 },
  { view: "left", across: -1, up: 0, weight: 2 },
  { view: "bottom", across: 0, up: -1, weight: 1 },
];

interface Box {
  readonly low: Place;
  readonly high: Place;
}

function boxOf({ a, b }: Framed): Box {
  return { low: [Math.min(a[0], b[0]), Math.min(a[1], b[1])], high: [Math.max(a[0], b[0]), Math.max(a[1], b[1])] };
}

/** How much of the smaller extent two frames share along an axis. */
function shared(p: Box, q: Box, k: 0 | 1): number {
  const both = Math.min(p.high[k], q.high[k]) - Math.max(p.low[k], q.low[k]);
  return both / Math.max(Math.min(p.high[k] - p.low[k], q.high[k] - q.low[k]), 1e-12);
}

/** Where a frame stands beside another in line with it, or null. */
function beside(front: Box, other: Box): (typeof PLACES)[number] | null {
  const middle = (box: Box, k: 0 | 1) => (box.low[k] + box.high[k]) / 2;
  const [across, up] = [shared(front, other, 0) > 0.5, shared(front, other, 1) > 0.5];
  if (across === up) return null;
  const way = Math.sign(middle(other, up ? 0 : 1) - middle(front, up ? 0 : 1));
  return PLACES.find((p) => (up ? p.across === way : p.up === way)) ?? null;
}

/** Which view each frame is likely to hold, by how they stand to each other. */
export function guessViews(frames: readonly Framed[]): View[] {
  const boxes = frames.map(boxOf);
  const score = (front: Box) => boxes.reduce((sum, other) => sum + (other === front ? 0 : (beside(front, other)?.weight ?? 0)), 0);
  const front = [...boxes].sort((p, q) => score(q) - score(p))[0];
  if (front === undefined) return [];
  const taken = new Set<View>(["front"]);
  const order: readonly View[] = ["right", "top", "left", "back", "bottom", "front"];
  return boxes.map((box) => {
    if (box === front) return "front";
    const told = beside(front, box)?.view;
    // a second view on one side is the one from behind
    const view = told !== undefined && !taken.has(told) ? told : (order.find((v) => !taken.has(v) && (told === undefined || v === "back")) ?? "back");
    taken.add(view);
    return view;
  });
}
