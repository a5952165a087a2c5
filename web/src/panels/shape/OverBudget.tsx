import { Button } from "antd";

import { accept } from "../../interaction/session/storing";
import { givers, overBudget, overText } from "../../model/session/budgets";
import { editor, useEditor } from "../../model/store";
import { counted } from "../../model/units";

/** What is over its budget, and which steps would give most back. */
export function OverBudget() {
  const build = useEditor((s) => s.build);
  const kinds = useEditor((s) => s.kinds);
  const over = build === null ? [] : overBudget(build);
  if (build === null || over.length === 0) return null;
  return (
    <ul className="findings" aria-label="Over budget">
      {over.map((o) => (
        <li key={o.name + o.budget}>
          <p className="fault">▲ {overText(o)}</p>
          {givers(build, kinds, o.parts).map((g) => (
            <Button key={g.part + g.step} size="small" title="About what it would give back; opens its step" onClick={() => void accept().then(() => editor.set({ current: g.part, openStep: g.step, pick: null }))}>
              {g.text}: about −{counted(g.triangles)}
            </Button>
          ))}
        </li>
      ))}
    </ul>
  );
}
