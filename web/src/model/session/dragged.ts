import { create } from "zustand";

/** What the last drag of a handle stored, until a hand does something else: what was changed by accident is seen at once. */
export const useDragged = create<{ told: string | null }>()(() => ({ told: null }));
