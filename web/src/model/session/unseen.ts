import { create } from "zustand";

/** How many of the picked elements the view at work does not show; null while unknown. Worked out when hands rest. */
export const useUnseen = create<{ count: number | null }>()(() => ({ count: null }));
