import { create } from "zustand";

import type { Triple } from "../store";

/** Where the pointer is, in the build and metres; NaN for a coordinate that the view does not tell. Apart from the editor's
 * state, since it changes with every move. */
export const usePointer = create<{ at: Triple | null }>()(() => ({ at: null }));
