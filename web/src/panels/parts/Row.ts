/** What every row of the list of parts is given. */
export interface Row {
  readonly depth: number;
  /** chosen */
  readonly here: boolean;
  /** chosen last of several: what the others are lined up with */
  readonly leads: boolean;
  /** something is dragged over it */
  readonly over: boolean;
  readonly renaming: boolean;
  readonly onRenaming: (on: boolean) => void;
  readonly onChoose: (e: React.MouseEvent) => void;
  readonly drag: {
    readonly onDragStart: (e: React.DragEvent) => void;
    readonly onDragOver: (e: React.DragEvent) => void;
    readonly onDragLeave: () => void;
    readonly onDrop: (e: React.DragEvent) => void;
  };
}

/** Rows are many and their doings the same each time: only what is seen of them counts. */
export function sameRow<R extends Row>(before: R, now: R): boolean {
  const seen = (r: R) => Object.entries(r).filter(([, v]) => typeof v !== "function" && !(typeof v === "object" && v !== null && "onDrop" in v));
  const [a, b] = [seen(before), seen(now)];
  return a.length === b.length && a.every(([key, value]) => now[key as keyof R] === value);
}
