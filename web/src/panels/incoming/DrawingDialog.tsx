import { Button, Modal, type RefSelectProps, Select } from "antd";
import { useEffect, useRef, useState } from "react";

import type { Unit } from "../../api/client";
import { takeDrawing } from "../../interaction/curves/takeDrawing";
import type { Unitless } from "../../model/session/dropped";
import { METRES, unitOf, useEditor } from "../../model/store";
import { shown, UNIT_NAMES } from "../../model/units";

/** A drawing that tells no unit on its way in: what its lengths are in. */
export function DrawingDialog({ drawing, onClose }: { readonly drawing: Unitless; readonly onClose: () => void }) {
  const own = useEditor(unitOf);
  const [unit, setUnit] = useState<Unit>(drawing.assumed);
  const [busy, setBusy] = useState(false);
  const [unfolded, setUnfolded] = useState(false);
  const field = useRef<RefSelectProps>(null);
  useEffect(() => {
    const soon = setTimeout(() => field.current?.focus(), 0);
    return () => clearTimeout(soon);
  }, []);
  const take = async () => {
    if (busy) return;
    setBusy(true);
    if (await takeDrawing(drawing.file, unit)) onClose();
    else setBusy(false);
  };
  return (
    <Modal
      open
      title="The drawing tells no unit"
      width={400}
      onCancel={onClose}
      footer={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="primary" loading={busy} onClick={() => void take()}>Take it in</Button>
        </>
      }
    >
      <label className="row">
        <span>its lengths are</span>
        <Select<Unit>
          ref={field}
          size="small"
          aria-label="Unit of the drawing"
          style={{ width: 190 }}
          value={unit}
          options={UNIT_NAMES}
          onChange={setUnit}
          open={unfolded}
          onOpenChange={setUnfolded}
          onInputKeyDown={(e) => {
            if (e.key !== "Enter" || unfolded) return;
            e.preventDefault();
            e.stopPropagation();
            void take();
          }}
        />
      </label>
      <p className="muted">
        What is 100 long in {drawing.file.name} is {shown(Number(((100 * METRES[unit]) / METRES[own]).toPrecision(6)))} {own} here.
      </p>
    </Modal>
  );
}
