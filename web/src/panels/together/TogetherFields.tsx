import { Button, Select } from "antd";
import { useState } from "react";

import { faceOntoFace, groupMembers, lineUp, lookBeside } from "../../interaction/parts/wholes";
import { chosenOf, groupKey, type Key, memberOf, outermost, partKey } from "../../model/document/members";
import { prefs } from "../../model/prefs";
import { editor, groupsOf, METRES, partsOf, unitOf, useEditor } from "../../model/store";
import { shown } from "../../model/units";

const SIDES = [
  { side: "on", title: "on top" },
  { side: "under", title: "under" },
  { side: "left", title: "left" },
  { side: "right", title: "right" },
  { side: "front", title: "in front" },
  { side: "behind", title: "behind" },
  { side: "inside", title: "inside" },
] as const;
const AXES = ["x", "y", "z"] as const;
const PLACES = [
  { place: "low", title: "low" },
  { place: "middle", title: "middle" },
  { place: "high", title: "high" },
] as const;

/** What is chosen, put against another part or group: stood on it, lined up, spread. */
export function TogetherFields() {
  const chosen = useEditor((s) => s.chosen);
  const current = useEditor((s) => s.current);
  const parts = useEditor(partsOf);
  const groups = useEditor(groupsOf);
  const faces = useEditor((s) => [s.pick, s.lastPick].every((p) => p?.kind === "faces" && p.elements.length === 1) && s.pick?.part !== s.lastPick?.part);
  const apart = useEditor((s) => s.beside);
  const unit = useEditor(unitOf);
  const [picked, pick] = useState<Key | null>(null);
  if (parts.length < 2) return null;
  const state = editor.get();
  const keys = outermost(state, chosenOf({ ...state, chosen, current }));
  const several = keys.length > 1;
  const last = keys[keys.length - 1] ?? null;
  const options = [...groups.map((g) => ({ value: groupKey(g), label: `${g.name} (group)` })), ...parts.map((p) => ({ value: partKey(p), label: p.name }))].filter((o) => several || o.value !== last);
  // of several chosen, the last one stays and the others come to it
  const to = picked !== null && options.some((o) => o.value === picked) ? picked : several ? last : null;
  const name = to === null ? "" : (memberOf(state, to)?.name ?? "");
  const step = () => prefs.get().gridStep / METRES[unitOf(editor.get())];
  return (
    <>
      <h2>{several ? `${keys.length} chosen together` : "Against another part"}</h2>
      <div className="row">
        <span>with</span>
        <Select size="small" aria-label="Lined up with" style={{ width: 150 }} placeholder="a part or group" value={to} options={options} onChange={pick} showSearch={{ optionFilterProp: "label" }} />
      </div>
      <div className="forms" role="group" aria-label={`Stand against ${name}`}>
        {SIDES.map(({ side, title }) => (
          <Button key={side} size="small" disabled={to === null} onClick={() => void lineUp({ how: "side", to, side }, `Stand ${title}`)}>
            {title}
          </Button>
        ))}
      </div>
      <div className="forms">
        <Button size="small" disabled={to === null} onClick={() => to !== null && void lookBeside(to)}>gap or overlap</Button>
      </div>
      {apart !== null && (
        <p className={apart.low === null && apart.gap > 0 ? "muted" : "fault"} role="status" aria-label="Gap or overlap">
          {apart.low !== null
            ? `They overlap over ${[0, 1, 2].map((k) => shown(Number(((apart.high?.[k] ?? 0) - (apart.low?.[k] ?? 0)).toPrecision(3)))).join(" × ")} ${unit}${apart.overlap === null ? "" : `, ${shown(Number(apart.overlap.toPrecision(3)))} ${unit}³`}.`
            : apart.gap > 0
              ? `${shown(Number(apart.gap.toPrecision(4)))} ${unit} lie between them.`
              : apart.overlap === null ? "They touch or cross; one is open, so that what they share cannot be told." : "They touch."}{" "}
          It is marked in the views.
        </p>
      )}
      {AXES.map((axis) => (
        <div className="row" key={axis}>
          <span>line up {axis}</span>
          <span className="forms" role="group" aria-label={`Line up ${axis}`}>
            {PLACES.map(({ place, title }) => (
              <Button key={place} size="small" disabled={to === null} onClick={() => void lineUp({ how: "align", to, axis, place }, `Line up ${axis}`)}>
                {title}
              </Button>
            ))}
          </span>
        </div>
      ))}
      <div className="forms">
        <Button size="small" disabled={!faces} title="Pick a face of the part that moves, then the face it goes against" onClick={() => void faceOntoFace()}>last face onto this one</Button>
        <Button size="small" onClick={() => void lineUp({ how: "grid", step: step() }, "To the grid")}>to the grid</Button>
        {several && <Button size="small" onClick={() => void groupMembers(chosenOf(editor.get()))}>into a new group</Button>}
      </div>
      {keys.length > 2 && (
        <>
          <h3>Spread between the outer two</h3>
          {AXES.map((axis) => (
            <div className="row" key={axis}>
              <span>along {axis}</span>
              <span className="forms" role="group" aria-label={`Spread along ${axis}`}>
                <Button size="small" onClick={() => void lineUp({ how: "spread", axis, by: "gaps" }, "Spread")}>equal gaps</Button>
                <Button size="small" onClick={() => void lineUp({ how: "spread", axis, by: "centres" }, "Spread")}>centres</Button>
              </span>
            </div>
          ))}
        </>
      )}
    </>
  );
}
