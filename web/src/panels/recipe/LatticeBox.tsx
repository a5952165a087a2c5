import { Button } from "antd";

import type { Step } from "../../api/client";
import { accept } from "../../interaction/session/storing";
import { changeStep, setStep } from "../../model/document/intents";
import { type Triple, unitOf, useEditor } from "../../model/store";
import { change } from "../../sync/build";
import { extentOf } from "../../sync/extent";
import { NumberField } from "../fields/NumberField";

type Box = readonly [Triple, Triple];

/** The two corners of a lattice's box where it keeps one of its own, by their numbers; its control points go with it. Else it follows
 * what it is laid round. */
export function LatticeBox({ part, step }: { readonly part: string; readonly step: Step }) {
  const unit = useEditor(unitOf);
  if (step.kind !== "lattice") return null;
  const id = step.id ?? "";
  const box = ("box" in step ? step.box : null) as Box | null | undefined;
  if (box == null) {
    const keep = async () => {
      await accept();
      const reach = await extentOf(part, null, "part", id, ("pick" in step ? (step.pick as object | null | undefined) : null) ?? null);
      if (reach !== null) await change("Box of its own", setStep(part, id, { box: [reach.low, reach.high] }));
    };
    return (
      <p className="muted">
        Its box follows what it is laid round. <Button size="small" onClick={() => void keep()}>give it a box of its own</Button>
      </p>
    );
  }
  const put = (corner: 0 | 1, axis: number, value: number) => {
    const to = (box[corner] as Triple).map((v, k) => (k === axis ? value : v));
    void accept().then(() => change("Change box", changeStep(part, id, { box: { [corner]: box[corner] } }, { box: { [corner]: to } })));
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
      <p className="muted">
        Its box stays where it stood, whatever is changed above. <Button size="small" onClick={() => void accept().then(() => change("Follow again", setStep(part, id, { box: undefined })))}>let it follow</Button>
      </p>
    </>
  );
}
