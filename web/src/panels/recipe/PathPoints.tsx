import { Button, Select } from "antd";

import type { Step } from "../../api/client";
import { backToView, focusView } from "../../interaction/focus";
import { cornered, sharpenPath, startPath } from "../../interaction/curves/drawPath";
import { accept } from "../../interaction/session/storing";
import { setStep } from "../../model/document/intents";
import { type Corner, CORNERS, type PathPoint, pointsOf, told } from "../../model/drawing/pathPoints";
import { editor, type Triple, unitOf, useEditor } from "../../model/store";
import { change } from "../../sync/build";
import { NumberField } from "../fields/NumberField";

/** A path of more points than this is worked in the view. */
const MOST = 200;

/** The points of a path on its card: places, corners, radii; one at a time, or one value for all along an axis. */
export function PathPoints({ part, step }: { readonly part: string; readonly step: Step }) {
  const unit = useEditor(unitOf);
  const points = pointsOf(step);
  const put = (label: string, next: readonly PathPoint[]) => void accept().then(() => change(label, setStep(part, step.id ?? "", { points: told(next) })));
  const set = (i: number, p: PathPoint) => put("Point of a path", points.map((q, k) => (k === i ? p : q)));
  const bent = points.some((p) => (p.corner ?? "sharp") !== "sharp" || p.in !== undefined || p.out !== undefined);
  const draw = async () => {
    editor.set({ current: part });
    await startPath();
    focusView();
  };
  return (
    <div className="pathpoints" aria-label="Points of the path">
      {points.slice(0, MOST).map((p, i) => (
        <div className="pathpoint" key={i}>
          <span className="ordinal">{i + 1}</span>
          <span className="triple">
            {[0, 1, 2].map((k) => (
              <NumberField key={k} label={`${"xyz"[k]} of point ${i + 1}`} unit={unit} width={56} value={p.at[k] as number} onCommit={(v) => v !== p.at[k] && set(i, { ...p, at: p.at.map((o, j) => (j === k ? v : o)) as unknown as Triple })} />
            ))}
          </span>
          <span className="corner">
            <Select size="small" aria-label={`corner of point ${i + 1}`} style={{ width: 78 }} value={p.corner ?? "sharp"} options={CORNERS.map((o) => ({ ...o }))} onChange={(c: Corner) => { set(i, cornered(points, i, c)); focusView(); }} />
            {(p.corner === "fillet" || p.corner === "chamfer") && <NumberField label={`size of point ${i + 1}`} unit={unit} width={52} value={p.size ?? 0} onCommit={(v) => v >= 0 && set(i, { ...p, size: v })} />}
          </span>
        </div>
      ))}
      {points.length > MOST && <p className="muted">and {points.length - MOST} more, in the view</p>}
      <div className="forms">
        <Button size="small" onClick={() => void draw()}>Draw on</Button>
        {bent && <Button size="small" onClick={() => void sharpenPath(part).then(backToView)}>Make corners sharp</Button>}
      </div>
    </div>
  );
}
