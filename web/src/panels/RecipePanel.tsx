import { Fragment } from "react";

import { cageEnd } from "../model/intents";
import { findingsOf, partOf, statusOf, useEditor } from "../model/store";
import { StepCard } from "./StepCard";

/** The recipe of the current part: numbered lines, the working mark, and the live steps under it. */
export function RecipePanel() {
  const part = useEditor((s) => partOf(s, s.current));
  const status = useEditor((s) => statusOf(s, s.current));
  const kinds = useEditor((s) => s.kinds);
  const open = useEditor((s) => s.openStep);
  const found = useEditor((s) => findingsOf(s, s.current ?? ""));
  if (part === null || status === null) return <section className="recipe" aria-label="Recipe" />;
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
