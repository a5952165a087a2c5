import { Dropdown } from "antd";
import { useState } from "react";

import type { Group } from "../../api/client";
import { dissolveGroup, regroup, setGroup } from "../../model/intents";
import { groupsAround } from "../../model/parts";
import { groupsOf, partsOf, useEditor } from "../../model/store";
import { counted } from "../../model/units";
import { change, tell } from "../../sync/build";
import { Name } from "./Name";
import { Switches } from "./Switches";

interface Props {
  readonly group: Group;
  readonly depth: number;
  readonly open: boolean;
  readonly onOpen: (open: boolean) => void;
}

/** A group in the list of parts: its members' triangles together; parts are dragged onto it. */
export function GroupRow({ group, depth, open, onOpen }: Props) {
  const groups = useEditor(groupsOf);
  const parts = useEditor(partsOf);
  const states = useEditor((s) => s.build?.parts);
  const [renaming, setRenaming] = useState(false);
  const [over, setOver] = useState(false);
  const inside = parts.filter((p) => !p.template && groupsAround(p, groups).includes(group));
  const triangles = inside.reduce((sum, p) => sum + (states?.find((s) => s.id === p.id)?.triangles ?? 0), 0);
  const tooMany = group.budget != null && triangles > group.budget;
  const set = (label: string, values: Partial<Group>) => void change(label, setGroup(group.id, values));
  const dissolve = () => {
    // what a group moves would jump
    if (group.placement != null || group.joint != null) tell(`${group.name} is placed as one; take its parts out one by one`);
    else void change(`Dissolve ${group.name}`, dissolveGroup(group.id));
  };
  return (
    <Dropdown
      trigger={["contextMenu"]}
      menu={{
        items: [
          { key: "rename", label: "Rename", onClick: () => setRenaming(true) },
          { key: "ghost", label: group.ghosted ? "Draw solid" : "Ghost", onClick: () => set(group.ghosted ? "Draw group solid" : "Ghost group", { ghosted: !group.ghosted }) },
          { key: "dissolve", label: "Dissolve group", onClick: dissolve },
        ],
      }}
    >
      <li
        className={over ? "part group over" : "part group"}
        style={{ paddingLeft: 8 + 12 * depth }}
        onDragOver={(e) => {
          if (!e.dataTransfer.types.includes("text/part")) return;
          e.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(e) => {
          setOver(false);
          const id = e.dataTransfer.getData("text/part");
          const part = parts.find((p) => p.id === id);
          if (part !== undefined && part.group !== group.id) void change(`Put ${part.name} into ${group.name}`, regroup(id, group.id));
        }}
      >
        <button type="button" className="fold" aria-expanded={open} aria-label={open ? `Fold ${group.name}` : `Unfold ${group.name}`} onClick={() => onOpen(!open)}>
          {open ? "▾" : "▸"}
        </button>
        <Name name={group.name} label="Group name" renaming={renaming} onClick={() => onOpen(!open)} onRenaming={setRenaming} onRename={(name) => set("Rename group", { name })} />
        {tooMany && <span className="flag" title={`${counted(triangles - (group.budget ?? 0))} triangles over its budget of ${counted(group.budget ?? 0)}`}>▲</span>}
        <span className="count">{counted(triangles)}</span>
        <Switches member={group} word="group" set={set} />
      </li>
    </Dropdown>
  );
}
