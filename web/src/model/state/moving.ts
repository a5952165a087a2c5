import type { Part } from "../../api/client";
import type { PartMesh } from "../../api/packets";
import type { Triple } from "./choosing";

/** The room of a jointed part or group; lengths in the build's unit. */
export interface Clear {
  readonly key: string;
  readonly revision: number;
  readonly least: number;
  readonly at: number;
  /** first contacts on the way to either end of the range, from where the joint stood when it was asked */
  readonly touches: readonly [number | null, number | null];
  readonly rests: boolean;
  readonly where: Triple;
}

/** How one part or group stands to another; lengths in the build's unit. */
export interface Beside {
  readonly gap: number;
  readonly ends: readonly [Triple, Triple];
  readonly overlap: number | null;
  readonly low: Triple | null;
  readonly high: Triple | null;
  readonly revision: number;
}

/** Whole parts and groups on their way, and how they stand to each other. */
export interface Moving {
  /** handles move whole parts and groups instead of the pick */
  placing: boolean;
  /** handles move the part's pivot instead of the pick */
  pivoting: boolean;
  /** a joint that is being swung, of a part or group by its key: it is stored where the hand lets go */
  swung: { readonly key: string; readonly now: number } | null;
  /** parts and groups that are being moved as a whole, with where they would stand */
  moved: Readonly<Record<string, Part["placement"]>> | null;
  /** parts that follow what is being moved, as they would be */
  trailing: Readonly<Record<string, PartMesh["others"][string]>> | null;
  /** the move drags a copy out: what it is a copy of stays */
  copying: boolean;
  /** whether a place typed for a part sends a copy there */
  typesCopies: boolean;
  /** the last copy that was dragged out: what was added to each coordinate of its place, for the next one */
  lastCopy: { readonly by: Triple } | null;
  /** the room a joint has over its range, as the core told it, for the revision of its build */
  clear: Clear | null;
  /** the gap or overlap that was asked for, until the build changes */
  beside: Beside | null;
}

export const MOVING: Moving = {
  placing: false,
  pivoting: false,
  swung: null,
  moved: null,
  trailing: null,
  copying: false,
  typesCopies: false,
  lastCopy: null,
  clear: null,
  beside: null,
};
