import { deepEqual } from "fast-equals";
import { create } from "zustand";
import { persist, subscribeWithSelector } from "zustand/middleware";

import type { Unit, View } from "../api/client";
import type { ColourName } from "../theme/theme";
import type { ViewName } from "./store";

export type Layout = "sheet" | "one";
/** The four places of the sheet; a flat one shows its view or the opposite. */
export type Slot = "top" | "solid" | "front" | "right";
export type Shading = "solid" | "flat" | "ghost" | "wire";
/** The cage over its surface, one of them alone, or the surface beside the cage. */
export type Showing = "both" | "cage" | "surface" | "beside";
export type Sweep = "box" | "lasso" | "paint";
export type SnapKind = "grid" | "vertex" | "edge" | "face" | "board" | "guide" | "axes" | "angle" | "scale";
export type Frame = "part" | "build" | "normal";
export type PivotKind = "pick" | "each" | "part" | "origin";
/** On which plane points are kept; "none" keeps them where a mirror below cuts, "free" nowhere. */
export type Hold = "none" | "free" | "x" | "y" | "z";

export interface PaneLook {
  readonly shading: Shading;
  readonly showing: Showing;
  readonly edges: boolean;
}

export interface Soft {
  readonly on: boolean;
  /** metres */
  readonly radius: number;
  readonly fullness: number;
  readonly connected: boolean;
  /** weights drawn by hand, as [distance share, weight]; null for the fullness curve */
  readonly curve: readonly (readonly [number, number])[] | null;
}

/** How one person likes to work, at all or at the build that is open. Kept by the browser; nothing here changes a build. */
export interface Prefs {
  layout: Layout;
  sides: { readonly top: View; readonly front: View; readonly right: View };
  /** where the sheet is divided, as shares of its width and height */
  split: readonly [number, number];
  looks: Readonly<Record<Slot, PaneLook>>;
  through: { readonly flat: boolean; readonly solid: boolean };
  /** whether a box takes only what lies wholly inside */
  inside: boolean;
  sweep: Sweep;
  faceDots: boolean;
  shown: { readonly grid: boolean; readonly floor: boolean; readonly origin: boolean; readonly axes: boolean; readonly lines: boolean; readonly fit: boolean; readonly sizes: boolean; readonly guides: boolean };
  /** metres between the points that grid snapping knows */
  gridStep: number;
  angleStep: number;
  scaleStep: number;
  snap: Readonly<Record<SnapKind, boolean>> & { readonly on: boolean };
  frame: Frame;
  pivot: PivotKind;
  hold: Hold;
  /** what copies that are dragged out are: linked, or with recipes of their own */
  copies: "linked" | "plain";
  /** moves follow the neighbouring edges */
  alongEdges: boolean;
  soft: Soft;
  pointer: "mouse" | "trackpad";
  /** drawn with half the points each way, for machines that draw slowly */
  coarse: boolean;
  colours: Readonly<Partial<Record<ColourName, string>>>;
  /** ids of commands the person wants at hand */
  favourites: readonly string[];
  /** values typed lately, by what they measure, newest first */
  recent: Readonly<Record<string, readonly number[]>>;
  /** keys the person changed, by command id */
  keys: Readonly<Record<string, string>>;
  /** how each build was left, by its id, the last one last */
  builds: Readonly<Record<string, Partial<Prefs>>>;
}

const LOOK: PaneLook = { shading: "solid", showing: "both", edges: true };

export const PREFS: Prefs = {
  layout: "sheet",
  sides: { top: "top", front: "front", right: "right" },
  split: [0.5, 0.42],
  looks: { top: LOOK, solid: LOOK, front: LOOK, right: LOOK },
  through: { flat: true, solid: false },
  inside: true,
  sweep: "box",
  faceDots: false,
  shown: { grid: true, floor: true, origin: false, axes: true, lines: true, fit: true, sizes: true, guides: true },
  gridStep: 0.005,
  angleStep: 15,
  scaleStep: 0.1,
  snap: { on: false, grid: true, vertex: true, edge: false, face: false, board: true, guide: true, axes: false, angle: true, scale: true },
  frame: "part",
  pivot: "pick",
  hold: "none",
  copies: "linked",
  alongEdges: false,
  soft: { on: false, radius: 0.05, fullness: 0.5, connected: false, curve: null },
  pointer: "mouse",
  coarse: false,
  colours: {},
  favourites: [],
  recent: {},
  keys: {},
  builds: {},
};

/** metres */
const QUARTER_INCH = 0.00635;

