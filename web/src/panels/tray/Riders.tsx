import { Select } from "antd";

import { focusView } from "../../interaction/focus";
import { editor, type ToolSession } from "../../model/store";
import { Tip } from "../fields/Tip";

/** The other parts chosen with the one at work, which are to follow it: stiff pieces riding on it, or deformed as it is. */
export function Riders({ session }: { readonly session: ToolSession }) {
  const count = session.riders.length;
  if (count === 0 || session.stored !== null) return null;
  return (
    <Tip title={`${count === 1 ? "The other part that is chosen gets" : "The other parts that are chosen get"} a step that follows this one`}>
      <span className="field">
        <Select
          size="small"
          aria-label="how the other parts follow"
          popupMatchSelectWidth={false}
          value={session.ridesAs}
          options={[{ value: "rigid", label: `+${count} carried whole` }, { value: "deformed", label: `+${count} deformed too` }]}
          onChange={(ridesAs) => {
            const now = editor.get().session;
            if (now !== null) editor.set({ session: { ...now, ridesAs } });
            focusView();
          }}
        />
      </span>
    </Tip>
  );
}
