import { App, Dropdown, Tooltip } from "antd";
import { useState } from "react";

import type { Part } from "../../api/client";
import { copyPart } from "../../interaction/copies";
import { focusView } from "../../interaction/focus";
import { accept } from "../../interaction/session/storing";
import type { Copying } from "../../model/copies";
import { regroup, removePart, setPart } from "../../model/intents";
import { neededBy, partNamed } from "../../model/parts";
import { editor, groupsOf, partsOf, statusOf, useEditor } from "../../model/store";
import { counted } from "../../model/units";
import { change } from "../../sync/build";
import { Name } from "./Name";
import { Switches } from "./Switches";

const COPIES: readonly { how: Copying; label: string }[] = [
  { how: "plain", label: "with a recipe of its own" },
  { how: "linked", label: "linked: follows this one" },
  { how: "x", label: "mirrored, linked, across x" },
  { how: "y", label: "mirrored, linked, across y" },
  { how: "z", label: "mirrored, linked, across z" },
];

async function choose(id: string): Promise<void> {
  await accept();
  const { pick } = editor.get();
  editor.set({ current: id, pick: pick?.part === id ? pick : null });
}

/** One part in the list, and what can be done with it as a whole. */
export function PartRow({ part, depth }: { readonly part: Part; readonly depth: number }) {
  const id = part.id ?? "";
  const current = useEditor((s) => s.current === id);
  const isolated = useEditor((s) => s.isolated);
  const status = useEditor((s) => statusOf(s, id));
  const parts = useEditor(partsOf);
  const groups = useEditor(groupsOf);
  const { modal } = App.useApp();
  const [renaming, setRenaming] = useState(false);
  const set = (label: string, values: Partial<Part>) => void change(label, setPart(id, values));
  const remove = () => {
    const { build, kinds } = editor.get();
    const go = () => void change(`Remove ${part.name}`, removePart(id));
    const needs = build === null ? [] : neededBy(id, build.document, kinds);
    if (needs.length === 0) return go();
    void modal.confirm({
      title: `${needs.map((p) => p.name).join(", ")} ${needs.length === 1 ? "needs" : "need"} ${part.name}`,
      content: "Steps that need it cannot run without it, and say so in the recipe. Undo brings it back.",
      okText: "Remove anyway",
      okButtonProps: { danger: true },
      cancelText: "Keep it",
      onOk: go,
      afterClose: focusView,
    });
  };
  const alone = isolated?.includes(id) ?? false;
  const items = [
    { key: "alone", label: alone ? "Show all parts" : "Show alone", onClick: () => editor.set({ isolated: alone ? null : [id] }) },
    ...(isolated !== null && !alone ? [{ key: "too", label: "Show too", onClick: () => editor.set({ isolated: [...isolated, id] }) }] : []),
    { key: "ghost", label: part.ghosted ? "Draw solid" : "Ghost", onClick: () => set(part.ghosted ? "Draw part solid" : "Ghost part", { ghosted: !part.ghosted }) },
    { key: "rename", label: "Rename", onClick: () => setRenaming(true) },
    { key: "copy", label: "Copy", children: COPIES.map(({ how, label }) => ({ key: `copy-${how}`, label, onClick: () => void copyPart(id, how) })) },
    {
      key: "group",
      label: "Group",
      children: [
        { key: "group-new", label: "into a new group", onClick: () => void change(`Group ${part.name}`, regroup(id, "new")) },
        ...groups.filter((g) => g.id !== part.group).map((g) => ({ key: `group-${g.id}`, label: `into ${g.name}`, onClick: () => void change(`Put ${part.name} into ${g.name}`, regroup(id, g.id)) })),
        ...(part.group == null ? [] : [{ key: "group-out", label: "out of its group", onClick: () => void change(`Take ${part.name} out of its group`, regroup(id, null)) }]),
      ],
    },
    { key: "remove", label: "Remove part", danger: true, onClick: remove },
  ];
  return (
    <Dropdown trigger={["contextMenu"]} menu={{ items }}>
      <li
        className={current ? "part here" : "part"}
        style={{ paddingLeft: 8 + 12 * depth }}
        draggable={!renaming}
        onDragStart={(e) => {
          e.dataTransfer.setData("text/part", id);
          e.dataTransfer.effectAllowed = "move";
        }}
      >
        <Name name={part.name} label="Part name" renaming={renaming} onClick={() => void choose(id)} onRenaming={setRenaming} onRename={(name) => set("Rename part", { name })} />
        {part.of != null && (
          <Tooltip title={`A linked copy of ${partNamed(parts, part.of)?.name ?? part.of}${part.mirrored == null ? "" : `, mirrored across ${part.mirrored}`}`}>
            <span className="muted" aria-label={`${part.name} is a linked copy`}>{part.mirrored == null ? "=" : "⇄"}</span>
          </Tooltip>
        )}
        {status?.error != null && <span className="flag" title={status.error}>▲</span>}
        <span className="count">{counted(status?.triangles ?? 0)}</span>
        <Switches member={part} word="part" set={set} />
      </li>
    </Dropdown>
  );
}
