import { isThrough, prefs, setLook, setThrough, type Shading, slotOf } from "../model/prefs";
import { editor, type Triple, type ViewName } from "../model/store";
import { useLaid } from "../model/wrap/layout";
import { tell } from "../sync/build";

const OPPOSITE: Record<ViewName, ViewName> = { perspective: "perspective", front: "back", back: "front", left: "right", right: "left", top: "bottom", bottom: "top" };

/** What the views themselves can do; the viewport says how. */
export interface ViewActions {
  frame(): void;
  framePick(): void;
  face(): void;
  /** other room is given to the views next: what is seen stays so */
  keepExtent(): void;
  /** the view under the pointer */
  under(): ViewName;
  middle(axis: 0 | 1 | 2): number;
  /** along which axis of a part what reaches so far is moved by so much to be seen beside itself, in the view at work */
  clearWay(part: string, at: Triple, size: number, by: number): Triple;
}

let actions: ViewActions | null = null;

export function registerViews(to: ViewActions | null): void {
  actions = to;
}

/** The way along which what is moved lies in sight, of the part's axes. */
export function clearWay(part: string, at: Triple, size: number, by: number): Triple {
  return actions?.clearWay(part, at, size, by) ?? [1, 0, 0];
}

export function frame(): void {
  actions?.frame();
}

export function framePick(): void {
  actions?.framePick();
}

/** Before the views are given other room: what is seen in them stays so. */
export function keepExtent(): void {
  actions?.keepExtent();
}

export function facePick(): void {
  if (editor.get().pick === null) tell("Pick a face to look straight at");
  else actions?.face();
}

/** One view, from there. */
export function look(view: ViewName): void {
  prefs.set({ layout: "one" });
  editor.set({ view });
}

/** Have a view in sight: on the sheet in its place, else alone. */
export function bring(view: ViewName): void {
  const { layout, sides } = prefs.get();
  if (layout === "sheet" && view !== "perspective") prefs.set({ sides: { ...sides, [slotOf(view)]: view } });
  editor.set({ view });
}

/** The view, or the square, under the pointer alone; once more puts the sheet back. */
export function maximise(): void {
  const { alone, at } = useLaid.getState();
  if (editor.get().station === "wrap" && (alone || at)) {
    useLaid.setState({ alone: !alone });
    return;
  }
  if (prefs.get().layout === "one") prefs.set({ layout: "sheet" });
  else look(actions?.under() ?? editor.get().view);
}

export function setLayout(layout: "sheet" | "one"): void {
  prefs.set({ layout });
}

/** Look from the other side in one place of the sheet, or in the view shown. */
export function swapSide(view = actions?.under() ?? editor.get().view): void {
  const to = OPPOSITE[view];
  if (to === view) return;
  const { sides, layout } = prefs.get();
  if (layout === "sheet") prefs.set({ sides: { ...sides, [slotOf(view)]: to } });
  if (layout === "one" || editor.get().view === view) editor.set({ view: to });
}

export function toggleThrough(): void {
  const { view } = editor.get();
  setThrough(view, !isThrough(view));
}

/** A shading for the view under the pointer; the same again goes back to solid. */
export function shade(shading: Shading): void {
  const slot = slotOf(actions?.under() ?? editor.get().view);
  setLook(slot, { shading: prefs.get().looks[slot].shading === shading ? "solid" : shading });
}

/** The cage over the surface in every view, or the surface alone. */
export function toggleCage(): void {
  const any = Object.values(prefs.get().looks).some((l) => l.showing === "both");
  for (const slot of ["top", "solid", "front", "right"] as const) setLook(slot, { showing: any ? "surface" : "both" });
}

/** Cut the views open along an axis; the same axis again turns the other side away, then none. */
export function cutOpen(axis: 0 | 1 | 2): void {
  const { section } = editor.get();
  if (section === null || section.axis !== axis) editor.set({ section: { axis, at: actions?.middle(axis) ?? 0, below: false } });
  else if (!section.below) editor.set({ section: { ...section, below: true } });
  else editor.set({ section: null });
}

/** Show the current part alone, or all of them again. */
export function isolate(): void {
  const { isolated, current } = editor.get();
  editor.set({ isolated: isolated !== null || current === null ? null : [current] });
}
