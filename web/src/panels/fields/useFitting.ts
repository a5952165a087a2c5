import { type RefObject, useLayoutEffect } from "react";

/** Letters get smaller before a field gets wider. */
const SIZES = ["", "12px", "11px", "10px"] as const;

/** Keeps the text of a field whole: in smaller letters where it is too long for its place, in a wider place where those would be
 * too small. */
export function useFitting(frame: RefObject<HTMLElement | null>, text: string, width: number): void {
  useLayoutEffect(() => {
    const [place, input] = [frame.current, frame.current?.querySelector("input")];
    if (!place || !input) return;
    place.style.width = `${width}px`;
    for (const size of SIZES) {
      input.style.fontSize = size;
      if (input.scrollWidth <= input.clientWidth) return;
    }
    place.style.width = `${width + input.scrollWidth - input.clientWidth}px`;
  }, [frame, text, width]);
}
