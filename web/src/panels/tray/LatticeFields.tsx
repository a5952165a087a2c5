import { Button, type InputRef, Select } from "antd";
import type { Ref } from "react";

import { backToView, focusView } from "../../interaction/focus";
import { redivide } from "../../interaction/surface/redivide";
import { cancel, store } from "../../interaction/session/storing";
import { tryValues } from "../../interaction/session/trial";
import { choiceText } from "../../model/steps/choiceText";
import { controlPoints, gridOf, middleOf, movedPoints } from "../../model/shaping/latticePoints";
import { type ToolSession, type Triple, unitOf, useEditor, type Value } from "../../model/store";
import { NumberField } from "../fields/NumberField";
import { Tip } from "../fields/Tip";
import { put } from "./RangeFields";
import { Riders } from "./Riders";

const AXES = ["x", "y", "z"] as const;

/** The lattice by its numbers: where the picked control points are, its divisions, how far a pull is felt. */
export function LatticeFields({ session, inputRef }: { readonly session: ToolSession; readonly inputRef: Ref<InputRef> | undefined }) {
  const unit = useEditor(unitOf);
  const names = useEditor((s) => s.gridPick);
  const grid = gridOf(session);
  if (grid === null) return null;
  const picked = controlPoints(grid).filter((p) => names.includes(p.name));
  const middle = picked.length === 0 ? null : middleOf(picked);
  const moved = (axis: number, to: number): { offsets: Value } => ({
    offsets: movedPoints(grid, names, (at) => at.map((v, k) => (k === axis && middle !== null ? v + to - (middle[k] as number) : v)) as Triple) as Value,
  });
  const level = (axis: number) => {
    if (middle === null) return;
    tryValues({ offsets: movedPoints(grid, names, (at) => at.map((v, k) => (k === axis ? (middle[k] as number) : v)) as Triple) as Value }, false);
    void store().then(backToView);
  };
  const divisions = grid.divisions;
  return (
    <span className="fields">
      {middle === null ? (
        <span className="muted">no points picked</span>
      ) : (
        <>
          <span className="muted">{picked.length} {picked.length === 1 ? "point" : "points"}</span>
          {AXES.map((axis, i) => (
            <NumberField
              key={axis}
              {...(i === 0 && inputRef !== undefined ? { inputRef } : {})}
              label={`point ${axis}`}
              unit={unit}
              suffix={axis}
              width={76}
              value={Number((middle[i] as number).toFixed(6)) + 0}
              onTry={(v) => tryValues(moved(i, v), true)}
              onCommit={(v) => {
                tryValues(moved(i, v), false);
                void store();
              }}
              onCancel={cancel}
              onEnter={focusView}
            />
          ))}
          {picked.length > 1 && (
            <span className="field">
              level
              {AXES.map((axis, i) => (
                <Tip key={axis} title={`Put them all at the same ${axis}`}>
                  <Button size="small" aria-label={`Level the points in ${axis}`} onClick={() => level(i)}>{axis}</Button>
                </Tip>
              ))}
            </span>
          )}
        </>
      )}
      <span className="field">
        divisions
        {AXES.map((axis, i) => (
          <NumberField
            key={axis}
            label={`divisions ${axis}`}
            unit={null}
            suffix=""
            whole
            width={46}
            value={divisions[i] as number}
            onCommit={(v) => void redivide(divisions.map((d, k) => (k === i ? v : d)) as Triple)}
            onCancel={cancel}
            onEnter={focusView}
          />
        ))}
      </span>
      {middle === null && <Select size="small" aria-label="basis" popupMatchSelectWidth={false} value={String(session.values["basis"] ?? "bernstein")} options={[{ value: "bernstein", label: choiceText("bernstein") }, { value: "bspline", label: choiceText("bspline") }]} onChange={(basis: string) => put({ basis })} />}
      {middle === null && <Select size="small" aria-label="outside" popupMatchSelectWidth={false} value={String(session.values["outside"] ?? "keep")} options={[{ value: "keep", label: "outside: keep" }, { value: "follow", label: "outside: follow" }]} onChange={(outside: string) => put({ outside })} />}
      {middle === null && <Riders session={session} />}
    </span>
  );
}
