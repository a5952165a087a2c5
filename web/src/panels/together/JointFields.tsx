import { Button } from "antd";
import { useState } from "react";

import type { Part } from "../../api/client";
import { focusView } from "../../interaction/focus";
import { giveJoint } from "../../interaction/parts/placing";
import { lookAtClearance } from "../../interaction/parts/wholes";
import { groupKey, type Key, partKey, setMember } from "../../model/document/members";
import { groupsAround } from "../../model/document/parts";
import { type Clear, editor, type EditorState, groupsOf, partOf, unitOf, useEditor } from "../../model/store";
import { shown } from "../../model/units";
import { change, tell } from "../../sync/build";
import { NumberField } from "../fields/NumberField";
import { StoredSlider } from "../fields/StoredSlider";

type Joint = NonNullable<Part["joint"]>;
const STEPS = 200;

/** A part's or group's joint: made on a picked edge, its limits typed, swung by a slider, its room told. */
export function JointFields({ member: key, joint }: { readonly member: Key; readonly joint: Joint | null }) {
  const unit = useEditor(unitOf);
  const picked = useEditor((s) => axisOf(s, key));
  const [stops, stop] = useState(false);
  const clear = useEditor((s) => (s.clear?.key === key ? s.clear : null));
  if (joint === null) {
    return (
      <>
        <p className="muted">{picked ? "What is picked becomes its axis." : "Pick one edge or two points of it for the axis; else it stands upright at the pivot, to be typed."}</p>
        <div className="forms" role="group" aria-label="Give a joint">
          <Button size="small" onClick={() => void giveJoint("turn", key)}>hinge</Button>
          <Button size="small" onClick={() => void giveJoint("slide", key)}>slide</Button>
        </div>
      </>
    );
  }
  const [low, high] = [Math.min(joint.from ?? 0, joint.to), Math.max(joint.from ?? 0, joint.to)];
  const put = (values: Partial<Joint>, group: string) => void change("Move joint", setMember(key, { joint: { ...joint, ...values } }), `${key}/joint/${group}`);
  const turns = joint.kind === "turn";
  const met = clear?.touches.some((t) => t !== null) ?? false;
  // what lies beyond the first contact on either way is out of reach
  const upward = joint.to >= (joint.from ?? 0);
  const [below, above] = stops && clear !== null ? (upward ? clear.touches : [clear.touches[1], clear.touches[0]]) : [null, null];
  const [least, most] = [below ?? low, above ?? high];
  const within = (v: number) => Math.min(Math.max(v, least), most);
  const row = (key: "from" | "to" | "now", value: number) => (
    <NumberField
      label={`joint ${key}`}
      unit={turns ? null : unit}
      suffix={turns ? "°" : unit}
      width={76}
      value={value}
      onCommit={(v) => {
        if (v === value) return;
        const ends = { from: joint.from ?? 0, to: joint.to, ...(key === "now" ? {} : { [key]: v }) };
        const now = Math.min(Math.max(key === "now" ? v : (joint.now ?? 0), Math.min(ends.from, ends.to)), Math.max(ends.from, ends.to));
        put({ ...ends, now }, key);
      }}
      onEnter={focusView}
    />
  );
  const putAxis = (name: "at" | "axis", i: number, v: number) => {
    const was = joint[name] ?? [0, 0, 0];
    const next = was.map((o, k) => (k === i ? v : o)) as [number, number, number];
    if (v === was[i]) return;
    if (name === "axis" && next.every((n) => n === 0)) tell("An axis needs a direction; type the new number first, then take the old one out");
    else put({ [name]: next }, name);
  };
  return (
    <>
      <div className="row">
        <span>{turns ? "turned" : "moved"}</span>
        <StoredSlider
          style={{ flex: 1, margin: "4px 12px" }}
          min={low}
          max={high}
          step={(high - low) / STEPS || 1}
          value={joint.now ?? 0}
          tooltip={{ formatter: (v) => `${Number((v ?? 0).toFixed(2))}${turns ? "°" : ` ${unit}`}` }}
          ariaLabelForHandle="joint"
          within={(v) => within(Number(v.toFixed(4)))}
          onTry={(now) => editor.set({ swung: { key, now } })}
          onStore={(now) => change("Move joint", setMember(key, { joint: { ...joint, now } }), `${key}/joint/now`)}
          onRest={() => editor.set({ swung: null })}
        />
      </div>
      <div className="row">
        <span>now</span>
        {row("now", joint.now ?? 0)}
      </div>
      <div className="row">
        <span>from, to</span>
        <span className="triple">
          {row("from", joint.from ?? 0)}
          {row("to", joint.to)}
        </span>
      </div>
      {(["at", "axis"] as const).map((name) => (
        <div className="row" key={name}>
          <span>{name === "at" ? "through" : "along"}</span>
          <span className="triple">
            {(["x", "y", "z"] as const).map((letter, i) => (
              <NumberField key={letter} label={`joint ${name} ${letter}`} unit={name === "at" ? unit : null} suffix={letter} width={56} value={joint[name]?.[i] ?? 0} onCommit={(v) => putAxis(name, i, v)} onEnter={focusView} />
            ))}
          </span>
        </div>
      ))}
      <div className="forms" role="group" aria-label="Room of the joint">
        <Button size="small" onClick={() => void lookAtClearance(key)}>clearance</Button>
        <Button size="small" disabled={!met} className={stops ? "on" : ""} aria-pressed={stops} onClick={() => stop(!stops)}>stop at contact</Button>
        <Button size="small" onClick={() => void change("Take joint off", setMember(key, { joint: null }))}>take the joint off</Button>
      </div>
      {clear !== null && (
        <p className={met ? "fault" : "muted"} role="status">
          {clearText(clear, (v) => `${Number(v.toFixed(2))}${turns ? "°" : ` ${unit}`}`, (v) => `${shown(Number(v.toPrecision(4)))} ${unit}`)}
        </p>
      )}
    </>
  );
}

/** What was found on the way to both ends of a joint's range, in a sentence or two. */
function clearText(clear: Clear, value: (v: number) => string, length: (v: number) => string): string {
  const [low, high] = clear.touches;
  const rests = clear.rests ? "It rests on something where it stands, which counts only once it has come free. " : "";
  if (low === null && high === null) return clear.rests ? `${rests}Nothing else is met on either way.` : `Clear: nearest ${length(clear.least)}, at ${value(clear.at)}. Its place is marked in the views.`;
  if (low !== null && low === high) return "It stands in another part.";
  const told = [low === null ? null : `at ${value(low)} on the way to its from`, high === null ? null : `at ${value(high)} on the way to its to`].filter((t) => t !== null);
  return `${rests}Touches ${told.join(", and ")}. Its place is marked in the views.`;
}

/** Whether one edge or two points are picked, of a part or of any part in a group. */
function axisOf(state: EditorState, key: Key): boolean {
  const { pick } = state;
  if (pick === null || pick.elements.length !== (pick.kind === "edges" ? 1 : 2) || pick.kind === "faces") return false;
  const part = partOf(state, pick.part);
  return part !== null && (key === partKey(part) || groupsAround(part, groupsOf(state)).some((g) => key === groupKey(g)));
}
