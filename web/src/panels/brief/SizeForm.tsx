import { Button, Input, Select } from "antd";
import { useEffect, useMemo, useRef, useState } from "react";

import type { Size } from "../../api/client";
import { focusView } from "../../interaction/focus";
import { useBrief } from "../../model/brief/boardFit";
import { addSize } from "../../model/document/intents";
import { haveText, type Measure, MEASURES, newSize, powerOf, type Target, targetsFor, targetText, unitText } from "../../model/brief/sizes";
import { partsOf, unitOf, useEditor } from "../../model/store";
import { trySizes } from "../../sync/fit";
import { change } from "../../sync/build";
import { settleFields } from "../../sync/expression";
import { NumberField } from "../fields/NumberField";

type Along = NonNullable<Size["along"]>;

/** A new size: what is measured of the pick, its name, what it should be. It is measured while it is being made. */
export function SizeForm({ onDone }: { readonly onDone: () => void }) {
  const [measure, setMeasure] = useState<Measure>("height");
  const [whose, setWhose] = useState<"pick" | "parts" | "build">("pick");
  const [several, setSeveral] = useState<readonly string[]>([]);
  const [name, setName] = useState<string | null>(null);
  const [along, setAlong] = useState<Along>("straight");
  const [kept, setKept] = useState<readonly Target[] | null>(null);
  const want = useRef<number | null>(null);
  const [, again] = useState(0);
  const pick = useEditor((s) => s.pick);
  const current = useEditor((s) => s.current);
  const parts = useEditor(partsOf);
  const unit = useEditor(unitOf);
  const tried = useBrief((s) => s.tried[0]);
  const canWhole = ["width", "height", "depth", "area", "volume"].includes(measure);
  const of = useMemo(() => (canWhole && whose === "build" ? [] : canWhole && whose === "parts" ? (several.length === 0 ? "choose parts" : several.map((part): Target => ({ part }))) : (kept ?? targetsFor(measure, useEditor.getState()))), [measure, whose, several, canWhole, kept, pick, current]);
  const size = useMemo(() => {
    if (typeof of === "string") return null;
    const made = { ...newSize(measure, of), ...(measure === "distance" || measure === "gap" ? { along } : {}) } as Size;
    return name === null || name.trim() === "" ? made : { ...made, name: name.trim() };
  }, [of, measure, along, name]);

  useEffect(() => {
    trySizes(size === null ? [] : [{ ...size, id: "tried" }]);
  }, [size]);
  useEffect(() => () => trySizes([]), []);

  const power = powerOf(measure);
  const add = async () => {
    await settleFields();
    if (size === null || tried?.problem != null) return;
    const value = want.current;
    if (!(await change(`Size ${size.name}`, addSize(value === null ? size : { ...size, want: value })))) return;
    onDone();
    focusView();
  };
  const gapOther = measure === "gap" && Array.isArray(of) ? of[1]?.part : undefined;
  return (
    <div className="sizeform">
      <label className="row">
        <span>measure</span>
        <Select<Measure> size="small" aria-label="What is measured" style={{ width: 150 }} value={measure} options={[...MEASURES]} onChange={(m) => { setMeasure(m); setKept(null); want.current = null; }} />
      </label>
      {canWhole && (
        <label className="row">
          <span>of</span>
          <Select<"pick" | "parts" | "build"> size="small" aria-label="Measured of" style={{ width: 150 }} value={whose} options={[{ value: "pick", label: whose !== "pick" || typeof of === "string" || of[0] === undefined ? "the pick, or the part" : targetText(of[0], useEditor.getState()) }, { value: "parts", label: "several parts" }, { value: "build", label: "the whole build" }]} onChange={setWhose} />
        </label>
      )}
      {canWhole && whose === "parts" && <Select<string[]> size="small" mode="multiple" aria-label="Parts measured" style={{ width: "100%" }} placeholder="parts" value={[...several]} options={parts.map((p) => ({ value: p.id ?? "", label: p.name }))} onChange={setSeveral} />}
      {!canWhole && typeof of !== "string" && <p className="muted small">of {of.map((t) => targetText(t, useEditor.getState())).join(" and ")}</p>}
      {typeof of === "string" && <p className="warn small" role="status">△ {of}</p>}
      {measure === "gap" && typeof of !== "string" && (
        <label className="row">
          <span>to</span>
          <Select<string> size="small" aria-label="Gap to" style={{ width: 150 }} value={gapOther ?? ""} options={parts.filter((p) => p.id !== of[0]?.part).map((p) => ({ value: p.id ?? "", label: p.name }))} onChange={(id) => setKept([of[0] as Target, { part: id }])} />
        </label>
      )}
      {(measure === "distance" || measure === "gap") && (
        <label className="row">
          <span>along</span>
          <Select<Along> size="small" aria-label="Measured along" style={{ width: 150 }} value={along} options={[{ value: "straight", label: "the shortest way" }, { value: "x", label: "x" }, { value: "y", label: "y" }, { value: "z", label: "z" }]} onChange={setAlong} />
        </label>
      )}
      <label className="row">
        <span>name</span>
        <Input size="small" aria-label="Name of the size" style={{ width: 150 }} placeholder={size?.name ?? ""} value={name ?? ""} maxLength={100} onChange={(e) => setName(e.target.value)} onPressEnter={() => void add()} />
      </label>
      <label className="row">
        <span>wanted</span>
        <NumberField label="Wanted value" unit={power === 0 ? null : unit} power={power} suffix={unitText(measure)} quantity={measure} width={110} value={want.current ?? tried?.have ?? 0} onCommit={(v) => { want.current = v; again((n) => n + 1); }} onEnter={() => void add()} onLeave={onDone} />
      </label>
      <div className="row">
        <span data-testid="tried">{tried === undefined || size === null ? "" : tried.problem ?? `now ${haveText(size, tried)} ${unitText(measure)}`}</span>
        <span className="icons">
          <Button size="small" onClick={onDone}>Leave it</Button>
          <Button size="small" type="primary" disabled={size === null || tried?.problem != null} onClick={() => void add()}>Add size</Button>
        </span>
      </div>
    </div>
  );
}
