import { takesNumbers } from "../../model/session/typing";
import { commandFor, TYPED } from "./commands";
import { beginning } from "./startKind";
import { focusView, viewElement } from "../focus";

/** Where keys belong to what is focused there. */
const APART = '[role="dialog"], [role="menu"], [role="listbox"], [role="combobox"], [role="tree"], [role="slider"], .ant-modal, .ant-popover, .ant-dropdown, .ant-select-dropdown';
const TEXT = 'textarea, select, [contenteditable="true"], input:not([type="radio"], [type="checkbox"], [type="button"])';
const PRESSED = 'button, a, summary, [role="switch"], [role="tab"], [role="button"], input';
const ITS_OWN = ["Enter", " ", "ArrowLeft", "ArrowRight", "ArrowUp", "ArrowDown"];

function dialogOpen(): boolean {
  return [...document.querySelectorAll<HTMLElement>(".ant-modal-wrap")].some((wrap) => wrap.offsetParent !== null || wrap.style.display !== "none");
}

/** Keys mean the same wherever the focus is in the editor, but in fields, menus and dialogs; a pressed button keeps none. */
export function hearEverywhere(): () => void {
  const off = new AbortController();
  const options = { signal: off.signal };
  addEventListener("keydown", pass, options);
  addEventListener("click", giveBack, options);
  addEventListener("click", intoNearest, options);
  return () => off.abort();
}

function pass(e: KeyboardEvent): void {
  const view = viewElement();
  const at = e.target instanceof Element ? e.target : document.body;
  if (view === null || at === view || e.defaultPrevented || e.isComposing || e.key === "Tab" || at.closest(TEXT) !== null || at.closest(APART) !== null || dialogOpen()) return;
  const typed = (takesNumbers() || beginning() !== null) && TYPED.test(e.key) && !e.ctrlKey && !e.metaKey && !e.altKey;
  if (!typed && commandFor(e) === undefined) return;
  if (ITS_OWN.includes(e.key) && !e.ctrlKey && !e.metaKey && at.closest(PRESSED) !== null) return;
  focusView();
  const { key, code, ctrlKey, metaKey, shiftKey, altKey, repeat } = e;
  if (!view.dispatchEvent(new KeyboardEvent("keydown", { key, code, ctrlKey, metaKey, shiftKey, altKey, repeat, cancelable: true }))) e.preventDefault();
}

/** A press beside the fields of a row, as on a unit, means the nearest; the browser would take the row's first. */
function intoNearest(e: MouseEvent): void {
  const at = e.target instanceof Element ? e.target : null;
  const fields = [...(at?.closest("label")?.querySelectorAll("input") ?? [])];
  if (at === null || fields.length < 2 || at.closest('input, button, .ant-select, [role="switch"]') !== null) return;
  e.preventDefault();
  const off = (field: Element) => {
    const { left, right, top, bottom } = (field.closest(".numberfield") ?? field).getBoundingClientRect();
    return Math.hypot(Math.max(left - e.clientX, 0, e.clientX - right), Math.max(top - e.clientY, 0, e.clientY - bottom));
  };
  const nearest = fields.reduce((best, field) => (off(field) < off(best) ? field : best));
  nearest.focus();
  nearest.select();
}

/** After a click on a button the keys are the view's again; whoever goes by keyboard stays where they are. */
function giveBack(e: MouseEvent): void {
  if (e.detail === 0 || !(e.target instanceof Element) || e.target.closest(APART) !== null) return;
  setTimeout(() => {
    const at = document.activeElement;
    const left = at === null || at === document.body || (at.matches(PRESSED) && !at.matches(TEXT) && at.closest(APART) === null);
    if (left && !dialogOpen()) focusView();
  });
}
