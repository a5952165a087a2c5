import { Alert, Button, Input, Modal, Select, Spin, Switch } from "antd";
import { useEffect, useRef, useState } from "react";

import { sentence, type Unit } from "../../api/client";
import { accept } from "../../interaction/session/storing";
import { frame } from "../../interaction/viewing";
import { addFragment } from "../../model/document/fragment";
import { editor, METRES, unitOf, useEditor } from "../../model/store";
import { counted, shown, UNIT_NAMES } from "../../model/units";
import { change, tell } from "../../sync/build";
import { settleFields } from "../../sync/expression";
import { type ModelInfo, modelParts, uploadModel } from "../../sync/models";
import { NumberField } from "../fields/NumberField";

const UPS = [{ value: "y", label: "y is up" }, { value: "z", label: "z is up" }] as const;

/** A model file on its way in: what its numbers mean, what to mend, under which name. */
export function ModelDialog({ file, onClose }: { readonly file: File; readonly onClose: () => void }) {
  const unit = useEditor(unitOf);
  const [info, setInfo] = useState<ModelInfo | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const [name, setName] = useState(file.name.replace(/\.[^.]*$/, "").slice(0, 100) || "Model");
  const [given, setGiven] = useState<{ unit: Unit; up: "y" | "z"; weld: boolean; distance: number; quads: boolean }>({ unit: "m", up: "y", weld: false, distance: 0.01 * (0.01 / METRES[unit]), quads: false });
  const latest = useRef(given);
  const [busy, setBusy] = useState(false);
  const put = (values: Partial<typeof given>) => {
    latest.current = { ...latest.current, ...values };
    setGiven(latest.current);
  };

  useEffect(() => {
    let stale = false;
    uploadModel(file).then(
      (told) => {
        if (stale) return;
        setInfo(told);
        put({ unit: told.unit, up: told.up, weld: told.doubled > 0, quads: told.pairs > 0 });
      },
      (error: unknown) => !stale && setFault(sentence(error)),
    );
    return () => {
      stale = true;
    };
  }, [file]);

  const take = async () => {
    if (info === null || busy) return;
    setBusy(true);
    await settleFields();
    await accept();
    const now = latest.current;
    try {
      const fragment = await modelParts(info.sha256, { name: name.trim() || "Model", unit: now.unit, up: now.up, to: unit, weld: now.weld ? now.distance : 0, quads: now.quads });
      let first: string | null = null;
      if (await change(`Take in ${file.name}`, addFragment(fragment, (own) => (first = String(own.parts[0]?.["id"] ?? ""))))) {
        editor.set({ current: first, pick: null, openStep: null });
        onClose();
        setTimeout(frame, 100); // once its mesh is there
      }
    } catch (error) {
      tell(sentence(error));
    }
    setBusy(false);
  };

  const size = info === null ? [] : [0, 1, 2].map((k) => (((info.high[k] as number) - (info.low[k] as number)) * METRES[given.unit]) / METRES[unit]);
  const tall = given.up === "y" ? size : [size[0] as number, size[2] as number, size[1] as number];
  return (
    <Modal
      open
      title="A model comes in"
      width={440}
      onCancel={onClose}
      footer={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="primary" loading={busy} disabled={info === null} onClick={() => void take()}>
            Take it in
          </Button>
        </>
      }
    >
      <form className="taking" onSubmit={(e) => { e.preventDefault(); void take(); }}>
        {fault !== null && <Alert type="warning" title={`${file.name}: ${fault}`} />}
        {info === null && fault === null && <Spin description={`Reading ${file.name}`} />}
        {info !== null && (
          <>
            <label className="row">
              <span>name</span>
              <Input size="small" autoFocus aria-label="Name of what comes in" style={{ width: 190 }} value={name} onFocus={(e) => e.target.select()} onChange={(e) => setName(e.target.value)} />
            </label>
            <label className="row">
              <span>its lengths are</span>
              <Select<Unit> size="small" aria-label="Unit of the file" style={{ width: 190 }} value={given.unit} options={UNIT_NAMES} onChange={(v) => put({ unit: v })} />
            </label>
            <label className="row">
              <span>its axes</span>
              <Select<"y" | "z"> size="small" aria-label="Axis that is up" style={{ width: 190 }} value={given.up} options={UPS.map((u) => ({ ...u }))} onChange={(v) => put({ up: v })} />
            </label>
            <p className="muted" data-testid="taken-size">
              So it is {tall.map((v) => shown(Number(v.toPrecision(4)))).join(" × ")} {unit}, width × height × depth.
            </p>
            <label className="row">
              <span>weld points nearer than</span>
              <span className="weld">
                <Switch size="small" aria-label="Weld doubled points" checked={given.weld} onChange={(v) => put({ weld: v })} />
                <NumberField label="Weld distance" unit={unit} width={110} disabled={!given.weld} value={given.distance} onTry={(v) => put({ distance: Math.abs(v) })} onCommit={(v) => put({ distance: Math.abs(v) })} />
              </span>
            </label>
            <label className="row">
              <span>quads out of flat triangle pairs</span>
              <Switch size="small" aria-label="Quads out of triangles" checked={given.quads} onChange={(v) => put({ quads: v })} />
            </label>
            <p className="muted">
              {info.format.toUpperCase()}, {counted(info.faces)} faces, {counted(info.vertices)} points
              {info.nodes.length > 1 ? `, ${info.nodes.length} objects` : ""}. {info.doubled === 0 ? "No doubled points." : `${counted(info.doubled)} points stand on others.`}{" "}
              {info.pairs > 0 && `${counted(info.pairs)} pairs make quads. `}All of it can be changed later on its card.
            </p>
            <button type="submit" hidden />
          </>
        )}
      </form>
    </Modal>
  );
}
