import { Button, InputNumber, Switch } from "antd";

import { change } from "../state/editor";
import { addStep, freeName, removeStep, setStep } from "../state/intents";
import { accept } from "../state/session";
import { editor, partOf, statusOf, useEditor } from "../state/store";

const LEVELS = [1, 2, 3];

function faces(corners: number, cage: number, level: number): number {
  return level === 0 ? cage : corners * 4 ** (level - 1);
}

function told(n: number): string {
  return n.toLocaleString("en").replaceAll(",", " ");
}

/** The smooth surface of the current part, with the face count told beforehand, and what the part is made of. */
export function ShapePanel() {
  const part = useEditor((s) => partOf(s, s.current));
  const status = useEditor((s) => statusOf(s, s.current));
  const showCage = useEditor((s) => s.showCage);
  if (part === null || status === null) {
    return (
      <section aria-label="Shape">
        <h2>Smooth surface</h2>
        <p className="muted">Make a part first.</p>
      </section>
    );
  }
  const id = part.id ?? "";
  const step = [...(part.steps ?? [])].reverse().find((s) => s.kind === "subdivision");
  const on = step !== undefined && step.enabled !== false;
  const level = step !== undefined && "levels" in step ? (step.levels ?? 1) : 1;
  const smooth = async (wanted: number | null) => {
    await accept();
    if (wanted === null) {
      if (step?.id) await change("Smooth off", setStep(id, step.id, { enabled: false }));
    } else if (step?.id) {
      await change("Smooth surface", setStep(id, step.id, { enabled: true, levels: wanted }));
    } else {
      const free = freeName("subdivision", (part.steps ?? []).map((s) => s.id));
      await change("Smooth surface", addStep(id, { id: free, kind: "subdivision", levels: wanted }));
    }
  };
  return (
    <section aria-label="Shape">
      <h2>Smooth surface</h2>
      <label className="row">
        <span>smooth</span>
        <Switch aria-label="Smooth surface" checked={on} onChange={(wanted) => void smooth(wanted ? level : null)} />
      </label>
      <div className="levels" role="radiogroup" aria-label="Level of the smooth surface">
        {LEVELS.map((l) => (
          <Button key={l} role="radio" aria-checked={on && level === l} className={on && level === l ? "on" : ""} onClick={() => void smooth(l)}>
            level {l}
            <small>{told(faces(status.cage_corners, status.cage_faces, l))} faces</small>
          </Button>
        ))}
      </div>
      {step !== undefined && (
        <>
          <label className="row">
            <span>handed over at level</span>
            <InputNumber
              size="small"
              min={0}
              max={8}
              changeOnWheel={false}
              aria-label="Level of handover"
              value={"handover" in step ? (step.handover ?? level) : level}
              onChange={(v) => v !== null && void change("Handover level", setStep(id, step.id ?? "", { handover: v }), `${id}/handover`)}
              style={{ width: 64 }}
            />
          </label>
          <Button size="small" onClick={() => void accept().then(() => change("Remove smooth surface", removeStep(id, step.id ?? "")))}>
            Take the step out
          </Button>
        </>
      )}
      <label className="row">
        <span>cage drawn over it</span>
        <Switch aria-label="Cage drawn over the surface" checked={showCage} onChange={(v) => editor.set({ showCage: v })} />
      </label>
      <h2>{part.name}</h2>
      <dl className="figures">
        <dt>cage</dt>
        <dd>{told(status.cage_faces)} faces</dd>
        <dt>surface</dt>
        <dd>{told(status.faces)} faces</dd>
        <dt>triangles</dt>
        <dd>{told(status.triangles)}</dd>
      </dl>
      {status.findings.length > 0 && <h2>Findings</h2>}
      {status.findings.map((f) => (
        <p className="fault" key={f.kind + f.step}>
          ▲ {f.count} faces without area, since {f.step}
        </p>
      ))}
    </section>
  );
}
