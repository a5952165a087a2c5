import { Button, Select } from "antd";
import { useEffect, useState } from "react";
import { flushSync } from "react-dom";

import { backToView, focusValueField, focusView } from "../../interaction/focus";
import { addByLength, addPoint, closePath, drawIn, endPath, inTurn, movePoint, pointsPut, removePoint, setCorner, waiting } from "../../interaction/curves/drawPath";
import { type Corner, CORNERS, isClosed, pathOf, pointsOf, setPath, underWay } from "../../model/drawing/pathPoints";
import { editor, type EditorState, partOf, type Triple, unitOf, useEditor } from "../../model/store";
import { NumberField } from "../fields/NumberField";
import { useValueField } from "../fields/useValueField";

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
      {!closed && path.picked === null && points.length > 2 && <Button className="tool" onClick={() => void pointsPut().then(closePath).then(backToView)}>Close it</Button>}
      <Button className="tool" onClick={() => void pointsPut().then(() => { endPath(); focusView(); })}>Done <kbd>Esc</kbd></Button>
    </div>
  );
}

/** What was typed for one point. What was not typed for it is as for the point before, whose fields may still be read then. */
interface Typed {
  length?: number;
  angle?: number;
  /** by axis; what is not typed stays where the point before it stands */
  place: Record<number, number>;
  /** something that is no number was typed: there is no such point */
  bad?: boolean;
  readonly before: Typed | null;
}

function lengthOf(typed: Typed): number {
  return typed.length ?? (typed.before === null ? 10 : lengthOf(typed.before));
}

function angleOf(typed: Typed): number {
  return typed.angle ?? (typed.before === null ? 0 : angleOf(typed.before));
}

/** The next point, and the one after it: Enter puts a point on its way and the fields are the next one's at once. */
function NextPoint() {
  const [{ number, before }, go] = useState<{ readonly number: number; readonly before: Typed | null }>({ number: 0, before: null });
  const next = (typed: Typed) => {
    flushSync(() => go({ number: number + 1, before: typed })); // itself, not a copy: it may still be read
    focusValueField();
  };
  return <PointFields key={number} before={before} onNext={next} />;
}

/** One point by length and angle, or by its place; the first one by its place. */
function PointFields({ before, onNext }: { readonly before: Typed | null; readonly onNext: (typed: Typed) => void }) {
  const unit = useEditor(unitOf);
  const path = useEditor((s) => s.path);
  const step = useEditor(stepUnderWay);
  const ref = useValueField();
  const [typed] = useState<Typed>(() => ({ place: {}, before }));
  const [, redraw] = useState(0);
  const put = (values: Partial<Typed>) => {
    Object.assign(typed, values);
    setPath({ fixed: true });
    redraw((n) => n + 1);
  };
  const spoil = () => {
    typed.bad = true;
  };
  const points = pointsOf(step);
  const first = points.length + waiting() === 0;
  const from = (path?.end === "first" ? points[0] : points.at(-1))?.at ?? [0, 0, 0];
  const byLength = () => {
    void inTurn(async () => typed.bad !== true && addByLength(lengthOf(typed), angleOf(typed)));
    onNext(typed);
  };
  const byPlace = () => {
    void inTurn(async () => typed.bad !== true && addPoint(lastPlace().map((v, k) => typed.place[k] ?? v) as unknown as Triple));
    onNext(typed);
  };
  return (
    <span className="fields" onInput={() => setPath({ fixed: true })}>
      {first ? "first point" : "length"}
      {!first && (
        <>
          <NumberField atOnce inputRef={ref} label="length to the next point" unit={unit} suffix={unit} width={76} value={lengthOf(typed)} onTry={(length) => put({ length })} onCommit={(length) => put({ length })} onEnter={byLength} onLeave={focusView} onFault={spoil} />
          angle
          <NumberField atOnce label="angle to the next point" unit={null} suffix="°" width={58} value={angleOf(typed)} onTry={(angle) => put({ angle })} onCommit={(angle) => put({ angle })} onEnter={byLength} onLeave={focusView} onFault={spoil} />
          or at
        </>
      )}
      {placed(path?.plane?.out ?? [0, 0, 1]).map((k, i) => {
        const keep = (v: number) => put({ place: { ...typed.place, [k]: v } });
        return <NumberField atOnce key={k} {...(first && i === 0 ? { inputRef: ref } : {})} label={`${"xyz"[k]} of the ${first ? "first" : "next"} point`} unit={unit} suffix={"xyz"[k] as string} width={62} value={typed.place[k] ?? (from[k] as number)} onTry={keep} onCommit={keep} onEnter={byPlace} onLeave={focusView} onFault={spoil} />;
      })}
      <PlaneField />
    </span>
  );
}

/** Where the point before the next one stands by now. */
function lastPlace(): readonly number[] {
  const { path } = editor.get();
  const points = underWay(editor.get());
  return (path?.end === "first" ? points[0] : points.at(-1))?.at ?? [0, 0, 0];
}

/** The plane that is drawn in: that of the view the pointer rests in, until the first point or number. */
function PlaneField() {
  const out = useEditor((s) => s.path?.plane?.out);
  const away = out === undefined ? 1 : awayOf(out);
  return <Select size="small" aria-label="plane of the path" popupMatchSelectWidth={false} value={PLANES[away]!.value} options={PLANES.map((p) => ({ ...p }))} onChange={(view) => { drawIn(view); focusView(); }} />;
}

/** By the axis that looks out of each. */
const PLANES = [{ value: "right", label: "Right" }, { value: "top", label: "Top" }, { value: "front", label: "Front" }] as const;

/** The two axes of a plane that is drawn in, told by what looks out of it. */
function placed(out: readonly number[]): number[] {
  const away = awayOf(out);
  return [0, 1, 2].filter((k) => k !== away);
}

function awayOf(out: readonly number[]): number {
  return [0, 1, 2].reduce((best, k) => (Math.abs(out[k] as number) > Math.abs(out[best] as number) ? k : best), 0);
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
      <Select size="small" aria-label="corner of the point" popupMatchSelectWidth={false} value={corner} options={CORNERS.map((o) => ({ ...o }))} onChange={(v: Corner) => void setCorner(index, v).then(backToView)} />
      {sized && <NumberField inputRef={ref} label={corner === "fillet" ? "radius of the corner" : "width of the corner"} unit={unit} suffix={unit} width={80} value={point.size ?? 0} onCommit={(v) => void setCorner(index, corner, Math.abs(v))} onEnter={focusView} />}
      <Button className="tool" onClick={() => void removePoint(index).then(backToView)}>Take out <kbd>Del</kbd></Button>
    </span>
  );
}
