import { Button } from "antd";
import { useState } from "react";

import type { FindingInfo } from "../../api/client";
import { accept } from "../../interaction/session/storing";
import { findingText, isFault, repairOf } from "../../model/session/findingText";
import type { Intent } from "../../model/document/intents";
import { overBudget } from "../../model/session/budgets";
import { find, setPick } from "../../model/picks/picks";
import { editor, findingsOf, kindOf, METRES, partOf, unitOf, useEditor } from "../../model/store";
import { change } from "../../sync/build";
import { setLimits } from "../../sync/inspection";
import { OverBudget } from "./OverBudget";
import { NumberField } from "../fields/NumberField";

interface Told extends FindingInfo {
  readonly part: string;
  readonly name: string;
}

/** Kinds that many parts have by their make: one line tells of all. */
const TOGETHER = new Set(["long_face"]);

/** Pick what a finding is about, so that the view shows it. */
async function show(f: Told): Promise<void> {
  await accept();
  const mesh = editor.get().meshes[f.part]?.mesh.cage;
  if (mesh !== undefined) setPick(f.part, f.elements, find(mesh, f.elements, f.ids));
}

/** Everything inspection found in the build, shown in the view and repaired at a press; faults first, then what may be meant. */
export function Findings() {
  const build = useEditor((s) => s.build);
  const state = useEditor();
  const found = (build?.parts ?? []).flatMap((p) => findingsOf(state, p.id).map((f): Told => ({ ...f, part: p.id, name: p.name })));
  const faults = found.filter((f) => isFault(f.kind));
  const over = build !== null && overBudget(build).length > 0;
  const notes = found.filter((f) => !isFault(f.kind));
  return (
    <>
      <h2>Findings</h2>
      {faults.length === 0 && (over ? null : <p className="muted">Nothing wrong found.</p>)}
      <OverBudget />
      <List found={faults} mark="▲" />
      {notes.length > 0 && <h3>Worth knowing</h3>}
      <List found={notes.filter((f) => !TOGETHER.has(f.kind))} mark="•" />
      {[...TOGETHER].map((kind) => <Together key={kind} kind={kind} found={notes.filter((f) => f.kind === kind)} />)}
      <Limits />
    </>
  );
}

/** One line for a kind of finding in however many parts; each press shows the next of them. */
function Together({ kind, found }: { readonly kind: string; readonly found: readonly Told[] }) {
  const [next, setNext] = useState(0);
  if (found.length === 0) return null;
  const names = [...new Set(found.map((f) => f.name))];
  const here = found[next % found.length] as Told;
  return (
    <ul className="findings">
      <li>
        <p title={names.join(", ")}>
          • {findingText(kind, found.reduce((sum, f) => sum + f.count, 0))} in {names.length === 1 ? names[0] : `${names.length} parts`}, where the surface is round
        </p>
        <Button size="small" onClick={() => { setNext(next + 1); void show(here); }}>
          {found.length > 1 ? `Show in ${here.name}` : "Show"}
        </Button>
      </li>
    </ul>
  );
}

/** A repair goes to the part the finding is in: that is at work from then on, its new step open. */
async function mend(part: string, title: string, intent: Intent): Promise<void> {
  await accept();
  const before = new Set(partOf(editor.get(), part)?.steps?.map((s) => s.id));
  if (!(await change(title, intent))) return;
  const made = partOf(editor.get(), part)?.steps?.find((s) => !before.has(s.id));
  editor.set({ current: part, openStep: made?.id ?? editor.get().openStep });
}

function List({ found, mark }: { readonly found: readonly Told[]; readonly mark: string }) {
  return (
    <ul className="findings">
      {found.map((f) => {
        const step = partOf(editor.get(), f.part)?.steps?.find((s) => s.id === f.step);
        const title = step?.label ?? (step ? kindOf(editor.get(), step.kind)?.title : null) ?? f.step;
        const repair = repairOf(f.part, f);
        return (
          <li key={`${f.part}/${f.step}/${f.kind}`}>
            <p className={mark === "▲" ? "fault" : ""}>
              {mark} {findingText(f.kind, f.count)} in {f.name}
              {f.surface ? "’s surface" : ""}, since “{title}”
            </p>
            <Button size="small" onClick={() => void show(f)}>
              Show
            </Button>
            <Button size="small" onClick={() => void accept().then(() => editor.set({ current: f.part, openStep: f.step }))}>
              Open the step
            </Button>
            {repair !== null && (
              <Button size="small" onClick={() => void mend(f.part, repair.title, repair.intent)}>
                {repair.title}
              </Button>
            )}
          </li>
        );
      })}
    </ul>
  );
}

/** The distances that say what is doubled and what is thin. */
function Limits() {
  const unit = useEditor(unitOf);
  const limits = useEditor((s) => s.limits);
  const metres = METRES[unit];
  const field = (key: "doubled" | "thin", label: string) => (
    <label className="row">
      <span>{label}</span>
      <NumberField label={label} unit={unit} suffix={unit} width={84} value={Number((limits[key] / metres).toPrecision(6))} onCommit={(v) => v > 0 && setLimits({ [key]: v * metres })} />
    </label>
  );
  return (
    <>
      {field("doubled", "doubled under")}
      {field("thin", "thin under")}
    </>
  );
}
