/**
 * Tells the browser's performance timeline how long something took, for whoever observes it; only the last of each name is
 * kept, since the page stays open for hours.
 *
 * `rhytonic:answer` — client work on one preview answer, without drawing and fetching; `rhytonic:fetched` — one preview on its way; `rhytonic:shown` — from a trial being
 * asked for to its being drawn; `rhytonic:drawn` — one frame.
 */
export function measure(name: string, start: number): void {
  performance.clearMeasures(name);
  performance.measure(name, { start, end: performance.now() });
}
