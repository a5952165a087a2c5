import { Fragment } from "react";

import { cageEnd } from "../model/intents";
import { partNamed } from "../model/parts";
import { editor, findingsOf, partOf, partsOf, statusOf, useEditor } from "../model/store";
import { StepCard } from "./StepCard";

/** The recipe of the current part: numbered lines, the working mark, and the live steps under it. */
export function RecipePanel() {
  const part = useEditor((s) => partOf(s, s.current));
  const status = useEditor((s) => statusOf(s, s.current));
  const kinds = useEditor((s) => s.kinds);
  const open = useEditor((s) => s.openStep);
  const parts = useEditor(partsOf);
  const found = useEditor((s) => findingsOf(s, s.current ?? ""));
  if (part === null || status === null) return <section className="recipe" aria-label="Recipe" />;
  if (part.of != null) {
    const source = partNamed(parts, part.of);
    return (
      <section className="recipe" aria-label={`Recipe of ${part.name}`}>
        <h2>Recipe of {part.name}</h2>
        {status.error != null && <p className="fault" role="alert">▲ {status.error}</p>}
        <p className="teach">
          A linked copy of {source?.name ?? part.of}
          {part.mirrored == null ? "" : `, mirrored across ${part.mirrored}`}: what is changed there is changed here.{" "}
          {source !== null && (
            <button type="button" className="link" onClick={() => editor.set({ current: source.id ?? null, pick: null, openStep: null })}>
              Work on {source.name}
            </button>
          )}
        </p>
      </section>
    );
  }
  const steps = part.steps ?? [];
  const mark = cageEnd(part);
  return (
    <section className="recipe" aria-label={`Recipe of ${part.name}`}>
      <h2>
        Recipe of {part.name}
        <span className="muted">{steps.length === 1 ? "1 step" : `${steps.length} steps`}</span>
      </h2>
      <ol>
        {steps.map((step, i) => (
          <Fragment key={step.id}>
            {i === mark && <Mark />}
            <StepCard
              part={part}
              step={step}
              number={i + 1}
              count={steps.length}
              kind={kinds.find((k) => k.word === step.kind) ?? null}
              status={status.steps[i] ?? null}
              findings={found.filter((f) => f.step === step.id)}
              open={open === step.id}
              below={i >= mark}
            />
          </Fragment>
        ))}
        {mark === steps.length && steps.length > 0 && <Mark />}
      </ol>
    </section>
  );
}

function Mark() {
  return (
    <li className="mark" aria-label="Working mark">
      <span>you work here</span>
    </li>
  );
}
