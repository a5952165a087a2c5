import { Select } from "antd";

import type { ParameterValue } from "../../api/client";
import { focusView } from "../../interaction/focus";
import { choiceText } from "../../model/steps/choiceText";
import { lastLead } from "../../model/steps/leads";
import { type ToolSession, useEditor, type Values } from "../../model/store";
import { FollowedStep } from "../recipe/FollowedStep";
import { PartSelect } from "../fields/PartSelect";
import { tryValues } from "../../interaction/session/trial";
import { store } from "../../interaction/session/storing";
import { tell } from "../../sync/build";

const PART: ParameterValue = { name: "part", title: "part", quantity: "part", count: 1, choices: [], default: null, required: true, least: null, most: null };

/** Whom a part follows, by which of its steps, and how. */
export function FollowFields({ session }: { readonly session: ToolSession }) {
  const part = session.values["part"] === undefined ? null : String(session.values["part"]);
  const parts = useEditor((s) => s.build?.document.parts);
  const set = (values: Values) => {
    tryValues(values, false);
    if (session.stored !== null) void store();
    focusView();
  };
  const choose = (id: string) => {
    const other = parts?.find((p) => p.id === id);
    const step = lastLead(other?.steps ?? undefined);
    if (step === null) tell(`${other?.name ?? "That part"} has no lattice, bend, twist, taper or stretch to follow; give it one first`);
    else set({ part: id, step });
  };
  return (
    <span className="fields">
      <span className="field">
        part
        <PartSelect part={session.part} parameter={PART} value={part} onChange={(v) => choose(String(v))} />
      </span>
      {part !== null && <FollowedStep part={part} value={session.values["step"] === undefined ? null : String(session.values["step"])} onChange={(step) => set({ step })} />}
      {part !== null && (
        <Select size="small" aria-label="how it follows" popupMatchSelectWidth={false} value={String(session.values["as"] ?? "deformed")} options={["deformed", "rigid"].map((value) => ({ value, label: choiceText(value) }))} onChange={(as: string) => set({ as })} />
      )}
    </span>
  );
}
