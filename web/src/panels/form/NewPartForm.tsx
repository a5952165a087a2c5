import { Button, Input, Select } from "antd";
import { useRef, useState } from "react";

import type { KindInfo, Parameter, Unit } from "../../api/client";
import { backToView, focusView } from "../../interaction/focus";
import { accept } from "../../interaction/session/storing";
import { keyOf } from "../../interaction/keys/commands";
import { startDrawing } from "../../interaction/curves/drawForm";
import { startPath } from "../../interaction/curves/drawPath";
import { takeDrawing } from "../../interaction/curves/takeDrawing";
import { isDrawing, MODEL_FILES, useDropped } from "../../model/session/dropped";
import { addPart, freeName } from "../../model/document/intents";
import { baseForms, drawnForms, firstSize, offered } from "../../model/steps/kinds";
import { editor, partsOf, unitOf, useEditor } from "../../model/store";
import { change } from "../../sync/build";
import { settleFields } from "../../sync/expression";
import { NumberField } from "../fields/NumberField";
import { Tip } from "../fields/Tip";
import { useFirstField } from "../fields/useFirstField";

/** Metres a new form is large before anybody typed a size. */
const START = 0.2;
const ALONG = { x: "width", y: "height", z: "depth" } as const;

/** The form's own axis is y: turned, it lies along another. */
const TURNS = { y: [0, 0, 0], x: [0, 0, -90], z: [90, 0, 0] } as const;
const ALONGS = [{ value: "y", label: "upright" }, { value: "x", label: "along x" }, { value: "z", label: "along z" }] as const;
const ANCHORS = [{ value: "base", label: "by its base" }, { value: "centre", label: "by its centre" }] as const;
/** The form that has no sizes to type: it is drawn. */
const PATH = "path";
const PLANES = ["xy", "xz", "yz"] as const;
const PLACE = ["x of the new part", "y of the new part", "z of the new part"] as const;

interface Field {
  readonly parameter: string;
  /** which of the parameter's numbers */
  readonly index: number | null;
  readonly label: string;
  readonly quantity: Parameter["quantity"];
  readonly start: number;
}

/** What is worth typing before a form stands: everything that its kind proposes. */
function fieldsOf(kind: KindInfo, unit: Unit): Field[] {
  const starts = offered(kind, START, (metres) => firstSize(metres, unit));
  return kind.proposal.flatMap((o): Field[] => {
    const parameter = kind.parameters.find((p) => p.name === o.parameter);
    const start = starts[o.parameter];
    const quantity = parameter?.quantity ?? "other";
    if (Array.isArray(start)) {
      return (start as readonly number[]).map((v, index) => {
        const axis = kind.spans.find((s) => s.parameter === o.parameter && s.index === index)?.axis;
        return { parameter: o.parameter, index, label: axis === undefined ? `${parameter?.title ?? o.parameter} ${index + 1}` : ALONG[axis], quantity, start: v };
      });
    }
    return [{ parameter: o.parameter, index: null, label: parameter?.title ?? o.parameter, quantity, start: Number(start) }];
  });
}

/** The parameters of a form, numbers of one parameter put together. */
function parametersOf(fields: readonly Field[], value: (field: Field) => number): Record<string, number | number[]> {
  const out: Record<string, number | number[]> = {};
  for (const f of fields) out[f.parameter] = f.index === null ? value(f) : [...((out[f.parameter] as number[] | undefined) ?? []), value(f)];
  return out;
}

