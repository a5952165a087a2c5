import { create } from "zustand";

import type { components } from "../../api/schema";
import { withEachBuild } from "../store";

export type StockItem = components["schemas"]["StockItem"];

interface State {
  /** the shelf is open */
  readonly open: boolean;
  /** what is being kept, by its key; null while nothing is */
  readonly keeping: string | null;
  /** parts that came from an item, in its order, for linked copies of them */
  readonly put: Readonly<Record<string, readonly string[]>>;
}

export const useStock = create<State>()(() => ({ open: false, keeping: null, put: {} }));

withEachBuild(() => useStock.setState({ open: false, keeping: null, put: {} }));

/** Items whose name or tags begin a word with each word typed. */
export function sought(items: readonly StockItem[], text: string): StockItem[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  return items.filter((item) => {
    const told = [item.name, ...item.tags].join(" ").toLowerCase().split(/[\s-]+/);
    return words.every((w) => told.some((t) => t.startsWith(w)));
  });
}
