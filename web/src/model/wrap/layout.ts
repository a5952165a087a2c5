import { create } from "zustand";

import type { PartLayout } from "../../api/client";

/** How the current part lies on the texture square, as the core told it for the mesh its key names. */
interface Laid {
  readonly part: string | null;
  readonly key: string;
  readonly layout: PartLayout | null;
  /** what is shown by hatching: nothing, or how far faces are stretched */
  readonly shows: "pieces" | "stretch";
  /** the square stands in place of the views, not beside them */
  readonly alone: boolean;
  /** what the pointer is over, in words */
  readonly under: string;
  /** the pointer rests on the square */
  readonly at: boolean;
}

export const useLaid = create<Laid>(() => ({ part: null, key: "", layout: null, shows: "pieces", alone: false, under: "", at: false }));

/** Where a pattern's picture is, no larger than asked. */
export function patternPicture(build: string, pattern: string, revision: number, most: number): string {
  return `/api/builds/${build}/patterns/${encodeURIComponent(pattern)}/picture?most=${most}&r=${revision}`;
}
