export type PickKind = "faces" | "edges" | "vertices";
export type Triple = [number, number, number];

export interface Picked {
  readonly part: string;
  readonly kind: PickKind;
  /** element numbers in the cage of the part, ascending */
  readonly elements: readonly number[];
  /** the stable ids of the same elements, in the same order */
  readonly ids: readonly string[];
}

/** What the person means: parts, the pick, and what lights up. */
export interface Choosing {
  current: string | null;
  /** parts and groups chosen in the list, as `p:` or `g:` and their ids; the last one leads. Empty for the current part alone */
  chosen: readonly string[];
  pickKind: PickKind;
  /** a click takes whichever kind lies nearest */
  auto: boolean;
  pick: Picked | null;
  /** the pick before this one */
  lastPick: Picked | null;
  /** id of what was clicked last */
  clicked: string | null;
  /** how many elements lay under the last click, and which of them it took */
  stack: { readonly nth: number; readonly of: number } | null;
  /** elements of a part that are lit up, and where stood what a step had picked and finds no more, in the part's axes and metres */
  lit: { part: string; kind: PickKind; elements: readonly number[]; lost?: readonly (readonly Triple[])[] } | null;
  /** the step whose pick is being made anew, and the step the working mark stood below before */
  pickingAgain: { readonly part: string; readonly step: string; readonly mark: string | null } | null;
  /** parts shown alone, none for all */
  isolated: readonly string[] | null;
}

export const CHOOSING: Choosing = {
  current: null,
  chosen: [],
  pickKind: "faces",
  auto: false,
  pick: null,
  lastPick: null,
  clicked: null,
  stack: null,
  lit: null,
  pickingAgain: null,
  isolated: null,
};
