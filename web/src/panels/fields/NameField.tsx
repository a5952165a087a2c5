import { Input } from "antd";
import { useState } from "react";

import { focusView } from "../../interaction/focus";

/** A name that is edited in place: Enter or leaving the field takes it, Esc leaves it as it was. */
export function NameField({ label, value, onCommit, onEnter }: { readonly label: string; readonly value: string; readonly onCommit: (name: string) => void; readonly onEnter?: () => void }) {
  const [typed, setTyped] = useState(value);
  return (
    <Input
      size="small"
      aria-label={label}
      style={{ width: 140 }}
      maxLength={200}
      value={typed}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={() => (typed.trim() === "" ? setTyped(value) : onCommit(typed.trim()))}
      onPressEnter={(e) => {
        e.currentTarget.blur();
        (onEnter ?? focusView)();
      }}
      onKeyDown={(e) => {
        if (e.key === "Escape") {
          setTyped(value);
          focusView();
        }
      }}
    />
  );
}
