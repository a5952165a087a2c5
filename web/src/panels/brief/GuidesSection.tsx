import { Button, Input } from "antd";
import { useState } from "react";

import type { Guide } from "../../api/client";
import { ask, asking, askText, useAsking } from "../../model/session/asking";
import { removeGuide, setGuide } from "../../model/document/intents";
import { unitOf, useEditor } from "../../model/store";
import { change } from "../../sync/build";
import { Drop } from "../fields/Drop";
import { Icon } from "../fields/Icon";
import { NumberField } from "../fields/NumberField";
import { Tip } from "../fields/Tip";

const NONE: readonly Guide[] = [];

/** Landmarks kept under names, in every view, also when the pictures are hidden. */
export function GuidesSection() {
  const guides = useEditor((s) => s.build?.document.guides ?? NONE);
  const what = useAsking((s) => s.asking);
  const chosen = useAsking((s) => s.guide);
  const start = (shape: Guide["kind"], axis: "x" | "y" | "z" = "y") => ask({ kind: "guide", shape, axis, points: [] });
  return (
    <>
      <h2>
        Guides
        <Drop
          trigger={["click"]}
          menu={{
            items: [
              { key: "point", label: "Point", onClick: () => start("point") },
              { key: "line", label: "Line through two points", onClick: () => start("line") },
              { key: "y", label: "Level across y: a height", onClick: () => start("level", "y") },
              { key: "x", label: "Level across x", onClick: () => start("level", "x") },
              { key: "z", label: "Level across z", onClick: () => start("level", "z") },
            ],
          }}
        >
          <button type="button" className="link">+ Guide</button>
        </Drop>
      </h2>
      {what?.kind === "guide" && (
        <div className="asking" role="status">
          <p>{askText(what)}</p>
          <div className="row">
            <span />
            <Button size="small" onClick={() => ask(null)}>Leave it</Button>
          </div>
        </div>
      )}
      {guides.length === 0 && what?.kind !== "guide" && <p className="muted small">Named points, lines and levels to come back to: seen in every view and snapped to.</p>}
      <ul className="guides">
        {guides.map((g) => (
          <GuideRow key={g.id} guide={g} here={g.id === chosen} />
        ))}
      </ul>
    </>
  );
}

function GuideRow({ guide, here }: { readonly guide: Guide; readonly here: boolean }) {
  const unit = useEditor(unitOf);
  const [name, setName] = useState<string | null>(null);
  const at = (guide.at ?? [0, 0, 0]) as [number, number, number];
  const axes = guide.kind === "level" ? ["xyz".indexOf(guide.axis ?? "y")] : [0, 1, 2];
  const set = (label: string, values: Partial<Guide>) => void change(label, setGuide(guide.id, values), `guide/${guide.id}/${Object.keys(values)[0]}`);
  const commit = () => {
    const typed = name?.trim();
    setName(null);
    if (typed && typed !== guide.name) set("Rename guide", { name: typed });
  };
  const fields = (of: "at" | "to", values: readonly number[]) => (
    <span className="triple">
      {axes.map((k) => (
        <NumberField key={k} label={`${guide.name} ${of === "to" ? "to " : ""}${"xyz"[k]}`} unit={unit} suffix={"xyz"[k] as string} width={guide.kind === "level" ? 92 : 60} value={values[k] ?? 0} onCommit={(v) => {
          const next = [...values] as [number, number, number];
          next[k] = v;
          set("Move guide", { [of]: next });
        }} />
      ))}
    </span>
  );
  return (
    <li className={here ? "here" : ""} onMouseEnter={() => asking.set({ guide: guide.id })} onMouseLeave={() => asking.get().guide === guide.id && asking.set({ guide: null })}>
      <div className="row">
        <Input size="small" variant="borderless" className="guidename" aria-label={`Name of guide ${guide.name}`} value={name ?? guide.name} onChange={(e) => setName(e.target.value)} onBlur={commit} onPressEnter={(e) => e.currentTarget.blur()} onFocus={() => asking.set({ guide: guide.id })} />
        <span className="icons">
          {guide.kind === "level" && fields("at", at)}
          <Tip title={guide.hidden ? "Show" : "Hide"}>
            <Button type="text" size="small" aria-label={`${guide.hidden ? "Show" : "Hide"} guide ${guide.name}`} icon={<Icon name={guide.hidden ? "unseen" : "seen"} size={14} />} onClick={() => set("Show or hide guide", { hidden: !guide.hidden })} />
          </Tip>
          <Button type="text" size="small" aria-label={`Remove guide ${guide.name}`} icon={<Icon name="bin" size={14} />} onClick={() => void change("Remove guide", removeGuide(guide.id))} />
        </span>
      </div>
      {guide.kind !== "level" && fields("at", at)}
      {guide.kind === "line" && fields("to", (guide.to ?? [0, 0, 0]) as [number, number, number])}
    </li>
  );
}
