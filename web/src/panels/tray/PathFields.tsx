import { Button, Select } from "antd";
import { useEffect, useRef, useState } from "react";

import { focusView } from "../../interaction/focus";
import { addByLength, addPoint, closePath, endPath, movePoint, removePoint, setCorner } from "../../interaction/curves/drawPath";
import { type Corner, CORNERS, isClosed, pathOf, pointsOf } from "../../model/drawing/pathPoints";
import { type EditorState, partOf, type Triple, unitOf, useEditor } from "../../model/store";
import { settleFields } from "../../sync/expression";
import { NumberField } from "../fields/NumberField";
import { useValueField } from "./KindFields";

function stepUnderWay(s: EditorState) {
  return pathOf(partOf(s, s.path?.part ?? null));
}

/** A path being drawn: the next point by length and angle or by its place, or the picked point's place and corner. */
export function PathFields() {
  const path = useEditor((s) => s.path);
  const step = useEditor(stepUnderWay);
  const elsewhere = useEditor((s) => s.path?.part != null && s.current !== s.path.part && partOf(s, s.path.part) !== null);
  useEffect(() => {
    if (elsewhere) endPath(); // another part is at work now
  }, [elsewhere]);
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

/** The next point by length and angle, or by its place; the first one by its place. */
function NextPoint() {
  const unit = useEditor(unitOf);
  const path = useEditor((s) => s.path);
  const step = useEditor(stepUnderWay);
  const ref = useValueField();
  const latest = useRef({ length: 10, angle: 0, place: {} as Record<number, number> });
  const [, redraw] = useState(0);
  const put = (values: Partial<typeof latest.current>) => {
    latest.current = { ...latest.current, ...values };
    redraw((n) => n + 1);
  };
  const points = pointsOf(step);
  const from = (path?.end === "first" ? points[0] : points.at(-1))?.at ?? [0, 0, 0];
  const byLength = () => void settleFields().then(() => addByLength(latest.current.length, latest.current.angle)).then(focusView);
  const byPlace = () => {
    void settleFields()
      .then(() => addPoint(from.map((v, k) => latest.current.place[k] ?? v) as unknown as Triple))
      .then(() => put({ place: {} }))
      .then(focusView);
  };
  const first = points.length === 0;
  return (
    <span className="fields">
      {first ? "first point" : "next: length"}
      {!first && (
        <>
          <NumberField inputRef={ref} label="length to the next point" unit={unit} suffix={unit} width={84} value={latest.current.length} onTry={(length) => put({ length })} onCommit={(length) => put({ length })} onEnter={byLength} />
          angle
          <NumberField label="angle to the next point" unit={null} suffix="°" width={66} value={latest.current.angle} onTry={(angle) => put({ angle })} onCommit={(angle) => put({ angle })} onEnter={byLength} />
          or at
        </>
      )}
      {placed(path?.plane?.out ?? [0, 0, 1]).map((k, i) => {
        const value = latest.current.place[k] ?? (from[k] as number);
        const keep = (v: number) => put({ place: { ...latest.current.place, [k]: v } });
        return <NumberField key={k} {...(first && i === 0 ? { inputRef: ref } : {})} label={`${"xyz"[k]} of the ${first ? "first" : "next"} point`} unit={unit} suffix={"xyz"[k] as string} width={76} value={value} onTry={keep} onCommit={keep} onEnter={byPlace} />;
      })}
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
