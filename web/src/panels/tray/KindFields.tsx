import { Select, Switch, type InputRef } from "antd";
import { useEffect, useRef } from "react";

import type { Parameter } from "../../api/client";
import { cancel, dropValue, store, tryValues } from "../../state/session";
import { kindOf, METRES, unitOf, useEditor, type ToolSession, type Value } from "../../state/store";
import { mainParameter } from "../../tools/number";
import { focusView, registerValueField } from "../../tools/valueField";
import { NumberField } from "../NumberField";

/** What a tool that is drawn by hand asks for before there is anything to try. */
const ASKS: Record<string, readonly [string, string]> = {
  slice: ["point", "Draw a line over a view. It turns in steps of 15°, freely with Shift; drag it afterwards to move the plane."],
  cut: ["path", "Click vertices and edges one after the other, each two on one face. Enter accepts."],
  insert_loop: ["through", "Point at an edge; a click inserts the loop."],
};

/** The field that digits typed over the view go to. */
export function useValueField() {
  const ref = useRef<InputRef>(null);
  useEffect(() => {
    registerValueField(ref.current?.input ?? null);
    return () => registerValueField(null);
  });
  return ref;
}

/** The values of the kind of step at work, each tried as it is typed. */
export function KindFields({ session }: { readonly session: ToolSession }) {
  const kind = useEditor((s) => kindOf(s, session.tool));
  const ref = useValueField();
  if (kind === null) return null;
  const asks = ASKS[session.tool];
  const main = mainParameter(session.tool)?.name;
  const placed = session.tool === "insert_loop" && session.values["distance"] !== undefined; // by distance: count and spread say nothing then
  const parameters = (placed ? [] : kind.parameters).filter((p) => session.values[p.name] !== undefined && p.quantity !== "other");
  return (
    <>
      <strong>{kind.title}</strong>
      {asks !== undefined && session.takes === "nothing" && session.values[asks[0]] === undefined && <span className="muted ellipsis">{asks[1]}</span>}
      {asks?.[0] === "path" && session.values["path"] !== undefined && <span className="muted">{(session.values["path"] as readonly unknown[]).length} points</span>}
      {session.tool === "insert_loop" && <LoopPlaces session={session} inputRef={session.values["distance"] === undefined ? undefined : ref} />}
      <span className="fields">
        {parameters.map((p) => (
          <Field key={p.name} session={session} parameter={p} inputRef={p.name === main ? ref : undefined} />
        ))}
      </span>
    </>
  );
}

const PLACES = [
  { value: "spread", label: "spread evenly" },
  { value: "lower", label: "from the lower end" },
  { value: "upper", label: "from the upper end" },
  { value: "both", label: "from both ends" },
] as const;
type Place = (typeof PLACES)[number]["value"];

function distances(place: Place, d: number): number[] {
  return place === "both" ? [d, -d] : place === "upper" ? [-d] : [d];
}

/** Support loops: at a fixed distance from an end of the edge, or spread over it. */
function LoopPlaces({ session, inputRef }: { readonly session: ToolSession; readonly inputRef: React.Ref<InputRef> | undefined }) {
  const unit = useEditor(unitOf);
  const held = session.values["distance"] as readonly number[] | undefined;
  const place: Place = held === undefined ? "spread" : held.length > 1 ? "both" : (held[0] as number) < 0 ? "upper" : "lower";
  const d = Math.abs(held?.[0] ?? Number((0.01 / METRES[unit]).toPrecision(3)));
  const put = (next: Place, size: number, dragging = false) => {
    if (next === "spread") dropValue("distance");
    else tryValues({ distance: distances(next, size) }, dragging);
  };
  return (
    <span className="fields">
      <Select size="small" aria-label="where the loops stand" popupMatchSelectWidth={false} value={place} options={PLACES.map((p) => ({ ...p }))} onChange={(v: Place) => { put(v, d); focusView(); }} />
      {place !== "spread" && (
        <NumberField
          {...(inputRef !== undefined ? { inputRef } : {})}
          label="distance"
          unit={unit}
          suffix={unit}
          width={80}
          value={d}
          onTry={(v) => put(place, Math.abs(v), true)}
          onCommit={(v) => {
            put(place, Math.abs(v));
            void store();
          }}
          onCancel={cancel}
          onEnter={focusView}
        />
      )}
    </span>
  );
}

function Field({ session, parameter: p, inputRef }: { readonly session: ToolSession; readonly parameter: Parameter; readonly inputRef: React.Ref<InputRef> | undefined }) {
  const unit = useEditor(unitOf);
  const value = session.values[p.name] as Value;
  const set = (v: Value) => {
    tryValues({ [p.name]: v }, false);
    if (session.stored !== null) void store();
  };
  if (p.quantity === "choice") {
    return (
      <span className="field">
        {p.title}
        <Select size="small" aria-label={p.title} popupMatchSelectWidth={false} value={String(value)} options={p.choices.map((c) => ({ value: c, label: c }))} onChange={(v) => { set(v); focusView(); }} />
      </span>
    );
  }
  if (p.quantity === "flag") {
    return (
      <span className="field">
        {p.title}
        <Switch size="small" aria-label={p.title} checked={value === true} onChange={(v) => { set(v); focusView(); }} />
      </span>
    );
  }
  const list = Array.isArray(value) ? (value as readonly number[]) : [Number(value)];
  const put = (i: number, v: number): Value => (Array.isArray(value) ? list.map((o, k) => (k === i ? v : o)) : v);
  return (
    <span className="field">
      {p.title}
      {list.map((v, i) => (
        <NumberField
          key={i}
          {...(inputRef !== undefined && i === 0 ? { inputRef } : {})}
          label={list.length > 1 ? `${p.title} ${"xyz"[i] ?? ""}` : p.title}
          unit={p.quantity === "length" ? unit : null}
          suffix={p.quantity === "length" ? unit : p.quantity === "angle" ? "°" : ""}
          whole={p.quantity === "count"}
          width={list.length > 1 ? 62 : 74}
          value={v}
          onTry={(n) => tryValues({ [p.name]: put(i, n) }, true)}
          onCommit={(n) => {
            tryValues({ [p.name]: put(i, n) }, false);
            void store();
          }}
          onCancel={cancel}
          onEnter={focusView}
        />
      ))}
    </span>
  );
}
