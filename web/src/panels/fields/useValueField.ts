import type { InputRef } from "antd";
import { useEffect, useRef } from "react";

import { registerValueField } from "../../interaction/focus";

/** The field that digits typed over the view go to, while it is that. */
export function useValueField(on = true) {
  const ref = useRef<InputRef>(null);
  useEffect(() => {
    if (!on) return undefined;
    registerValueField(ref.current?.input ?? null);
    return () => registerValueField(null);
  });
  return ref;
}
