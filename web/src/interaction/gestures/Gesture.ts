import type { Pointer } from "../../scene/pointer";

/** What a press became. Moves come with the pointer in the pane that was pressed. */
export interface Gesture {
  move(at: Pointer): void;
  up(at: Pointer, keys: Modifiers): void | Promise<void>;
  /** Lost capture, a cancelled pointer, lost focus and Esc: as if it had never begun. */
  cancel(): void;
  /** A key pressed during it; whether it was taken. */
  key?(name: string): boolean;
}

export interface Modifiers {
  readonly shift: boolean;
  readonly alt: boolean;
  readonly ctrl: boolean;
}
