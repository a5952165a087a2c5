import { Button, Input, Select, Switch } from "antd";
import { deepEqual } from "fast-equals";
import { useState } from "react";

import type { KindInfo, ParameterValue, Part, Step, StepStatus } from "../../api/client";
import { closeTorn } from "../../interaction/surface/closeTorn";
import { backToView, focusView } from "../../interaction/focus";
import { redivideStored } from "../../interaction/surface/redivide";
import { pickAgain } from "../../interaction/picks/pickAgain";
import { takeUp } from "../../interaction/session/strokes";
import { accept } from "../../interaction/session/storing";
import { choiceText } from "../../model/steps/choiceText";
import { findingText, isFault } from "../../model/session/findingText";
import { duplicateStep, type Intent, moveStep, removeStep, renameSent, setMark, setStep, setStepNumber, setStepWithin } from "../../model/document/intents";
import { knobOf, valueOf } from "../../model/steps/kinds";
import { isCurve, takenOn } from "../../model/document/parts";
import { buildMiddle } from "../../model/places/buildMiddle";
import { pickRule } from "../../model/picks/picks";
import { editor, partsOf, type Triple, unitOf, useEditor, type Values } from "../../model/store";
import { summary } from "../../model/steps/summary";
import { entryOf } from "../../model/session/visits";
import { change, light } from "../../sync/build";
import { lookOf } from "../../tools/manifest";
import { letterOf } from "../../model/steps/letters";
import { ReadableSelect } from "../fields/ReadableSelect";
import { PatternSelect } from "../fields/PatternSelect";
import { BoardSelect } from "./BoardSelect";
import { FollowedStep } from "./FollowedStep";
import { HeldPlaces } from "./HeldPlaces";
import { LatticeBox } from "./LatticeBox";
import { Drop } from "../fields/Drop";
import { NameField } from "../fields/NameField";
import { NumberField } from "../fields/NumberField";
import { PathPoints } from "./PathPoints";
import { PickAgain } from "./PickAgain";
import { PartSelect } from "../fields/PartSelect";
import { type Profile, ProfileField } from "../fields/ProfileField";
import { Tip } from "../fields/Tip";

interface Props {
  readonly part: Part;
  readonly step: Step;
  readonly number: number;
  readonly count: number;
  readonly kind: KindInfo | null;
  readonly status: StepStatus | null;
  readonly findings: readonly { kind: string; count: number }[];
  readonly open: boolean;
  readonly below: boolean;
}

