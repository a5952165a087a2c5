import { type RefObject, useLayoutEffect } from "react";

/** Letters get smaller before a field gets wider. */
const SIZES = ["", "12px", "11px", "10px"] as const;
/** Room a field takes round its text, and the most a letter of the usual size takes, in pixels. */
const ROUND = 24;
const WIDEST: Readonly<Record<string, number>> = { " ": 4, ".": 4, ",": 4, m: 12 };
const WIDE = 8;

/** Whether a text fits without looking: to look, the page has to be laid out, and there are many fields. */
function surelyFits(text: string, width: number): boolean {
  return [...text].reduce((sum, letter) => sum + (WIDEST[letter] ?? WIDE), ROUND) <= width;
}

/** Keeps the text of a field whole: in smaller letters where it is too long for its place, in a wider place where those would be
 * too small. */
export function useFitting(frame: RefObject<HTMLElement | null>, text: string, width: number): void {
  useLayoutEffect(() => {
    const [place, input] = [frame.current, frame.current?.querySelector("input")];
    if (!place || !input) return;
    place.style.width = `${width}px`;
    input.style.fontSize = "";
    if (surelyFits(text, width)) return;
    for (const size of SIZES) {
      input.style.fontSize = size;
      if (input.scrollWidth <= input.clientWidth) return;
    }
    place.style.width = `${width + input.scrollWidth - input.clientWidth}px`;
  }, [frame, text, width]);
}
