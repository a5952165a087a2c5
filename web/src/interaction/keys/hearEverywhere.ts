import { editor } from "../../model/store";
import { commandFor, TYPED } from "./commands";
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
  return () => off.abort();
}

function pass(e: KeyboardEvent): void {
  const view = viewElement();
  const at = e.target instanceof Element ? e.target : document.body;
  if (view === null || at === view || e.defaultPrevented || e.isComposing || e.key === "Tab" || at.closest(TEXT) !== null || at.closest(APART) !== null || dialogOpen()) return;
  const { session, drawing, path } = editor.get();
  const typed = (session !== null || drawing !== null || path !== null) && TYPED.test(e.key) && !e.ctrlKey && !e.metaKey && !e.altKey;
  if (!typed && commandFor(e) === undefined) return;
  if (ITS_OWN.includes(e.key) && !e.ctrlKey && !e.metaKey && at.closest(PRESSED) !== null) return;
  focusView();
  const { key, code, ctrlKey, metaKey, shiftKey, altKey, repeat } = e;
  if (!view.dispatchEvent(new KeyboardEvent("keydown", { key, code, ctrlKey, metaKey, shiftKey, altKey, repeat, cancelable: true }))) e.preventDefault();
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
