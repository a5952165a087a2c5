import type { InputRef } from "antd";
import { type RefObject, useEffect, useRef } from "react";

/** The first field of a dialog has the focus from the first frame on: the dialog's own frame takes it a moment later otherwise.
 * What stands in the page itself takes it only from the view, or where nothing has it. */
export function useFirstField(stands: "dialog" | "page" = "dialog"): { readonly ref: RefObject<InputRef | null>; readonly afterOpenChange: (open: boolean) => void } {
  const ref = useRef<InputRef>(null);
  useEffect(() => {
    const take = () => {
      const field = ref.current;
      const { activeElement } = document;
      if (stands === "page" && activeElement !== document.body && !(activeElement instanceof HTMLCanvasElement)) return;
      if (field !== null && document.activeElement !== field.input) field.focus({ cursor: "all" });
    };
    take();
    const soon = [requestAnimationFrame(take), requestAnimationFrame(() => requestAnimationFrame(take))];
    return () => soon.forEach(cancelAnimationFrame);
  }, [stands]);
  return {
    ref,
    afterOpenChange: (open) => {
      const { activeElement } = document;
      const typing = activeElement instanceof HTMLInputElement;
      if (open && !typing) ref.current?.focus({ cursor: "all" });
    },
  };
}
