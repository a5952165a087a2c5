import type { KeyboardEvent } from "react";

/** Choices beside each other are one stop of Tab; arrows go on to the next of them and choose it. */
export function radioKeys(e: KeyboardEvent<HTMLElement>): void {
  const by = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[e.key];
  const all = [...e.currentTarget.querySelectorAll<HTMLElement>('[role="radio"]')];
  const at = all.findIndex((radio) => radio === document.activeElement);
  if (by === undefined || at < 0) return;
  e.preventDefault();
  e.stopPropagation();
  const next = all[(at + by + all.length) % all.length];
  next?.click();
  setTimeout(() => next?.focus()); // what it does gives the keys to the view
}
