import { InputNumber, Select } from "antd";
import { useState } from "react";

import type { Size, SizeInfo, Unit } from "../../api/client";
import { driveSize, wantSize } from "../../interaction/brief/driveSizes";
import { useBrief } from "../../model/brief/boardFit";
import { setDisplay } from "../../model/document/intents";
import { haveText, offText, powerOf, signOf } from "../../model/brief/sizes";
import { METRES, unitOf, useEditor } from "../../model/store";
import { shownUnit } from "../../model/units";
import { change } from "../../sync/build";
import { NumberField } from "../fields/NumberField";
import { SizeDetails } from "./SizeDetails";
import { SizeForm } from "./SizeForm";
import { Tip } from "../fields/Tip";

const NONE: readonly Size[] = [];

/** What was measured and what is wanted: want, have, off; live. */
export function SizesSection() {
  const sizes = useEditor((s) => s.build?.document.sizes ?? NONE);
  const infos = useBrief((s) => s.sizes);
  const [adding, setAdding] = useState(false);
  const [open, setOpen] = useState<string | null>(null);
  return (
    <>
      <h2>
        Target sizes
        <button type="button" className="link" onClick={() => setAdding(!adding)}>
          + Size
        </button>
      </h2>
      {adding && <SizeForm onDone={() => setAdding(false)} />}
      {sizes.length > 0 && (
        <table className="sizes">
          <thead>
            <tr>
              <th />
              <th>want</th>
              <th>have</th>
              <th>off</th>
            </tr>
          </thead>
          <tbody>
            {sizes.map((s) => (
              <SizeRow key={s.id} size={s} info={infos[s.id]} open={open === s.id} onOpen={() => setOpen(open === s.id ? null : s.id)} />
            ))}
          </tbody>
        </table>
      )}
      {sizes.length === 0 && !adding && <p className="muted small">Write down what you know: overall height, a window's width. Each is measured live, and can be driven to its value.</p>}
      <UnitsRow />
    </>
  );
}

function SizeRow({ size, info, open, onOpen }: { readonly size: Size; readonly info: SizeInfo | undefined; readonly open: boolean; readonly onOpen: () => void }) {
  const [busy, setBusy] = useState(false);
  useEditor(shownUnit);
  const unit = useEditor(unitOf);
  const power = powerOf(size.measure);
  const want = async (value: number) => {
    if (value === size.want && info?.verdict === "pass") return;
    setBusy(true);
    if (size.driver == null) await wantSize(size, value);
    else await driveSize(size, value);
    setBusy(false);
  };
  const verdict = info?.verdict ?? null;
  return (
    <>
      <tr className={`${verdict ?? ""}${open ? " open" : ""}`} data-size={size.name}>
        <td>
          <button type="button" className="name ellipsis" aria-expanded={open} title={info?.problem ?? size.name} onClick={onOpen}>{size.name}</button>
        </td>
        <td className={size.driver == null ? "" : "driven"}>
          <Tip title={size.driver == null ? "" : "Typing here drives the model"}>
            <span>
              {size.want == null ? (
                <button type="button" className="link" onClick={() => info?.have != null && void wantSize(size, Number(info.have.toPrecision(6)))} title="Want what it is now, then correct it">set</button>
              ) : (
                <NumberField label={`Wanted ${size.name}`} unit={power === 0 ? null : unit} power={power} suffix="" quantity={size.measure} width={47} disabled={busy} value={size.want} onCommit={(v) => void want(v)} />
              )}
            </span>
          </Tip>
        </td>
        <td data-testid="have">{info === undefined ? "" : haveText(size, info)}</td>
        <td data-testid="off" className={verdict === "pass" ? "good" : verdict === null && info?.problem == null ? "" : "warn"}>
          {info === undefined ? "" : `${signOf(info)}${offText(size, info)}`}
        </td>
      </tr>
      {open && (
        <tr className="opened">
          <td colSpan={4}>
            <SizeDetails size={size} info={info} />
          </td>
        </tr>
      )}
    </>
  );
}

/** How lengths are shown; nothing stored changes. */
function UnitsRow() {
  const unit = useEditor(shownUnit);
  const digits = useEditor((s) => s.build?.document.display?.digits ?? null);
  return (
    <div className="row units">
      <span>lengths in</span>
      <span className="icons">
        <Select<Unit> size="small" aria-label="Unit shown" style={{ width: 64 }} value={unit} options={(Object.keys(METRES) as Unit[]).map((u) => ({ value: u, label: u }))} onChange={(u) => void change("Show lengths", setDisplay({ unit: u }))} />
        <Tip title="Most decimals shown; empty shows what there is">
          <InputNumber size="small" aria-label="Decimals shown" style={{ width: 58 }} min={0} max={6} precision={0} changeOnWheel={false} placeholder="auto" value={digits} onChange={(d) => void change("Show lengths", setDisplay({ digits: d }), "display/digits")} />
        </Tip>
      </span>
    </div>
  );
}
