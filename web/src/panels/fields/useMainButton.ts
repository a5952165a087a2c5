import { useEffect } from "react";

/** The main button of the dialog on top has the focus once it can be pressed: Enter does it, in dialogs whose fields are worked by hand.
 * Who types or has pressed something else meanwhile keeps the focus there. */
export function useMainButton(ready: boolean): void {
  useEffect(() => {
    if (!ready) return undefined;
    const take = () => {
      const dialog = [...document.querySelectorAll<HTMLElement>('[role="dialog"]')].pop();
      const at = document.activeElement;
      const free = at === null || at === document.body || at === dialog || at instanceof HTMLCanvasElement || at.closest(".ant-modal-close") !== null || (at instanceof HTMLElement && at.tabIndex === -1) || at.matches('input[type="radio"]');
      if (free) dialog?.querySelector<HTMLButtonElement>(".ant-btn-primary")?.focus();
    };
    const soon = [0, 60].map((ms) => setTimeout(take, ms)); // the dialog's own frame takes it a moment after it opened
    return () => soon.forEach(clearTimeout);
  }, [ready]);
}
