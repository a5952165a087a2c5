import { Button } from "antd";
import { useState } from "react";

import type { Pattern } from "../../api/client";
import { backToView } from "../../interaction/focus";
import { raise } from "../../interaction/wrap/raise";
import { addPattern, freeName, removePattern } from "../../model/document/intents";
import { METRES, unitOf, useEditor } from "../../model/store";
import { patternPicture } from "../../model/wrap/layout";
import { change } from "../../sync/build";
import { Icon } from "../fields/Icon";
import { PatternDialog } from "./PatternDialog";

const NONE: readonly Pattern[] = [];

/** Patterns of the build: made here in lengths, raised out of surfaces. */
export function Patterns() {
  const patterns = useEditor((s) => s.build?.document.patterns ?? NONE);
  const build = useEditor((s) => s.build);
  const unit = useEditor(unitOf);
  const [open, setOpen] = useState<string | null>(null);
  if (build === null) return null;
  const add = async () => {
    const id = freeName("pattern", patterns.map((p) => p.id));
    const size = Number((0.1 / METRES[unit]).toPrecision(3));
    const pitch = Number((size / 5).toPrecision(3));
    const name = freeName("Pattern", patterns.map((p) => p.name), " ");
    if (await change("New pattern", addPattern({ id, name, size: [size, size], resolution: 40, layers: [{ shape: "stripes", pitch, width: Number((pitch / 2).toPrecision(3)), soft: Number((pitch / 10).toPrecision(2)) }] } as unknown as Pattern))) setOpen(id);
  };
  const at = patterns.find((p) => p.id === open);
  return (
    <>
      <h2>
        Patterns
        <button type="button" className="link" onClick={() => void add()}>+ Pattern</button>
      </h2>
      {patterns.length === 0 && <p className="muted small">Stripes, treads, knurls, marks: drawn in lengths, raised out of the surface they lie on.</p>}
      <ul className="patterns">
        {patterns.map((p) => (
          <li key={p.id}>
            <button type="button" className="thing" aria-label={`Edit ${p.name}`} onClick={() => setOpen(p.id)}>
              <img alt="" width={44} height={44} src={patternPicture(build.id, p.id, build.revision, 64)} />
            </button>
            <span className="ellipsis">{p.name}</span>
            <Button size="small" onClick={() => void raise({ pattern: p.id }).then(backToView)}>Raise</Button>
            <Button size="small" type="text" aria-label={`Remove ${p.name}`} icon={<Icon name="bin" size={15} />} onClick={() => void change(`Remove ${p.name}`, removePattern(p.id))} />
          </li>
        ))}
      </ul>
      {at !== undefined && <PatternDialog pattern={at} onClose={() => { setOpen(null); setTimeout(backToView); }} />}
    </>
  );
}