/** One line of the recipe; open, its numbers are edited in place and what follows replays. */
export function StepCard(p: Props) {
  const { part, step, kind, status } = p;
  const partId = part.id ?? "";
  const id = step.id ?? "";
  const [renaming, setRenaming] = useState<string | null>(null);
  const title = step.label ?? kind?.title ?? step.kind;
  const above = useEditor((s) => isCurve({ ...part, steps: (part.steps ?? []).slice(0, p.number - 1) }, partsOf(s), s.kinds));
  const takes = kind === null ? [] : takenOn(kind, above);
  const off = step.enabled === false;
  const isLive = "live" in step && step.live === true;
  const act = (label: string, intent: Parameters<typeof change>[1]) => void accept().then(() => change(label, intent));
  const toggle = () => void accept().then(() => editor.set({ openStep: p.open ? null : id }));
  const faulty = status?.error != null || (status?.missing ?? 0) > 0 || p.findings.some((f) => isFault(f.kind));
  const repeat = () => {
    const pick = editor.get().pick;
    if (pick !== null && pick.part === partId) act(`Repeat ${title}`, duplicateStep(partId, id, pickRule(pick)));
  };
  return (
    <li className={`step${p.open ? " open" : ""}${p.below ? " live" : ""}${off ? " off" : ""}`} data-step={id} onMouseEnter={() => void light(partId, id)} onMouseLeave={() => void light(partId, null)}>
      <div className="line" onClick={toggle}>
        <span className="ordinal">{p.number}</span>
        {renaming === null ? (
          <button type="button" className="title" aria-expanded={p.open}>
            {title}
          </button>
        ) : (
          <Input
            size="small"
            autoFocus
            aria-label="Step label"
            value={renaming}
            onClick={(e) => e.stopPropagation()}
            onChange={(e) => setRenaming(e.target.value)}
            onBlur={() => {
              const typed = renaming.trim();
              setRenaming(null);
              if (typed && typed !== title) act("Rename step", setStep(partId, id, { label: typed }));
            }}
            onPressEnter={(e) => e.currentTarget.blur()}
          />
        )}
        {faulty && !p.open && <span className="flag" title={status?.error ?? "see inside"}>▲</span>}
        <span className="told">
          {off ? "off" : p.open && (status?.faces_after ?? 0) + (status?.faces_before ?? 0) === 0 ? "" : p.open ? `faces ${status?.faces_before ?? 0} → ${status?.faces_after ?? 0}` : summary(step, kind)}
        </span>
      </div>
      {p.open && kind !== null && (
        <div className="body">
          {status?.error != null && <p className="fault" role="alert">▲ {status.error}</p>}
          <PickAgain part={partId} step={step} status={status} takes={takes} />
          {p.findings.filter((f) => isFault(f.kind)).map((f) => (
            <p className="fault" key={f.kind}>
              ▲ leaves {findingText(f.kind, f.count)}
              {kind.at_rest && f.kind === "zero_area_face" && (
                <>
                  ; give it a {knobOf(kind.word)?.parameter.title ?? "value"} or{" "}
                  <button type="button" className="link" onClick={() => act(`Remove ${title}`, removeStep(partId, id))}>
                    take it out
                  </button>
                </>
              )}
            </p>
          ))}
          {status?.notes.map((note) => <p className="muted" key={note}>{note}</p>)}
          {step.kind === "mirror" && <MirrorSide part={part} axis={String(step.axis ?? "x") as "x"} />}
          {step.kind === "path" && <PathPoints part={partId} step={step} />}
          <HeldPlaces part={partId} step={step} />
          {kind.parameters.flatMap((parameter) => [
            <ParameterRow key={parameter.name} part={partId} step={step} parameter={parameter} />,
            ...(valueOf(step, parameter) == null ? [] : (parameter.inner ?? []).map((p) => <ParameterRow key={`${parameter.name}/${p.name}`} part={partId} step={step} parameter={p} within={parameter.name} />)),
          ])}
          {step.kind === "lattice" && <LatticeBox part={partId} step={step} />}
          {step.kind === "brush" && <p className="muted">{told(step)}</p>}
          {lookOf(kind.word).byHand !== undefined && !off && (
            <Button size="small" onClick={() => void takeUp(partId, id).then(backToView)}>{lookOf(kind.word).byHand}</Button>
          )}
          {(lookOf(kind.word).gives ?? []).map((name) => {
            const given = (step as unknown as Record<string, unknown>)[name] != null;
            return (
              <Button key={name} size="small" onClick={() => act(given ? `Take ${name} out` : `Give ${name}`, setStep(partId, id, { [name]: given ? undefined : {} }))}>
                {given ? `without ${name}` : `with ${name}`}
              </Button>
            );
          })}
          {lookOf(kind.word).tears && !off && (
            <div className="forms" role="group" aria-label="Close both">
              <span className="muted">close both:</span>
              <Button size="small" onClick={() => void closeTorn(partId, id, "fill")}>fill</Button>
              <Button size="small" onClick={() => void closeTorn(partId, id, "shell")}>thickness</Button>
            </div>
          )}
          <div className="actions">
            <Tip title={off ? "Switch on" : "Switch off"}>
              <Switch size="small" aria-label="Step on" checked={!off} disabled={p.number === 1} onChange={(on) => act(on ? "Switch step on" : "Switch step off", setStep(partId, id, { enabled: on }))} />
            </Tip>
            <Drop
              trigger={["click"]}
              menu={{
                items: [
                  { key: "rename", label: "Rename", onClick: () => setRenaming(title) },
                  { key: "mark", label: p.below ? "Work below this step" : "Work here", onClick: () => act("Move working mark", setMark(partId, id)) },
                  { key: "unmark", label: "Work at the end", disabled: !part.mark, onClick: () => act("Move working mark", setMark(partId, null)) },
                  ...(kind.may_be_live && !kind.live
                    ? [{ key: "live", label: isLive ? "Part of the cage again" : "Keep live: below the working mark", disabled: p.number === 1, onClick: () => act(isLive ? "Step of the cage" : "Live step", setStep(partId, id, { live: isLive ? undefined : true })) }]
                    : []),
                  { key: "up", label: "Move up", disabled: p.number <= 2, onClick: () => act("Move step", moveStep(partId, id, -1)) },
                  { key: "down", label: "Move down", disabled: p.number === 1 || p.number === p.count, onClick: () => act("Move step", moveStep(partId, id, 1)) },
                  { key: "copy", label: "Duplicate", disabled: kind.form, onClick: () => act("Duplicate step", duplicateStep(partId, id)) },
                  { key: "again", label: "Pick again", disabled: kind.form || takes.length === 0, onClick: () => void pickAgain(partId, id) },
                  { key: "repeat", label: "Repeat on the present pick", disabled: kind.form || takes.length === 0, onClick: repeat },
                  { key: "remove", label: "Remove", danger: true, disabled: p.number === 1, onClick: () => act(`Remove ${title}`, removeStep(partId, id)) },
                ],
              }}
            >
              <Button size="small" type="text" aria-label={`More for ${title}`}>•••</Button>
            </Drop>
          </div>
        </div>
      )}
    </li>
  );
}

