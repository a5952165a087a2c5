import { create } from "zustand";

import { editor } from "../store";

/** What the last drag of a handle stored, until a hand does something else: what was changed by accident is seen at once. It holds for
 * the revision that it left: undone or changed elsewhere it is told no more. */
export const useDragged = create<{ told: string | null; revision: number | null }>()(() => ({ told: null, revision: null }));

export function tellDragged(told: string): void {
  useDragged.setState({ told, revision: editor.get().build?.revision ?? null });
}
