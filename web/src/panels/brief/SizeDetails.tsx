import { Button, Checkbox, Input, Select } from "antd";
import { useState } from "react";

import type { Size, SizeInfo } from "../../api/client";
import { driveSize } from "../../interaction/brief/driveSizes";
import { type Driver, driverGroups, driverText, sameDriver } from "../../model/brief/drivers";
import { removeSize, setSize } from "../../model/document/intents";
import { MEASURES, powerOf, targetsFor, targetText, unitText } from "../../model/brief/sizes";
import { unitOf, useEditor } from "../../model/store";
import { change } from "../../sync/build";
import { NumberField } from "../fields/NumberField";

/** One size opened: what it measures, how near is near enough, what drives it. */
export function SizeDetails({ size, info }: { readonly size: Size; readonly info: SizeInfo | undefined }) {
  const state = useEditor();
  const unit = useEditor(unitOf);
  const [name, setName] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const set = (label: string, values: Parameters<typeof setSize>[1]) => void change(label, setSize(size.id, values), `size/${size.id}/${Object.keys(values)[0]}`);
  const commit = () => {
    const typed = name?.trim();
    setName(null);
    if (typed && typed !== size.name) set("Rename size", { name: typed });
  };
  const groups = driverGroups(state, size);
  const chosen = size.driver == null ? null : (groups.flatMap((g) => [...g.options]).find((o) => sameDriver(o.driver, size.driver as Driver))?.value ?? "kept");
  const options = [
    { value: "", label: "nothing: the value is only told" },
    ...(chosen === "kept" ? [{ value: "kept", label: driverText(size.driver as Driver, groups) }] : []),
    ...groups.map((g) => ({ label: g.label, options: g.options.map((o) => ({ value: o.value, label: o.label })) })),
  ];
  const drive = async () => {
    if (size.want == null) return;
    setBusy(true);
    await driveSize(size, size.want);
    setBusy(false);
  };
  const again = () => {
    const of = targetsFor(size.measure, useEditor.getState());
    if (typeof of !== "string") set("Measure anew", { of });
  };
  const power = powerOf(size.measure);
  const tolerance = info?.tolerance ?? size.tolerance ?? 0;
  return (
    <div className="sizedetails">
      <label className="row">
        <span>name</span>
        <Input size="small" aria-label={`Name of ${size.name}`} style={{ width: 140 }} value={name ?? size.name} onChange={(e) => setName(e.target.value)} onBlur={commit} onPressEnter={(e) => e.currentTarget.blur()} />
      </label>
      <p className="muted small">
        {MEASURES.find((m) => m.value === size.measure)?.label} of {size.of?.length ? size.of.map((t) => targetText(t, state)).join(" and ") : "the whole build"}
        {size.along && size.along !== "straight" ? `, along ${size.along}` : ""}
      </p>
      {info?.problem != null && <p className="fault small" role="alert">▲ {info.problem}</p>}
      {size.want != null && (
        <label className="row">
          <span>passes within ±</span>
          <NumberField label={`Tolerance of ${size.name}`} unit={power === 0 ? null : unit} power={power} suffix={unitText(size.measure)} quantity="tolerance" width={96} value={tolerance} onCommit={(v) => v >= 0 && set("Tolerance", { tolerance: v })} />
        </label>
      )}
      <label className="row">
        <span>driven by</span>
        <Select<string>
          size="small"
          aria-label={`What drives ${size.name}`}
          style={{ width: 144 }}
          popupMatchSelectWidth={230}
          showSearch={{ optionFilterProp: "label" }}
          value={chosen ?? ""}
          options={options}
          onChange={(key) => {
            if (key === "kept") return;
            const found = groups.flatMap((g) => [...g.options]).find((o) => o.value === key);
            set("What drives a size", { driver: found?.driver });
          }}
        />
      </label>
      <div className="checks">
        <Checkbox checked={size.shown ?? true} onChange={(e) => set("Show size", { shown: e.target.checked })}>in the views</Checkbox>
      </div>
      <div className="actions">
        <Button size="small" type="primary" disabled={size.driver == null || size.want == null} loading={busy} onClick={() => void drive()}>Drive to what is wanted</Button>
        <Button size="small" onClick={again}>Measure the pick instead</Button>
        <Button size="small" onClick={() => void change("Remove size", removeSize(size.id))}>Remove</Button>
      </div>
    </div>
  );
}
