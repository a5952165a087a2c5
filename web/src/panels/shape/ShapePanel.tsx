import { Button, Popconfirm, Switch } from "antd";

import type { Part, PartStatus } from "../../api/client";
import { facesAt, FREE_LEVELS, handOverAt, MOST_FACES, smooth, smoothStep, takeSmoothOut } from "../../interaction/surface/smooth";
import { toggleCage } from "../../interaction/viewing";
import { usePrefs } from "../../model/prefs";
import { partOf, statusOf, useEditor } from "../../model/store";
import { counted } from "../../model/units";
import { Findings } from "./Findings";
import { NumberField } from "../fields/NumberField";
import { SmoothHint } from "./SmoothHint";

const LEVELS = [1, 2, 3, 4, 5, 6];

/** The smooth surface of the current part, with the face count told beforehand, what the part is made of, its findings. */
export function ShapePanel() {
  const part = useEditor((s) => partOf(s, s.current));
  const status = useEditor((s) => statusOf(s, s.current));
  if (part === null || status === null) {
    return (
      <section aria-label="Shape">
        <h2>Smooth surface</h2>
        <p className="muted">Make a part first.</p>
      </section>
    );
  }
  return (
    <section aria-label="Shape">
      <SmoothSurface part={part} status={status} />
      <h2>{part.name}</h2>
      <dl className="figures">
        <dt>cage</dt>
        <dd>{counted(status.cage_faces)} faces</dd>
        <dt>surface</dt>
        <dd>{counted(status.faces)} faces</dd>
        <dt>triangles</dt>
        <dd>{counted(status.triangles)}</dd>
      </dl>
      <Findings />
    </section>
  );
}

/** Millions are told in three digits. */
function briefly(faces: number): string {
  return faces < 1e6 ? counted(faces) : `${Number((faces / 1e6).toPrecision(3))} million`;
}

function SmoothSurface({ part, status }: { readonly part: Part; readonly status: PartStatus }) {
  const showCage = usePrefs((p) => Object.values(p.looks).some((l) => l.showing === "both"));
  const step = smoothStep(part);
  const on = step !== null && step.enabled !== false;
  const level = step?.levels ?? 1;
  return (
    <>
      <h2>Smooth surface</h2>
      <label className="row">
        <span>smooth</span>
        <Switch aria-label="Smooth surface" checked={on} onChange={(wanted) => void smooth(part, wanted ? level : null)} />
      </label>
      <div className="levels" role="radiogroup" aria-label="Level of the smooth surface">
        {LEVELS.map((l) => {
          const faces = facesAt(status, l);
          const here = on && level === l;
          const told = `${here ? briefly(status.faces) : status.smooth_exact ? briefly(faces) : `≈ ${briefly(Number(faces.toPrecision(2)))}`} faces`;
          const button = (
            <Button key={l} role="radio" aria-checked={here} className={here ? "on" : ""} disabled={faces > MOST_FACES} onClick={l <= FREE_LEVELS ? () => void smooth(part, l) : () => undefined}>
              level {l}
              <small>{told}</small>
            </Button>
          );
          return l <= FREE_LEVELS || here ? (
            button
          ) : (
            <Popconfirm key={l} title={`Level ${l} draws ${told}.`} description="Past level 3 a view seldom shows more. Draw it all the same?" okText={`Draw level ${l}`} disabled={faces > MOST_FACES} onConfirm={() => smooth(part, l)}>
              {button}
            </Popconfirm>
          );
        })}
      </div>
      {on && <SmoothHint key={part.id} part={part} />}
      {step !== null && (
        <>
          <label className="row">
            <span title="Files are written this smooth; views may show less">level in files</span>
            <NumberField label="Level of handover" unit={null} whole width={70} value={step.handover ?? level} onCommit={(v) => void handOverAt(part, Math.min(Math.max(v, 0), 12))} />
          </label>
          <Button size="small" onClick={() => void takeSmoothOut(part)}>
            Take the step out
          </Button>
        </>
      )}
      <label className="row">
        <span>cage drawn over it</span>
        <Switch aria-label="Cage drawn over the surface" checked={showCage} onChange={toggleCage} />
      </label>
    </>
  );
}
