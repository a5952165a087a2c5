/** Where a pointer is over a view, and what is held with it. */
export interface Pointer {
  /** in the pane's own pixels */
  readonly x: number;
  readonly y: number;
  readonly fine: boolean;
  /** Ctrl: the snap master stands the other way */
  readonly invert: boolean;
  /** of a pen, 0…1; a mouse presses fully */
  readonly pressure?: number;
}
