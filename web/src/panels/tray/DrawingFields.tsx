import { Button } from "antd";

import { finishDrawing, setFootprint } from "../../interaction/curves/drawForm";
import { backToView, focusView } from "../../interaction/focus";
import { useCalm } from "../../model/session/calm";
import { cancelDrawing, footprint, setDrawing } from "../../model/drawing/plane";
import { isFlat, isRound } from "../../model/steps/kinds";
import { kindOf, METRES, unitOf, useEditor } from "../../model/store";
import { settleFields } from "../../sync/expression";
import { NumberField } from "../fields/NumberField";
import { useValueField } from "../fields/useValueField";

/** A form being drawn: what to do next, and its sizes, which may be typed at any time. */
export function DrawingFields() {
  const drawing = useCalm((s) => s.drawing);
  const kind = useEditor((s) => (s.drawing === null ? null : kindOf(s, s.drawing.form)));
  const unit = useEditor(unitOf);
  const ref = useValueField();
  if (drawing === null) return null;
  const metres = METRES[unit];
  const told = (v: number) => Number((v / metres).toPrecision(9));
  const sizes = footprint(drawing);
  const standing = drawing.stage === "height";
  const make = () => {
    focusView();
    void settleFields().then(finishDrawing);
  };
  const field = (label: string, value: number, put: (metres: number) => void, first: boolean, last = false) => (
    <span className="field" key={label}>
      {label}
      <NumberField {...(first ? { inputRef: ref } : {})} label={`${label} of the drawn form`} unit={unit} width={84} value={told(value)} onTry={(v) => put(v * metres)} onCommit={(v) => put(v * metres)} onEnter={last ? make : focusView} onLeave={focusView} />
    </span>
  );
  const across = kind !== null && isRound(kind)
    ? [field("diameter", Math.min(...sizes), (v) => { setFootprint(0, v); setFootprint(1, v); }, !standing)]
    : [field("width", sizes[0], (v) => setFootprint(0, v), !standing), field("depth", sizes[1], (v) => setFootprint(1, v), false)];
  const flat = kind !== null && isFlat(kind);
  return (
    <div className="trayrow">
      <strong>{kind?.title ?? drawing.form}</strong>
      <span className="fields">
        {across}
        {!flat && field("height", drawing.height, (height) => setDrawing({ height }), standing, true)}
      </span>
      <span className="grow" />
      <Button className="tool" onClick={() => { void finishDrawing().then(backToView); }}>Make it</Button>
      <Button className="tool" type="text" onClick={() => { cancelDrawing(); focusView(); }}>Esc</Button>
    </div>
  );
}
