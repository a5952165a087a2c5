import { cloneElement, type ReactElement, useEffect, useLayoutEffect, useRef, useState } from "react";

/** A hint waits so many milliseconds, so that it never comes in the way of a hand that knows where it goes. */
const WAIT = 700;
const GAP = 6;

/** What a control does, told on resting over it. What a menu or popover round it gives its child goes on to the control. */
export function Tip({ title, children, ...rest }: { readonly title: string; readonly children: ReactElement<object> }) {
  return cloneElement(children, { ...rest, ...children.props, "data-tip": title || undefined } as object);
}

/** Where a hint's corner goes so that it covers no other control: above the whole tray, beside panels, below bars. */
function placeFor(element: HTMLElement, hint: DOMRect): { left: number; top: number } {
  const at = element.getBoundingClientRect();
  const [middleX, middleY] = [at.left + (at.width - hint.width) / 2, at.top + (at.height - hint.height) / 2];
  const tray = element.closest(".tray");
  const [left, top] =
    tray !== null ? [middleX, tray.getBoundingClientRect().top - hint.height - GAP]
    : element.closest(".right") ? [at.left - hint.width - GAP, middleY]
    : element.closest(".left") ? [at.right + GAP, middleY]
    : element.closest(".topbar, .panebar, .viewbar") ? [middleX, at.bottom + GAP]
    : [middleX, at.top < hint.height + 2 * GAP ? at.bottom + GAP : at.top - hint.height - GAP];
  return {
    left: Math.max(GAP, Math.min(left, innerWidth - hint.width - GAP)),
    top: Math.max(GAP, Math.min(top, innerHeight - hint.height - GAP)),
  };
}

/** The page's one hint: of the control that the pointer rests on. It takes no click, no key, and goes with the first press:
 * what was pressed is known, and what it opened is not to be covered. */
export function Hint() {
  const [over, setOver] = useState<HTMLElement | null>(null);
  const hint = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const off = new AbortController();
    let [at, waiting]: [Element | null, number] = [null, 0];
    const hide = () => {
      clearTimeout(waiting);
      setOver(null);
    };
    const listen = (type: "pointerover" | "pointerdown" | "keydown" | "wheel", hear: (e: Event) => void) =>
      document.addEventListener(type, hear, { signal: off.signal, capture: true, passive: true });
    listen("pointerover", (e) => {
      const found = e.target instanceof Element ? e.target.closest<HTMLElement>("[data-tip]") : null;
      if (found === at) return;
      at = found;
      hide();
      if (found !== null) waiting = window.setTimeout(() => found.isConnected && setOver(found), WAIT);
    });
    for (const type of ["pointerdown", "keydown", "wheel"] as const) listen(type, hide);
    document.documentElement.addEventListener("pointerleave", () => { at = null; hide(); }, { signal: off.signal });
    return () => off.abort();
  }, []);
  useLayoutEffect(() => {
    const shown = hint.current;
    if (over === null || shown === null) return;
    const { left, top } = placeFor(over, shown.getBoundingClientRect());
    shown.style.left = `${left}px`;
    shown.style.top = `${top}px`;
    over.setAttribute("aria-describedby", shown.id);
    return () => over.removeAttribute("aria-describedby");
  }, [over]);
  return over && <div ref={hint} id="hint" role="tooltip" className="resthint">{over.dataset.tip}</div>;
}
