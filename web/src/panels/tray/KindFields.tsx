import { type InputRef, Select, Switch } from "antd";

import type { Parameter } from "../../api/client";
import { focusView } from "../../interaction/focus";
import { cancel, finish, store } from "../../interaction/session/storing";
import { dropValue, keepLeft, tryValues } from "../../interaction/session/trial";
import { choiceText } from "../../model/steps/choiceText";
import { letterOf } from "../../model/steps/letters";
import { othersOf, typedOf } from "../../model/steps/kinds";
import { kindOf, type ToolSession, unitOf, useEditor, type Value, type Values } from "../../model/store";
import { NameField } from "../fields/NameField";
import { NumberField } from "../fields/NumberField";
import { PatternSelect } from "../fields/PatternSelect";
import { PartSelect } from "../fields/PartSelect";
import { useValueField } from "../fields/useValueField";
import { ownFieldsOf } from "./ownFields";

/** The values of the kind of step at work, each tried as it is typed. */
export function KindFields({ session }: { readonly session: ToolSession }) {
  const kind = useEditor((s) => kindOf(s, session.tool));
  const ref = useValueField();
  if (kind === null) return null;
  const main = typedOf(session.tool)?.name;
  const { Fields, hides, leaves = [], idle, untitled, last, whole } = ownFieldsOf(session.tool);
  const placed = hides?.(session.values) ?? false;
  const silent = [...(typeof leaves === "function" ? leaves(session.values) : leaves), ...(idle?.(session.values) ?? [])];
  const parameters = (placed ? [] : kind.parameters).filter((p) => (session.values[p.name] !== undefined || p.follows) && p.quantity !== "other" && p.quantity !== "profile" && p.quantity !== "picture" && p.quantity !== "patterns" && !silent.includes(p.name));
  const others = othersOf(kind);
  const shown = others === null || whole === true || (!others.required && session.takes !== "nothing") || parameters.includes(others) || (session.stored !== null && parameters.some((p) => p.quantity === "part")) ? parameters : [others, ...parameters];
  return (
    <>
      {untitled !== true && <strong>{kind.title}</strong>}
      {Fields !== undefined && last !== true && <Fields session={session} inputRef={placed || main === undefined ? ref : undefined} />}
      <span className="fields">
        {shown.map((p) => (
          <Field key={p.name} session={session} parameter={p} many={shown.length > MANY} inputRef={p.name === main ? ref : undefined} />
        ))}
      </span>
      {Fields !== undefined && last === true && <Fields session={session} inputRef={undefined} />}
    </>
  );
}

/** With more fields than these in the row, each is narrower. */
const MANY = 4;

/** A choice beside which other values say nothing leaves them out, so that nothing hidden is refused, and brings back what it had left out. */
function choose(session: ToolSession, chosen: Values): void {
  const { idle } = ownFieldsOf(session.tool);
  const silent = idle?.({ ...session.values, ...chosen }) ?? [];
  const back = Object.entries(session.left).filter(([name]) => idle !== undefined && !silent.includes(name));
  keepLeft(Object.fromEntries(silent.flatMap((name) => (session.values[name] === undefined ? [] : [[name, session.values[name]]]))));
  for (const name of silent) {
    const first = session.initial[name];
    dropValue(name, first === undefined ? {} : { [name]: first });
  }
  tryValues({ ...Object.fromEntries(back), ...chosen }, false);
}

function Field({ session, parameter: p, many, inputRef }: { readonly session: ToolSession; readonly parameter: Parameter; readonly many: boolean; readonly inputRef: React.Ref<InputRef> | undefined }) {
  const unit = useEditor(unitOf);
  const value = session.values[p.name] as Value | undefined;
  const set = (v: Value) => {
    tryValues({ [p.name]: v }, false);
    if (session.stored !== null) void store();
  };
  if (p.quantity === "part" || p.quantity === "parts") {
    return (
      <span className="field">
        {p.title}
        <PartSelect part={session.part} parameter={p} value={value} width={many ? 100 : 150} onChange={(v) => { set(v); focusView(); }} />
      </span>
    );
  }
  if (p.quantity === "pattern") {
    return (
      <span className="field">
        {p.title}
        <PatternSelect value={String(value)} width={120} onChange={set} />
      </span>
    );
  }
  if (p.quantity === "name") {
    return (
      <span className="field">
        {p.title}
        <NameField key={String(value)} label={p.title} value={String(value)} onCommit={set} onEnter={() => { void store(); finish(); }} />
      </span>
    );
  }
  if (p.quantity === "choice") {
    return (
      <span className="field">
        {p.title}
        <Select size="small" aria-label={p.title} popupMatchSelectWidth={false} value={String(value)} options={p.choices.map((c) => ({ value: c, label: choiceText(c) }))} onChange={(v) => { choose(session, { [p.name]: v }); if (session.stored !== null) void store(); focusView(); }} />
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
  const list = Array.isArray(value) ? (value as readonly number[]) : [value === undefined ? null : Number(value)];
  // of three numbers the one that says something is typed first
  const lead = Math.max(list.findIndex((v) => v !== null && v !== 0), 0);
  const put = (i: number, v: number): Value => (Array.isArray(value) ? (value as readonly number[]).map((o, k) => (k === i ? v : o)) : v);
  return (
    <span className="field">
      {p.title}
      {list.map((v, i) => (
        <NumberField
          key={i}
          {...(inputRef !== undefined && i === lead ? { inputRef } : {})}
          label={list.length > 1 ? `${p.title} ${letterOf(session.tool, list.length, i)}` : p.title}
          unit={p.quantity === "length" ? unit : null}
          suffix={list.length > 1 ? letterOf(session.tool, list.length, i) : p.quantity === "length" ? unit : p.quantity === "angle" ? "°" : ""}
          whole={p.quantity === "count"}
          width={list.length > 1 || many ? 62 : 74}
          value={v}
          {...(p.follows ? { empty: "as it is", onEmpty: () => { if (v !== null) dropValue(p.name); void store(); } } : {})}
          onTry={(n) => tryValues({ [p.name]: put(i, n) }, true)}
          onCommit={(n) => {
            tryValues({ [p.name]: put(i, n) }, false);
            void store();
          }}
          onCancel={cancel}
          onEnter={finish}
          onLeave={focusView}
        />
      ))}
    </span>
  );
}
