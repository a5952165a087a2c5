import { create } from "zustand";

import { withEachBuild } from "../store";

/** Whether the form for a new part stands open. */
export const useAdding = create<{ open: boolean }>()(() => ({ open: false }));

withEachBuild(() => useAdding.setState({ open: false }));
