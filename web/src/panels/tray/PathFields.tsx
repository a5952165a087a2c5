import { Button, Select } from "antd";
import { useState } from "react";

import { focusView } from "../../interaction/focus";
import { addByLength, addPoint, closePath, endPath, movePoint, removePoint, setCorner } from "../../interaction/path";
import { type Corner, CORNERS, isClosed, pathOf, pointsOf } from "../../model/path";
import { type EditorState, partOf, type Triple, unitOf, useEditor } from "../../model/store";
import { settleFields } from "../../sync/expression";
import { NumberField } from "../NumberField";
import { useValueField } from "./KindFields";

function stepUnderWay(s: EditorState) {
  return pathOf(partOf(s, s.path?.part ?? null));
}

/** A path being drawn: the next point by length and angle or by its place, or the picked point's place and corner. */
export function PathFields() {
  const path = useEditor((s) => s.path);
  const step = useEditor(stepUnderWay);
  if (path === null) return null;
  const [points, closed] = [pointsOf(step), isClosed(step)];
  return (
    <div className="trayrow">
      <strong>{path.freehand ? "Freehand" : "Path"}</strong>
      {path.freehand ? null : path.picked !== null && path.picked < points.length ? <PickedPoint key={path.picked} index={path.picked} /> : !closed && <NextPoint />}
      <span className="grow" />
      {!closed && path.picked === null && points.length > 2 && <Button className="tool" onClick={() => void closePath().then(focusView)}>Close it</Button>}
      <Button className="tool" onClick={() => { endPath(); focusView(); }}>Done <kbd>Esc</kbd></Button>
    </div>
  );
}

function NextPoint() {
  const unit = useEditor(unitOf);
  const path = useEditor((s) => s.path);
  const first = useEditor((s) => stepUnderWay(s) === null);
  const ref = useValueField();
  const [length, setLength] = useState(10);
  const [angle, setAngle] = useState(0);
  const [place, setPlace] = useState<Triple>([0, 0, 0]);
  const byLength = async () => {
    await settleFields();
    setLength((l) => { setAngle((a) => { void addByLength(l, a); return a; }); return l; });
  };
  const byPlace = (at: Triple) => void addPoint(at).then(focusView);
  const axes = placed(path?.plane?.out ?? [0, 0, 1]);
  if (first) {
    return (
      <span className="fields">
        first point
        {axes.map((k, i) => (
          <NumberField key={k} {...(i === 0 ? { inputRef: ref } : {})} label={`${"xyz"[k]} of the first point`} unit={unit} suffix={"xyz"[k] as string} width={80} value={place[k] as number} onCommit={(v) => setPlace(place.map((o, j) => (j === k ? v : o)) as unknown as Triple)} onEnter={() => setPlace((p) => { byPlace(p); return p; })} />
        ))}
      </span>
    );
  }
  return (
    <span className="fields">
      next: length
      <NumberField inputRef={ref} label="length to the next point" unit={unit} suffix={unit} width={84} value={length} onTry={setLength} onCommit={setLength} onEnter={() => void byLength().then(focusView)} />
      angle
      <NumberField label="angle to the next point" unit={null} suffix="°" width={70} value={angle} onTry={setAngle} onCommit={setAngle} onEnter={() => void byLength().then(focusView)} />
    </span>
  );
}

/** The two axes of a plane that is drawn in, told by what looks out of it. */
function placed(out: readonly number[]): number[] {
  const away = [0, 1, 2].reduce((best, k) => (Math.abs(out[k] as number) > Math.abs(out[best] as number) ? k : best), 0);
  return [0, 1, 2].filter((k) => k !== away);
}

function PickedPoint({ index }: { readonly index: number }) {
  const unit = useEditor(unitOf);
  const step = useEditor(stepUnderWay);
  const point = pointsOf(step)[index];
  const ref = useValueField();
  if (point === undefined) return null;
  const corner = point.corner ?? "sharp";
  const sized = corner === "fillet" || corner === "chamfer";
  return (
    <span className="fields">
      point {index + 1}
      {[0, 1, 2].map((k) => (
        <NumberField key={k} {...(k === 0 && !sized ? { inputRef: ref } : {})} label={`${"xyz"[k]} of the point`} unit={unit} suffix={"xyz"[k] as string} width={76} value={point.at[k] as number} onCommit={(v) => void movePoint(index, point.at.map((o, j) => (j === k ? v : o)) as unknown as Triple)} onEnter={focusView} />
      ))}
      <Select size="small" aria-label="corner of the point" popupMatchSelectWidth={false} value={corner} options={CORNERS.map((o) => ({ ...o }))} onChange={(v: Corner) => void setCorner(index, v).then(focusView)} />
      {sized && <NumberField inputRef={ref} label={corner === "fillet" ? "radius of the corner" : "width of the corner"} unit={unit} suffix={unit} width={80} value={point.size ?? 0} onCommit={(v) => void setCorner(index, corner, Math.abs(v))} onEnter={focusView} />}
      <Button className="tool" onClick={() => void removePoint(index).then(focusView)}>Take out <kbd>Del</kbd></Button>
    </span>
  );
}