/** Across whose axis, where the part is placed. */
function MirrorSide({ part, axis }: { readonly part: Part; readonly axis: "x" | "y" | "z" }) {
  const placed = useEditor((s) => buildMiddle(s, part, axis) !== null);
  return placed ? <p className="muted">across {part.name}’s own {axis}, not the build’s</p> : null;
}

/** How much was drawn. */
function told(step: Step): string {
  const strokes = ("strokes" in step ? step.strokes : []) as readonly { readonly points: readonly unknown[] }[];
  const samples = strokes.reduce((sum, s) => sum + s.points.length, 0);
  return `${strokes.length} ${strokes.length === 1 ? "stroke" : "strokes"}, ${samples} ${samples === 1 ? "sample" : "samples"}`;
}

interface RowProps {
  readonly part: string;
  readonly step: Step;
  readonly parameter: ParameterValue;
  /** the set of values it is one of */
  readonly within?: string;
}

function ParameterRow({ part, step, parameter, within }: RowProps) {
  const unit = useEditor(unitOf);
  const id = step.id ?? "";
  const around = within === undefined ? null : ((step as unknown as Record<string, object>)[within] ?? {});
  const value = valueOf(around ?? step, parameter);
  const put = (intent: Intent) => {
    const entry = entryOf(`${part}/${id}/${parameter.name}`); // before anything is waited for: the field may be left meanwhile
    void accept().then(() => change(`Change ${parameter.title}`, intent, entry));
  };
  const set = (next: unknown) => {
    if (deepEqual(next, value)) return;
    if (parameter.quantity === "name") put(renameSent(part, id, parameter.name, String(next)));
    else put(within === undefined ? setStep(part, id, { [parameter.name]: next }) : setStepWithin(part, id, within, parameter.name, next));
  };
  const suffix = parameter.quantity === "angle" ? "°" : parameter.quantity === "length" ? unit : "";
  const field = (v: number | null, commit: (n: number) => void, label: string, width: number, letter?: string) => (
    <NumberField
      key={label}
      label={label}
      value={v}
      unit={parameter.quantity === "length" ? unit : null}
      suffix={letter ?? suffix}
      whole={parameter.quantity === "count"}
      width={width}
      {...(parameter.follows ? { empty: "as it is", onEmpty: () => set(undefined) } : {})}
      onCommit={commit}
    />
  );
  const letter = (i: number) => letterOf(step.kind, parameter.count, i);
  let control;
  if (parameter.quantity === "part" || parameter.quantity === "parts") {
    if (value == null) return null;
    control = <PartSelect part={part} parameter={parameter} value={value} onChange={set} />;
  } else if (parameter.quantity === "pattern") {
    if (value == null) return null;
    control = <PatternSelect value={String(value)} onChange={set} />;
  } else if (parameter.quantity === "patterns") {
    return <ReadableSelect value={(value ?? []) as readonly string[]} onChange={set} />;
  } else if (parameter.quantity === "picture") {
    return null; // told by what it was made of
  } else if (parameter.quantity === "board") {
    control = <BoardSelect value={String(value)} onChange={set} />;
  } else if (parameter.quantity === "profile") {
    control = <ProfileField part={part} value={value as Profile} onCommit={set} />;
  } else if (step.kind === "follow" && parameter.name === "step") {
    control = <FollowedStep part={String(valueOf(step, { ...parameter, name: "part" }))} value={String(value)} onChange={set} />;
  } else if (parameter.quantity === "name") {
    control = <NameField key={String(value)} label={parameter.title} value={String(value)} onCommit={set} />;
  } else if (parameter.quantity === "choice") {
    const own = Array.isArray(value) ? `[${value.join(", ")}]` : null;
    control = (
      <Select
        size="small"
        aria-label={parameter.title}
        style={{ minWidth: 108, maxWidth: 170, flexShrink: 0 }}
        popupMatchSelectWidth={false}
        value={own ?? String(value)}
        options={[...parameter.choices, ...(own ? [own] : [])].map((c) => ({ value: c, label: choiceText(c) }))}
        onChange={(next) => { if (next !== own) set(next); focusView(); }}
      />
    );
  } else if (parameter.quantity === "flag") {
    control = <Switch size="small" checked={value === true} aria-label={parameter.title} onChange={(on) => { set(on); focusView(); }} />;
  } else if (parameter.quantity === "other") {
    return null;
  } else if (parameter.count === 0) {
    if (!Array.isArray(value) || value.length === 0) return null; // another way of telling it is used
    const list = value.map(Number);
    control = (
      <span className="triple">
        {list.map((v, i) => field(v, (n) => n !== v && set(list.map((o, k) => (k === i ? n : o))), list.length > 1 ? `${parameter.title} ${i + 1}` : parameter.title, list.length > 1 ? 62 : 100))}
      </span>
    );
  } else if (parameter.count > 1) {
    if (!Array.isArray(value)) return null; // another way of telling it is used
    const list = value.map(Number);
    if (step.kind === "lattice" && parameter.name === "divisions") {
      const to = (i: number, n: number) => list.map((o, k) => (k === i ? n : o)) as Triple;
      return (
        <label className="row">
          <span>{parameter.title}</span>
          <span className="triple">{list.map((v, i) => field(v, (n) => n !== v && void accept().then(() => redivideStored(part, id, step as unknown as Values, to(i, n))), `divisions ${"xyz"[i]}`, 62))}</span>
        </label>
      );
    }
    control = (
      <span className="triple">
        {list.map((v, i) => field(v, (n) => n !== v && (around === null ? put(setStepNumber(part, id, parameter.name, i, n, list)) : set(list.map((o, k) => (k === i ? n : o)))), `${parameter.title} ${letter(i)}`, 62, letter(i)))}
      </span>
    );
  } else if (typeof value === "number" || parameter.follows) {
    control = field(typeof value === "number" ? value : null, set, parameter.title, 100);
  } else {
    return null; // optional and not given: the contract's default follows another number
  }
  return (
    <label className="row">
      <span>{parameter.title}{parameter.count > 1 && suffix !== "" && <span className="muted"> {suffix}</span>}</span>
      {control}
    </label>
  );
}
