import { memo } from "react";

import type { Part } from "../../api/client";
import { partKey, setMember } from "../../model/document/members";
import { isCurve, partNamed } from "../../model/document/parts";
import { editor, partsOf, statusOf, useEditor } from "../../model/store";
import { counted } from "../../model/units";
import { change } from "../../sync/build";
import { Name } from "./Name";
import { type Row, sameRow } from "./Row";
import { Switches } from "./Switches";

/** One part in the list. */
export const PartRow = memo(function PartRow({ part, ...row }: Row & { readonly part: Part }) {
  const id = part.id ?? "";
  const error = useEditor((s) => statusOf(s, id)?.error ?? null);
  const curve = useEditor((s) => isCurve(part, partsOf(s), s.kinds));
  const triangles = useEditor((s) => statusOf(s, id)?.triangles ?? 0);
  const set = (label: string, values: Partial<Part>) => void change(label, setMember(partKey(part), values));
  return (
    <li data-key={partKey(part)} aria-current={row.here ? "true" : undefined} className={`part${row.here ? " here" : ""}${row.over ? " over" : ""}`} style={{ paddingLeft: 8 + 12 * row.depth }} draggable={!row.renaming} {...row.drag}>
      <Name name={part.name} label="Part name" renaming={row.renaming} onClick={row.onChoose} onRenaming={row.onRenaming} onRename={(name) => set("Rename part", { name })} />
      {part.of != null && (
        <span className="muted" aria-label={`${part.name} is a linked copy`} title={`A linked copy of ${partNamed(partsOf(editor.get()), part.of)?.name ?? part.of}${part.mirrored == null ? "" : `, mirrored across ${part.mirrored}`}`}>
          {part.mirrored == null ? "=" : "⇄"}
        </span>
      )}
      {error !== null && <span className="flag" title={error}>▲</span>}
      {part.budget != null && triangles > part.budget && <span className="flag" title={`${counted(triangles - part.budget)} triangles over its budget of ${counted(part.budget)}`}>▲</span>}
      {part.colour != null && <span className="swatch" title="its colour in the views" style={{ background: part.colour }} />}
      <span className="count">{curve ? "curve" : counted(triangles)}</span>
      <Switches member={part} word="part" set={set} />
    </li>
  );
}, sameRow);
