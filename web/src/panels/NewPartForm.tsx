import { Button, Input, Segmented } from "antd";
import { useRef, useState } from "react";

import { change } from "../state/editor";
import { addPart, freeName } from "../state/intents";
import { accept } from "../state/session";
import { editor, METRES, partsOf, unitOf, useEditor } from "../state/store";
import { NumberField, settleFields } from "./NumberField";

type FormWord = "box" | "cylinder" | "plane";

const FIELDS: Record<FormWord, readonly { key: string; label: string; whole?: boolean }[]> = {
  box: [
    { key: "x", label: "width" },
    { key: "y", label: "height" },
    { key: "z", label: "depth" },
  ],
  cylinder: [
    { key: "radius", label: "radius" },
    { key: "height", label: "height" },
    { key: "sides", label: "sides", whole: true },
  ],
  plane: [
    { key: "x", label: "width" },
    { key: "z", label: "depth" },
  ],
};

/** Sizes in metres a form starts from, said in whole numbers of the build's unit. */
const START: Record<string, number> = { x: 0.2, y: 0.2, z: 0.2, radius: 0.1, height: 0.2, sides: 16 };

/** A new part: box, cylinder or plane with typed sizes. */
export function NewPartForm({ onDone }: { readonly onDone?: () => void }) {
  const unit = useEditor(unitOf);
  const parts = useEditor(partsOf);
  const [form, setForm] = useState<FormWord>("box");
  const [values, setValues] = useState<Record<string, number>>({});
  const [name, setName] = useState("");
  const [busy, setBusy] = useState(false);
  const latest = useRef(values);
  const value = (key: string) => latest.current[key] ?? (key === "sides" ? 16 : Number(((START[key] ?? 0.1) / METRES[unit]).toPrecision(3)));

  const put = (key: string, v: number) => {
    latest.current = { ...latest.current, [key]: v };
    setValues(latest.current);
  };

  const make = async () => {
    setBusy(true);
    await settleFields();
    await accept();
    const id = freeName("part", parts.map((p) => p.id));
    const title = name.trim() || freeName(form[0]?.toUpperCase() + form.slice(1), parts.map((p) => p.name), " ");
    const step =
      form === "box"
        ? { id: "box1", kind: "box", size: [value("x"), value("y"), value("z")] }
        : form === "plane"
          ? { id: "plane1", kind: "plane", size: [value("x"), value("z")] }
          : { id: "cylinder1", kind: "cylinder", radius: value("radius"), height: value("height"), sides: value("sides") };
    const fine = await change(`New ${form}`, addPart({ name: title, id, steps: [step] }));
    setBusy(false);
    if (!fine) return;
    editor.set({ current: id, pick: null, openStep: null });
    setName("");
    onDone?.();
  };

  return (
    <div className="newpart">
      <Segmented block value={form} onChange={setForm} options={[{ value: "box", label: "Box" }, { value: "cylinder", label: "Cylinder" }, { value: "plane", label: "Plane" }]} />
      <label className="row">
        <span>name</span>
        <Input size="small" aria-label="Name of the new part" placeholder="optional" value={name} style={{ width: 130 }} onChange={(e) => setName(e.target.value)} />
      </label>
      {FIELDS[form].map((f) => (
        <label className="row" key={`${form}-${f.key}`}>
          <span>{f.label}</span>
          <NumberField label={f.label} unit={f.whole ? null : unit} whole={f.whole ?? false} value={value(f.key)} width={130} onTry={(v) => put(f.key, v)} onCommit={(v) => put(f.key, v)} />
        </label>
      ))}
      <p className="muted">Sums and units are understood: 12&nbsp;cm&nbsp;+&nbsp;3&nbsp;mm, 1&nbsp;1/2&nbsp;in.</p>
      <Button type="primary" loading={busy} onClick={() => void make()}>
        Make {form}
      </Button>
    </div>
  );
}
