import type { Group } from "../../api/client";
import { groupKey, setMember } from "../../model/document/members";
import { groupsAround } from "../../model/document/parts";
import { groupsOf, partsOf, useEditor } from "../../model/store";
import { counted } from "../../model/units";
import { change } from "../../sync/build";
import { Name } from "./Name";
import type { Row } from "./Row";
import { Switches } from "./Switches";

interface Props extends Row {
  readonly group: Group;
  readonly open: boolean;
  readonly onOpen: (open: boolean) => void;
}

/** A group in the list of parts: its members' triangles together; others are dragged onto it. */
export function GroupRow({ group, open, onOpen, ...row }: Props) {
  const groups = useEditor(groupsOf);
  const parts = useEditor(partsOf);
  const states = useEditor((s) => s.build?.parts);
  const inside = parts.filter((p) => !p.template && groupsAround(p, groups).includes(group));
  const triangles = inside.reduce((sum, p) => sum + (states?.find((s) => s.id === p.id)?.triangles ?? 0), 0);
  const tooMany = group.budget != null && triangles > group.budget;
  const set = (label: string, values: Partial<Group>) => void change(label, setMember(groupKey(group), values));
  return (
    <li data-key={groupKey(group)} className={`part group${row.here ? " here" : ""}${row.over ? " over" : ""}`} style={{ paddingLeft: 8 + 12 * row.depth }} draggable={!row.renaming} {...row.drag}>
      <button type="button" className="fold" aria-expanded={open} aria-label={open ? `Fold ${group.name}` : `Unfold ${group.name}`} onClick={() => onOpen(!open)}>
        {open ? "▾" : "▸"}
      </button>
      <Name name={group.name} label="Group name" renaming={row.renaming} onClick={row.onChoose} onRenaming={row.onRenaming} onRename={(name) => set("Rename group", { name })} />
      {tooMany && <span className="flag" title={`${counted(triangles - (group.budget ?? 0))} triangles over its budget of ${counted(group.budget ?? 0)}`}>▲</span>}
      {group.colour != null && <span className="swatch" title="its colour in the views" style={{ background: group.colour }} />}
      <span className="count">{counted(triangles)}</span>
      <Switches member={group} word="group" set={set} />
    </li>
  );
}
