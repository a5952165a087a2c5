import { Button, Select, Switch } from "antd";

import { backToView, focusView } from "../../interaction/focus";
import { type PivotSpot, putPart, putPivot, type Spot } from "../../interaction/parts/placing";
import { accept } from "../../interaction/session/storing";
import { copyTyped, placeByHand } from "../../interaction/parts/wholes";
import { chosenOf, type Key, memberOf, placeMember, setMember } from "../../model/document/members";
import { type Prefs, prefs, usePrefs } from "../../model/prefs";
import { editor, unitOf, useEditor } from "../../model/store";
import { change } from "../../sync/build";
import { NumberField } from "../fields/NumberField";
import { JointFields } from "./JointFields";

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
const COPIES = [{ value: "linked" as const, label: "linked" }, { value: "plain" as const, label: "with own recipes" }];
const PIVOT_SPOTS: readonly { where: PivotSpot; title: string }[] = [
  { where: "pick centre", title: "pick's centre" },
  { where: "pick base", title: "pick's base" },
  { where: "part centre", title: "part's middle" },
  { where: "part base", title: "part's base" },
  { where: "origin", title: "origin" },
];

/** Where the part or group at work stands: placement, pivot, joint. Of several chosen, the last. */
export function MemberFields() {
  const keys = useEditor((s) => s.chosen);
  const current = useEditor((s) => s.current);
  const key: Key | null = keys.length > 0 ? (keys[keys.length - 1] as Key) : current === null ? null : `p:${current}`;
  const member = useEditor((s) => memberOf(s, key));
  const placing = useEditor((s) => s.placing);
  const copies = usePrefs((p) => p.copies);
  const typed = useEditor((s) => s.typesCopies);
  const unit = useEditor(unitOf);
  if (key === null || member === null) return null;
  const ofPart = key.startsWith("p:");
  const put = (row: (typeof ROWS)[number]["key"], i: number, v: number) =>
    void accept().then(() => change(ofPart ? "Place part" : "Place group", placeMember(key, { [row]: [0, 1, 2].map((k) => (k === i ? v : null)) }), `${key}/placement/${row}`));
  return (
    <>
      <h2>
        Placement of {member.name}
        <Button size="small" className={placing ? "on" : ""} aria-pressed={placing} onClick={() => void placeByHand(!placing).then(backToView)}>
          by hand
        </Button>
      </h2>
      <div className="row">
        <span>typed places make copies</span>
        <Switch size="small" aria-label="Typed places make copies" checked={typed} onChange={(on) => { editor.set({ typesCopies: on }); focusView(); }} />
      </div>
      {typed && <p className="muted">A place or turn typed below makes a copy there; − before the number that stands there sends a mirrored one across.</p>}
      {(placing || typed) && (
        <div className="row">
          <span>copies are</span>
          <Select<Prefs["copies"]> size="small" aria-label="What copies are" style={{ width: 150 }} value={copies} options={COPIES} onChange={(v) => { prefs.set({ copies: v }); focusView(); }} />
        </div>
      )}
      {ROWS.map(({ key: row, title, empty }) => {
        const now = (member.placement?.[row] ?? [empty, empty, empty]) as number[];
        return (
          <div className="row" key={row}>
            <span title={typed && row !== "scale" ? "makes a copy" : undefined}>{typed && row !== "scale" ? `copy ${row === "translate" ? "at" : "by °"}` : title}</span>
            <span className="triple">
              {(["x", "y", "z"] as const).map((axis, i) => (
                <NumberField key={axis} label={`${title} ${axis}`} unit={row === "translate" ? unit : null} suffix={axis} width={56} value={now[i] as number} onCommit={(v) => v !== now[i] && (typed && row !== "scale" ? void copyTyped(chosenOf(editor.get()), row, i, v, key) : put(row, i, v))} onEnter={focusView} />
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
      <p className="muted">
        Lengths in {unit}, turns in degrees{chosenOf(editor.get()).length > 1 ? "; presses put all that is chosen" : ""}.
      </p>
      <div className="row">
        <span>triangles at most</span>
        <NumberField label="triangle budget" unit={null} whole width={100} value={member.budget ?? null} empty="no bound" onEmpty={() => void change("No triangle budget", setMember(key, { budget: null }), `${key}/budget`)} onCommit={(v) => (v > 0 ? v : null) !== (member.budget ?? null) && void change(v > 0 ? "Triangle budget" : "No triangle budget", setMember(key, { budget: v > 0 ? v : null }), `${key}/budget`)} onEnter={focusView} />
      </div>
      <h2>Pivot of {member.name}</h2>
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
              value={member.pivot?.[i] ?? 0}
              onCommit={(v) => void change("Move pivot", setMember(key, { pivot: [0, 1, 2].map((k) => (k === i ? v : (member.pivot?.[k] ?? 0))) }), `${key}/pivot`)}
              onEnter={focusView}
            />
          ))}
        </span>
      </div>
      {ofPart && (
        <div className="forms" role="group" aria-label="Put the pivot">
          {PIVOT_SPOTS.map((s) => (
            <Button key={s.where} size="small" onClick={() => void putPivot(s.where)}>
              {s.title}
            </Button>
          ))}
        </div>
      )}
      <h2>Joint of {member.name}</h2>
      <JointFields key={key} member={key} joint={member.joint ?? null} />
    </>
  );
}