/** A new part: a base form with typed sizes. In a dialog, and at the `start` of a build, its first size has the focus. */
export function NewPartForm({ onDone, start = false }: { readonly onDone?: () => void; readonly start?: boolean }) {
  const unit = useEditor(unitOf);
  const parts = useEditor(partsOf);
  const forms = baseForms(useEditor((s) => s.kinds));
  const [chosen, choose] = useState<string | null>(null);
  const path = chosen === PATH;
  const kind = forms.find((k) => k.word === chosen) ?? forms[0];
  const drawn = drawnForms(forms).some((k) => k.word === kind?.word);
  const drawing = useEditor((s) => s.drawing?.form === kind?.word || (path && s.path !== null));
  const curve = kind?.curve === "begins";
  const fields = kind === undefined ? [] : fieldsOf(kind, unit);
  const [values, setValues] = useState<Record<string, number>>({});
  const [name, setName] = useState("");
  const [standing, stand] = useState<{ along: keyof typeof TURNS; anchor: "base" | "centre" }>({ along: "y", anchor: "base" });
  const [plane, setPlane] = useState("xy");
  const [busy, setBusy] = useState(false);
  const latest = useRef(values);
  const first = useFirstField(onDone === undefined ? "page" : "dialog");
  // what was taken back may be wanted again: the keys stay the view's
  const undone = useEditor((s) => s.build?.redo != null);
  const takes = onDone !== undefined || chosen !== null || (start && !undone);
  const leave = onDone === undefined ? focusView : () => undefined;
  const picker = useRef<HTMLInputElement>(null);
  const value = (f: Field) => latest.current[f.label] ?? f.start;

  const put = (key: string, v: number) => {
    latest.current = { ...latest.current, [key]: v };
    setValues(latest.current);
  };

  const turnTo = (word: string) => {
    latest.current = Object.fromEntries(Object.entries(latest.current).filter(([label]) => PLACE.includes(label as never)));
    setValues(latest.current);
    choose(word);
    setTimeout(() => first.ref.current?.focus({ cursor: "all" })); // who chose a form goes on with its sizes
  };

  const draw = (begin: () => Promise<void>) => {
    onDone?.();
    void begin().then(() => setTimeout(backToView));
  };

  const make = async () => {
    if (kind === undefined) return;
    setBusy(true);
    await settleFields();
    await accept();
    const id = freeName("part", parts.map((p) => p.id));
    const title = name.trim() || freeName(kind.title, parts.map((p) => p.name), " ");
    const own = curve ? { plane } : standing.anchor === "centre" ? { anchor: "centre" } : {};
    const step = { id: `${kind.word}1`, kind: kind.word, ...parametersOf(fields, value), ...own };
    const translate = [0, 1, 2].map((k) => latest.current[PLACE[k] as string] ?? 0);
    const placement = { ...(translate.some((v) => v !== 0) ? { translate } : {}), ...(curve || standing.along === "y" ? {} : { rotate: TURNS[standing.along] }) };
    const fine = await change(`New ${kind.title.toLowerCase()}`, addPart({ name: title, id, ...(Object.keys(placement).length > 0 ? { placement } : {}), steps: [step] }));
    setBusy(false);
    if (!fine) return;
    editor.set({ current: id, pick: null, openStep: null });
    setName("");
    if (onDone === undefined) setTimeout(backToView);
    else onDone();
  };

  return (
    <div className="newpart">
      <div className="forms" role="radiogroup" aria-label="Form">
        {forms.map(({ word, title }) => (
          <Button key={word} size="small" role="radio" aria-checked={word === kind?.word} className={word === kind?.word ? "on" : ""} onClick={() => turnTo(word)}>
            {title}
          </Button>
        ))}
        <Button size="small" role="radio" aria-checked={path} className={path ? "on" : ""} onClick={() => choose(PATH)}>
          Path
        </Button>
      </div>
      {path ? (
        <>
          <p className="muted">Click its points in a view, drag for soft ones, or type them; or draw round a shape in one stroke.</p>
          <span role="group" aria-label="Draw by hand" className="pair">
            <Button type="primary" className={drawing ? "on" : ""} onClick={() => draw(() => startPath(true))}>
              Draw it <kbd>{keyOf("path")}</kbd>
            </Button>
            <Button onClick={() => draw(() => startPath(true, true))}>Freehand</Button>
          </span>
        </>
      ) : (
        <>
          <label className="row">
            <span>name</span>
            <Input size="small" aria-label="Name of the new part" placeholder="optional" value={name} style={{ width: 130 }} onChange={(e) => setName(e.target.value)} onPressEnter={() => void make()} />
          </label>
          {fields.map((f) => (
            <label className="row" key={`${kind?.word}-${f.label}`}>
              <span>{f.label}</span>
              <NumberField label={f.label} unit={f.quantity === "length" ? unit : null} suffix={f.quantity === "length" ? unit : f.quantity === "angle" ? "°" : ""} whole={f.quantity === "count"} value={value(f)} width={130} {...(f === fields[0] && takes ? { inputRef: first.ref } : {})} onTry={(v) => put(f.label, v)} onCommit={(v) => put(f.label, v)} onEnter={() => void make()} onLeave={leave} />
            </label>
          ))}
          <div className="row">
            <span>{curve ? "in the plane" : "stands"}</span>
            {curve ? (
              <Select size="small" aria-label="Plane of the new curve" style={{ width: 80 }} popupMatchSelectWidth={false} value={plane} options={PLANES.map((value) => ({ value }))} onChange={setPlane} />
            ) : (
              <span className="pair">
                <Select<keyof typeof TURNS> size="small" aria-label="How the new part lies" style={{ width: 80 }} popupMatchSelectWidth={false} value={standing.along} options={ALONGS.map((o) => ({ ...o }))} onChange={(along) => stand({ ...standing, along })} />
                <Select<"base" | "centre"> size="small" aria-label="What of the new part is placed" style={{ width: 96 }} popupMatchSelectWidth={false} value={standing.anchor} options={ANCHORS.map((o) => ({ ...o }))} onChange={(anchor) => stand({ ...standing, anchor })} />
              </span>
            )}
          </div>
          <div className="row">
            <span>at</span>
            <span className="triple">
              {PLACE.map((label, k) => (
                <NumberField key={label} label={label} unit={unit} suffix={"xyz"[k] as string} width={60} value={values[label] ?? 0} onTry={(v) => put(label, v)} onCommit={(v) => put(label, v)} onEnter={() => void make()} onLeave={leave} />
              ))}
            </span>
          </div>
          <input ref={picker} type="file" hidden accept={MODEL_FILES} aria-label="Model file" onChange={(e) => { const file = e.target.files?.[0]; e.target.value = ""; if (file) { if (isDrawing(file)) void takeDrawing(file); else useDropped.setState({ model: file }); onDone?.(); } }} />
          <p className="muted">Sums and units are understood: 12&nbsp;cm&nbsp;+&nbsp;3&nbsp;mm, 1&nbsp;1/2&nbsp;in.</p>
          <span role="group" aria-label="Draw by hand" className="pair wraps">
            <Button type="primary" loading={busy} onClick={() => void make()}>
              Make {kind?.title.toLowerCase()}
            </Button>
            {drawn && (
              <Tip title="Drag its footprint in a view, or on the picked face; then its height">
                <Button className={drawing ? "on" : ""} onClick={() => draw(() => startDrawing(kind?.word ?? ""))}>Draw it</Button>
              </Tip>
            )}
            <Button onClick={() => picker.current?.click()}>From a file …</Button>
          </span>
        </>
      )}
    </div>
  );
}
