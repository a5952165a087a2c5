import type { Step } from "../api/client";
import { accept } from "../interaction/session/storing";
import { changeStep } from "../model/intents";
import { type Triple, unitOf, useEditor } from "../model/store";
import { change } from "../sync/build";
import { NumberField } from "./NumberField";

type Box = readonly [Triple, Triple];

/** The two corners of a lattice's box, by their numbers; its control points go with it. */
export function LatticeBox({ part, step }: { readonly part: string; readonly step: Step }) {
  const unit = useEditor(unitOf);
  const box = ("box" in step ? step.box : null) as Box | null | undefined;
  if (box == null) return null;
  const put = (corner: 0 | 1, axis: number, value: number) => {
    const to = (box[corner] as Triple).map((v, k) => (k === axis ? value : v));
    void accept().then(() => change("Change box", changeStep(part, step.id ?? "", { box: { [corner]: box[corner] } }, { box: { [corner]: to } })));
  };
  return (
    <>
      {(["box from", "box to"] as const).map((title, corner) => (
        <label className="row" key={title}>
          <span>{title}</span>
          <span className="triple">
            {(box[corner] as Triple).map((v, axis) => (
              <NumberField key={axis} label={`${title} ${"xyz"[axis] ?? ""}`} value={v} unit={unit} suffix={unit} width={62} onCommit={(n) => n !== v && put(corner as 0 | 1, axis, n)} />
            ))}
          </span>
        </label>
      ))}
    </>
  );
}
