import { Button, Slider } from "antd";
import { useState } from "react";

import type { Part } from "../api/client";
import { hingeOnPick } from "../interaction/placing";
import { setPart } from "../model/intents";
import { editor, unitOf, useEditor } from "../model/store";
import { change } from "../sync/build";
import { NumberField } from "./NumberField";

type Joint = NonNullable<Part["joint"]>;
const STEPS = 200;

/** A part's joint: made on a picked edge, its limits typed, swung by a slider. */
export function JointFields({ part }: { readonly part: Part }) {
  const unit = useEditor(unitOf);
  const picked = useEditor((s) => s.pick !== null && s.pick.part === part.id && s.pick.kind === "edges" && s.pick.elements.length === 1);
  const [held, hold] = useState<number | null>(null);
  const { joint } = part;
  const id = part.id ?? "";
  if (joint == null) {
    return (
      <>
        <p className="muted">{picked ? "The picked edge becomes its axis." : "Pick one edge of it as the axis it turns about or slides along."}</p>
        <div className="forms" role="group" aria-label="Give a joint">
          <Button size="small" disabled={!picked} onClick={() => void hingeOnPick("turn")}>hinge</Button>
          <Button size="small" disabled={!picked} onClick={() => void hingeOnPick("slide")}>slide</Button>
        </div>
      </>
    );
  }
  const [low, high] = [Math.min(joint.from ?? 0, joint.to), Math.max(joint.from ?? 0, joint.to)];
  const put = (values: Partial<Joint>, group: string) => void change("Move joint", setPart(id, { joint: { ...joint, ...values } }), `${id}/joint/${group}`);
  const turns = joint.kind === "turn";
  const within = (v: number) => Math.min(Math.max(v, low), high);
  const row = (key: "from" | "to" | "now", value: number) => (
    <NumberField
      label={`joint ${key}`}
      unit={turns ? null : unit}
      suffix={turns ? "°" : unit}
      width={82}
      value={value}
      onCommit={(v) => {
        if (v === value) return;
        const ends = { from: joint.from ?? 0, to: joint.to, ...(key === "now" ? {} : { [key]: v }) };
        const now = Math.min(Math.max(key === "now" ? v : (joint.now ?? 0), Math.min(ends.from, ends.to)), Math.max(ends.from, ends.to));
        put({ ...ends, now }, key);
      }}
    />
  );
  return (
    <>
      <div className="row">
        <span>{turns ? "turned" : "moved"}</span>
        <Slider
          style={{ flex: 1, margin: "4px 12px" }}
          min={low}
          max={high}
          step={(high - low) / STEPS || 1}
          value={held ?? joint.now ?? 0}
          tooltip={{ formatter: (v) => `${Number((v ?? 0).toFixed(2))}${turns ? "°" : ` ${unit}`}` }}
          ariaLabelForHandle="joint"
          onChange={(v) => {
            hold(v);
            editor.set({ swung: { part: id, now: within(v) } });
          }}
          onChangeComplete={(v) => {
            void change("Move joint", setPart(id, { joint: { ...joint, now: within(Number(v.toFixed(4))) } }), `${id}/joint/now`).then(() => {
              hold(null);
              editor.set({ swung: null });
            });
          }}
        />
      </div>
      <div className="row">
        <span>now, from, to</span>
        <span className="triple">
          {row("now", joint.now ?? 0)}
          {row("from", joint.from ?? 0)}
          {row("to", joint.to)}
        </span>
      </div>
      <div className="forms">
        <Button size="small" onClick={() => void change("Take joint off", setPart(id, { joint: null }))}>take the joint off</Button>
      </div>
    </>
  );
}
