import { Button, Input } from "antd";
import { useRef, useState } from "react";

import { change } from "../state/editor";
import { addPart, freeName } from "../state/intents";
import { accept } from "../state/session";
import { editor, METRES, partsOf, unitOf, useEditor } from "../state/store";
import { NumberField, settleFields } from "./NumberField";

interface Field {
  readonly key: string;
  readonly label: string;
  /** metres a length starts from, or a count */
  readonly start: number;
  readonly whole?: boolean;
}

const length = (key: string, start: number, label = key): Field => ({ key, label, start });
const count = (key: string, start: number, label = key): Field => ({ key, label, start, whole: true });

/** The base forms, with what is worth typing before they stand. */
const FORMS = {
  box: { title: "Box", fields: [length("x", 0.2, "width"), length("y", 0.2, "height"), length("z", 0.2, "depth")] },
  cylinder: { title: "Cylinder", fields: [length("radius", 0.1), length("height", 0.2), count("sides", 16)] },
  plane: { title: "Plane", fields: [length("x", 0.2, "width"), length("z", 0.2, "depth")] },
  tube: { title: "Tube", fields: [length("radius", 0.1), length("inner_radius", 0.08, "inner radius"), length("height", 0.2), count("sides", 16)] },
  sphere: { title: "Sphere", fields: [length("radius", 0.1), count("sides", 16), count("rings", 8)] },
  quad_sphere: { title: "Quad sphere", fields: [length("radius", 0.1), count("segments", 4)] },
  torus: { title: "Torus", fields: [length("radius", 0.1), length("tube_radius", 0.03, "tube radius"), count("sides", 24), count("tube_sides", 12, "tube sides")] },
} as const satisfies Record<string, { title: string; fields: readonly Field[] }>;

type FormWord = keyof typeof FORMS;

/** The parameters of a form, sizes along axes put together. */
function parameters(form: FormWord, value: (field: Field) => number): Record<string, unknown> {
  const typed = Object.fromEntries(FORMS[form].fields.map((f) => [f.key, value(f)]));
  if (form === "box") return { size: [typed["x"], typed["y"], typed["z"]] };
  if (form === "plane") return { size: [typed["x"], typed["z"]] };
  return typed;
}

/** A new part: a base form with typed sizes. */
export function NewPartForm({ onDone }: { readonly onDone?: () => void }) {
  const unit = useEditor(unitOf);
  const parts = useEditor(partsOf);
  const [form, setForm] = useState<FormWord>("box");
  const [values, setValues] = useState<Record<string, number>>({});
  const [name, setName] = useState("");
  const [busy, setBusy] = useState(false);
  const latest = useRef(values);
  const value = (f: Field) => latest.current[f.key] ?? (f.whole ? f.start : Number((f.start / METRES[unit]).toPrecision(3)));

  const put = (key: string, v: number) => {
    latest.current = { ...latest.current, [key]: v };
    setValues(latest.current);
  };

  const choose = (word: FormWord) => {
    latest.current = {};
    setValues({});
    setForm(word);
  };

  const make = async () => {
    setBusy(true);
    await settleFields();
    await accept();
    const id = freeName("part", parts.map((p) => p.id));
    const title = name.trim() || freeName(FORMS[form].title, parts.map((p) => p.name), " ");
    const step = { id: `${form}1`, kind: form, ...parameters(form, value) };
    const fine = await change(`New ${FORMS[form].title.toLowerCase()}`, addPart({ name: title, id, steps: [step] }));
    setBusy(false);
    if (!fine) return;
    editor.set({ current: id, pick: null, openStep: null });
    setName("");
    onDone?.();
  };

  return (
    <div className="newpart">
      <div className="forms" role="radiogroup" aria-label="Form">
        {(Object.keys(FORMS) as FormWord[]).map((word) => (
          <Button key={word} size="small" role="radio" aria-checked={form === word} className={form === word ? "on" : ""} onClick={() => choose(word)}>
            {FORMS[word].title}
          </Button>
        ))}
      </div>
      <label className="row">
        <span>name</span>
        <Input size="small" aria-label="Name of the new part" placeholder="optional" value={name} style={{ width: 130 }} onChange={(e) => setName(e.target.value)} />
      </label>
      {FORMS[form].fields.map((f: Field) => (
        <label className="row" key={`${form}-${f.key}`}>
          <span>{f.label}</span>
          <NumberField label={f.label} unit={f.whole ? null : unit} whole={f.whole ?? false} value={value(f)} width={130} onTry={(v) => put(f.key, v)} onCommit={(v) => put(f.key, v)} />
        </label>
      ))}
      <p className="muted">Sums and units are understood: 12&nbsp;cm&nbsp;+&nbsp;3&nbsp;mm, 1&nbsp;1/2&nbsp;in.</p>
      <Button type="primary" loading={busy} onClick={() => void make()}>
        Make {FORMS[form].title.toLowerCase()}
      </Button>
    </div>
  );
}
