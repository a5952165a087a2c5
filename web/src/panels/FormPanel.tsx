import { Button } from "antd";

import { startDrawing } from "../interaction/drawing";
import { focusView } from "../interaction/focus";
import { type PivotSpot, putPart, putPivot, type Spot } from "../interaction/placing";
import { accept } from "../interaction/session/storing";
import { placePart, setPart } from "../model/intents";
import { baseForms } from "../model/kinds";
import { partOf, unitOf, useEditor } from "../model/store";
import { change } from "../sync/build";
import { JointFields } from "./JointFields";
import { NewPartForm } from "./NewPartForm";
import { NumberField } from "./NumberField";

const ROWS = [
  { key: "translate", title: "place", empty: 0 },
  { key: "rotate", title: "turn", empty: 0 },
  { key: "scale", title: "scale", empty: 1 },
] as const;

const SPOTS: readonly { where: Spot; title: string }[] = [
  { where: "origin", title: "to the origin" },
  { where: "floor", title: "on the floor" },
  { where: "x", title: "centre x" },
  { where: "y", title: "centre y" },
  { where: "z", title: "centre z" },
];
const PIVOT_SPOTS: readonly { where: PivotSpot; title: string }[] = [
  { where: "pick centre", title: "pick's centre" },
  { where: "pick base", title: "pick's base" },
  { where: "part centre", title: "part's middle" },
  { where: "part base", title: "part's base" },
  { where: "origin", title: "origin" },
];

/** New parts, and where the current one stands in the build. */
export function FormPanel() {
  const part = useEditor((s) => partOf(s, s.current));
  const unit = useEditor(unitOf);
  const drawing = useEditor((s) => s.drawing);
  const forms = baseForms(useEditor((s) => s.kinds));
  return (
    <section aria-label="Form">
      <h2>New part</h2>
      <NewPartForm />
      <h3>Drawn by hand</h3>
      <p className="muted">Drag the footprint in a view, or with a face picked on that face; then its height.</p>
      <div className="forms" role="group" aria-label="Draw by hand">
        {forms.map(({ word, title }) => (
          <Button key={word} size="small" className={drawing?.form === word ? "on" : ""} onClick={() => void startDrawing(word).then(focusView)}>
            {title}
          </Button>
        ))}
      </div>
      {part !== null && (
        <>
          <h2>Placement of {part.name}</h2>
          {ROWS.map(({ key, title, empty }) => {
            const now = (part.placement?.[key] ?? [empty, empty, empty]) as number[];
            return (
              <div className="row" key={key}>
                <span>{title}</span>
                <span className="triple">
                  {(["x", "y", "z"] as const).map((axis, i) => (
                    <NumberField
                      key={axis}
                      label={`${title} ${axis}`}
                      unit={key === "translate" ? unit : null}
                      suffix={axis}
                      width={56}
                      value={now[i] as number}
                      onCommit={(v) => {
                        if (v === now[i]) return;
                        void accept().then(() => change("Place part", placePart(part.id ?? "", key, i, v), `${part.id}/placement/${key}`));
                      }}
                    />
                  ))}
                </span>
              </div>
            );
          })}
          <div className="forms" role="group" aria-label="Put the part">
            {SPOTS.map((s) => (
              <Button key={s.where} size="small" onClick={() => void putPart(s.where)}>
                {s.title}
              </Button>
            ))}
          </div>
          <p className="muted">Lengths in {unit}, turns in degrees.</p>
          <h2>Pivot of {part.name}</h2>
          <div className="row">
            <span>at</span>
            <span className="triple">
              {(["x", "y", "z"] as const).map((axis, i) => (
                <NumberField
                  key={axis}
                  label={`pivot ${axis}`}
                  unit={unit}
                  suffix={axis}
                  width={56}
                  value={part.pivot?.[i] ?? 0}
                  onCommit={(v) => void change("Move pivot", setPart(part.id ?? "", { pivot: [0, 1, 2].map((k) => (k === i ? v : (part.pivot?.[k] ?? 0))) }), `${part.id}/pivot`)}
                />
              ))}
            </span>
          </div>
          <div className="forms" role="group" aria-label="Put the pivot">
            {PIVOT_SPOTS.map((s) => (
              <Button key={s.where} size="small" onClick={() => void putPivot(s.where)}>
                {s.title}
              </Button>
            ))}
          </div>
          <h2>Joint of {part.name}</h2>
          <JointFields key={part.id} part={part} />
        </>
      )}
    </section>
  );
}