/** What a new build begins with plain, and keeps for itself. */
const OF_BUILD = ["layout", "sides", "split", "looks", "through", "sweep", "shown", "frame", "pivot", "hold", "copies", "alongEdges", "soft", "gridStep"] as const;
type OfBuild = Pick<Prefs, (typeof OF_BUILD)[number]>;

function ofBuild(p: OfBuild): OfBuild {
  return Object.fromEntries(OF_BUILD.map((key) => [key, p[key]])) as unknown as OfBuild;
}

/** So many builds are remembered, those worked on last. */
const MOST_BUILDS = 60;

const NESTED = ["sides", "looks", "through", "shown", "snap", "soft"] as const;

const KEY = "rhytonic.workbench";

export const usePrefs = create<Prefs>()(
  subscribeWithSelector(
    persist(() => PREFS, {
      name: KEY,
      version: 1,
      partialize: (p) => Object.fromEntries(Object.entries(p).filter(([key]) => !(OF_BUILD as readonly string[]).includes(key))),
      // how the open build is seen stays; what a later version adds inside a group stands at its default
      merge: (kept, now) => filled({ ...ofBuild(now), ...((kept ?? {}) as Partial<Prefs>) }),
    }),
  ),
);

export const prefs = { get: usePrefs.getState, set: usePrefs.setState, subscribe: usePrefs.subscribe };

function filled(some: Partial<Prefs>): Prefs {
  const out: Prefs = { ...PREFS, ...some };
  for (const key of NESTED) Object.assign(out, { [key]: { ...PREFS[key], ...some[key] } });
  return out;
}

let open: string | null = null;

/** The grid of a build in inches goes by quarters of one, until told otherwise. */
export function gridIn(unit: Unit): void {
  const { gridStep } = prefs.get();
  if ((unit === "in" || unit === "ft") && gridStep === PREFS.gridStep) prefs.set({ gridStep: QUARTER_INCH });
}

/** A build is opened, or left: it is seen and worked on as it was when it was left, a new one plainly. */
export function beginOn(build: string | null): void {
  open = null;
  const { builds } = prefs.get();
  prefs.set(ofBuild(filled(build === null ? {} : (builds[build] ?? {}))));
  open = build;
}

prefs.subscribe((now, before) => {
  if (open === null || OF_BUILD.every((key) => now[key] === before[key])) return;
  const { [open]: _, ...others } = now.builds;
  const kept = Object.fromEntries(OF_BUILD.filter((key) => !deepEqual(now[key], PREFS[key])).map((key) => [key, now[key]]));
  prefs.set({ builds: Object.fromEntries([...Object.entries(others), [open, kept]].slice(-MOST_BUILDS)) });
});

// another window of the same browser has changed what both go by
globalThis.window?.addEventListener("storage", (e) => {
  if (e.key === null || e.key === KEY) void usePrefs.persist.rehydrate();
});

export function slotOf(view: ViewName): Slot {
  if (view === "perspective") return "solid";
  return view === "top" || view === "bottom" ? "top" : view === "front" || view === "back" ? "front" : "right";
}

export function isThrough(view: ViewName): boolean {
  const { flat, solid } = prefs.get().through;
  return view === "perspective" ? solid : flat;
}

export function setThrough(view: ViewName, on: boolean): void {
  prefs.set({ through: { ...prefs.get().through, [view === "perspective" ? "solid" : "flat"]: on } });
}

export function setLook(slot: Slot, look: Partial<PaneLook>): void {
  const { looks } = prefs.get();
  prefs.set({ looks: { ...looks, [slot]: { ...looks[slot], ...look } } });
}

export function setSnap(values: Partial<Prefs["snap"]>): void {
  prefs.set({ snap: { ...prefs.get().snap, ...values } });
}

export function setShown(values: Partial<Prefs["shown"]>): void {
  prefs.set({ shown: { ...prefs.get().shown, ...values } });
}

const MOST_RECENT = 8;

/** Keep a typed value, to be offered again. */
export function remember(quantity: string, value: number): void {
  const { recent } = prefs.get();
  const held = recent[quantity] ?? [];
  prefs.set({ recent: { ...recent, [quantity]: [value, ...held.filter((v) => v !== value)].slice(0, MOST_RECENT) } });
}

export function toggleFavourite(id: string): void {
  const { favourites } = prefs.get();
  prefs.set({ favourites: favourites.includes(id) ? favourites.filter((f) => f !== id) : [...favourites, id] });
}
