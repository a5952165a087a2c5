import { Fragment, useState } from "react";

import type { Step } from "../../api/client";
import { accept } from "../../interaction/session/storing";
import { setPart } from "../../model/document/intents";
import { folded } from "../../model/session/folds";
import { stepsOfCage } from "../../model/steps/workingMark";
import { partNamed } from "../../model/document/parts";
import { editor, findingsOf, partOf, partsOf, statusOf, useEditor } from "../../model/store";
import { change } from "../../sync/build";
import { ReadableSelect } from "../fields/ReadableSelect";
import { StepCard } from "./StepCard";

/** The recipe of the current part: numbered lines, the working mark, and the live steps under it. */
export function RecipePanel() {
  const part = useEditor((s) => partOf(s, s.current));
  const status = useEditor((s) => statusOf(s, s.current));
  const kinds = useEditor((s) => s.kinds);
  const open = useEditor((s) => s.openStep);
  const parts = useEditor(partsOf);
  const found = useEditor((s) => findingsOf(s, s.current ?? ""));
  const [unfolded, setUnfolded] = useState<ReadonlySet<string>>(new Set());
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
        {part.mirrored != null && <ReadableSelect value={part.readable ?? []} onChange={(readable) => void accept().then(() => change("Reads right", setPart(part.id ?? "", { readable: [...readable] })))} />}
      </section>
    );
  }
  const steps = part.steps ?? [];
  const mark = stepsOfCage(part);
  const card = (i: number, within = false) => {
    const step = steps[i] as Step;
    return (
      <Fragment key={step.id}>
        {i === mark && !within && <Mark />}
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
    );
  };
  return (
    <section className="recipe" aria-label={`Recipe of ${part.name}`}>
      <h2>
        Recipe of {part.name}
        <span className="muted">{steps.length === 1 ? "1 step" : `${steps.length} steps`}</span>
      </h2>
      <ol>
        {folded(steps, status.steps, open, mark).map((line) => {
          if ("at" in line) return card(line.at);
          const first = steps[line.from]?.id ?? "";
          const here = unfolded.has(first);
          return (
            <Fragment key={`fold/${first}`}>
              {line.from === mark && <Mark />}
              <li className={`step fold${line.from >= mark ? " live" : ""}`}>
                <div className="line" onClick={() => setUnfolded(toggled(unfolded, first))}>
                  <span className="ordinal">{here ? "▾" : "▸"}</span>
                  <button type="button" className="title" aria-expanded={here}>
                    Moves {line.from + 1} to {line.to}
                  </button>
                  <span className="told">{line.to - line.from} steps</span>
                </div>
              </li>
              {here && steps.slice(line.from, line.to).map((_, i) => card(line.from + i, true))}
            </Fragment>
          );
        })}
        {mark === steps.length && steps.length > 0 && <Mark />}
      </ol>
    </section>
  );
}

function toggled(all: ReadonlySet<string>, one: string): ReadonlySet<string> {
  return new Set(all.has(one) ? [...all].filter((k) => k !== one) : [...all, one]);
}

function Mark() {
  return (
    <li className="mark" aria-label="Working mark">
      <span>you work here</span>
    </li>
  );
}
