import { Button, type InputRef, Select } from "antd";
import type { Ref } from "react";

import { focusView } from "../../interaction/focus";
import { cancel } from "../../interaction/session/storing";
import { tryValues } from "../../interaction/session/trial";
import { BRUSHES } from "../../model/shaping/strokes";
import { stepsOfCage } from "../../model/steps/workingMark";
import { partOf, type ToolSession, unitOf, useEditor, type Value } from "../../model/store";
import { NumberField } from "../fields/NumberField";
import { Tip } from "../fields/Tip";

const MIRRORS = [{ value: "none", label: "one side" }, ...["x", "y", "z"].map((axis) => ({ value: axis, label: `mirrored in ${axis}` }))];

/** The brush by its numbers. */
export function BrushFields({ session, inputRef }: { readonly session: ToolSession; readonly inputRef: Ref<InputRef> | undefined }) {
  const unit = useEditor(unitOf);
  const below = useEditor((s) => {
    const part = partOf(s, session.part);
    return part !== null && stepsOfCage(part) < (part.steps ?? []).length;
  });
  const { values } = session;
  const set = (name: string, value: Value) => {
    tryValues({ [name]: value }, false);
    focusView();
  };
  const number = (name: string, fallback: number, width: number, length = false) => (
    <span className="field">
      {name}
      <NumberField
        {...(name === "radius" && inputRef !== undefined ? { inputRef } : {})}
        label={name}
        unit={length ? unit : null}
        suffix={length ? unit : ""}
        width={width}
        value={Number(values[name] ?? fallback)}
        onTry={(v) => tryValues({ [name]: v }, false)}
        onCommit={(v) => tryValues({ [name]: v }, false)}
        onCancel={cancel}
        onEnter={focusView}
      />
    </span>
  );
  return (
    <span className="fields">
      <Select size="small" aria-label="brush" popupMatchSelectWidth={false} value={String(values["tool"])} options={BRUSHES.map((b) => ({ ...b }))} onChange={(v: string) => set("tool", v)} />
      {number("radius", 1, 74, true)}
      {number("strength", 0.5, 50)}
      {number("fullness", 0.5, 50)}
      <Select size="small" aria-label="mirrored strokes" popupMatchSelectWidth={false} value={String(values["mirror"] ?? "none")} options={MIRRORS} onChange={(v: string) => set("mirror", v)} />
      <Tip title="Points on open borders and creases stay where they are">
        <Button size="small" aria-pressed={values["hold"] !== false} className={values["hold"] !== false ? "on" : ""} onClick={() => set("hold", values["hold"] === false)}>
          hold borders
        </Button>
      </Tip>
      {below && (
        <Tip title="Strokes work on the points of the smooth surface, below all live steps, instead of the cage">
          <Button size="small" aria-pressed={values["live"] === true} className={values["live"] === true ? "on" : ""} onClick={() => set("live", values["live"] !== true)}>
            smooth
          </Button>
        </Tip>
      )}
      {session.takes === "pick" && <span className="muted">picked only</span>}
    </span>
  );
}
