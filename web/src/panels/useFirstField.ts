import type { InputRef } from "antd";
import { type RefObject, useEffect, useRef } from "react";

/** The first field of a dialog has the focus from the first frame on: the dialog's own frame takes it a moment later otherwise. */
export function useFirstField(): { readonly ref: RefObject<InputRef | null>; readonly afterOpenChange: (open: boolean) => void } {
  const ref = useRef<InputRef>(null);
  useEffect(() => {
    const take = () => {
      const field = ref.current;
      if (field !== null && document.activeElement !== field.input) field.focus({ cursor: "all" });
    };
    take();
    const soon = [requestAnimationFrame(take), requestAnimationFrame(() => requestAnimationFrame(take))];
    return () => soon.forEach(cancelAnimationFrame);
  }, []);
  return {
    ref,
    afterOpenChange: (open) => {
      const { activeElement } = document;
      const typing = activeElement instanceof HTMLInputElement;
      if (open && !typing) ref.current?.focus({ cursor: "all" });
    },
  };
}
