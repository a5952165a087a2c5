import { App, Button, Dropdown, Input, Tooltip } from "antd";
import { useState } from "react";

import type { Part } from "../api/client";
import { type Copying, copyPart } from "../interaction/copies";
import { focusView } from "../interaction/focus";
import { accept } from "../interaction/session/storing";
import { removePart, setPart } from "../model/intents";
import { neededBy, partNamed } from "../model/parts";
import { editor, useEditor } from "../model/store";
import { counted } from "../model/units";
import { change } from "../sync/build";
import { Icon } from "./Icon";

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

/** Parts with their triangle counts; seen or hidden, locked or free. */
export function PartsPanel({ onAdd }: { readonly onAdd: () => void }) {
  const build = useEditor((s) => s.build);
  const current = useEditor((s) => s.current);
  const isolated = useEditor((s) => s.isolated);
  const kinds = useEditor((s) => s.kinds);
  const { modal } = App.useApp();
  const [renaming, setRenaming] = useState<{ id: string; name: string } | null>(null);
  const parts = build?.document.parts ?? [];
  const remove = (part: Part) => {
    const go = () => void change(`Remove ${part.name}`, removePart(part.id ?? ""));
    const needs = build === null ? [] : neededBy(part.id ?? "", build.document, kinds);
    if (needs.length === 0) go();
    else {
      void modal.confirm({
        title: `${needs.map((p) => p.name).join(", ")} ${needs.length === 1 ? "needs" : "need"} ${part.name}`,
        content: "Without it they cannot be made, and say so in their recipes. Undo brings it back.",
        okText: "Remove anyway",
        okButtonProps: { danger: true },
        cancelText: "Keep it",
        onOk: go,
        afterClose: focusView,
      });
    }
  };
  const commit = () => {
    const before = parts.find((p) => p.id === renaming?.id)?.name;
    if (renaming !== null && renaming.name.trim() !== "" && renaming.name.trim() !== before) {
      void change("Rename part", setPart(renaming.id, { name: renaming.name.trim() }));
    }
    setRenaming(null);
  };
  return (
    <section className="parts" aria-label="Parts">
      <h2>
        Parts
        <button type="button" className="link" onClick={onAdd}>
          + Part
        </button>
      </h2>
      {isolated !== null && (
        <p className="muted isolated">
          {isolated.length === 1 ? "One part alone." : "Some parts alone."}{" "}
          <button type="button" className="link" onClick={() => editor.set({ isolated: null })}>
            Show all
          </button>
        </p>
      )}
      {parts.length === 0 && <p className="teach">No part yet. Start from a base form of about the right size.</p>}
      <ul>
        {parts.map((part) => {
          const id = part.id ?? "";
          const status = build?.parts.find((p) => p.id === id);
          return (
            <Dropdown
              key={id}
              trigger={["contextMenu"]}
              menu={{
                items: [
                  { key: "alone", label: isolated?.includes(id) ? "Show all parts" : "Show alone", onClick: () => editor.set({ isolated: isolated?.includes(id) ? null : [id] }) },
                  ...(isolated !== null && !isolated.includes(id) ? [{ key: "too", label: "Show too", onClick: () => editor.set({ isolated: [...isolated, id] }) }] : []),
                  { key: "ghost", label: part.ghosted ? "Draw solid" : "Ghost", onClick: () => void change(part.ghosted ? "Draw part solid" : "Ghost part", setPart(id, { ghosted: !part.ghosted })) },
                  { key: "rename", label: "Rename", onClick: () => setRenaming({ id, name: part.name }) },
                  {
                    key: "copy",
                    label: "Copy",
                    children: COPIES.map(({ how, label }) => ({ key: `copy-${how}`, label, onClick: () => void copyPart(id, how) })),
                  },
                  { key: "remove", label: "Remove part", danger: true, onClick: () => remove(part) },
                ],
              }}
            >
              <li className={current === id ? "part here" : "part"}>
                {renaming?.id === id ? (
                  <Input
                    size="small"
                    autoFocus
                    aria-label="Part name"
                    value={renaming.name}
                    onChange={(e) => setRenaming({ id, name: e.target.value })}
                    onBlur={commit}
                    onPressEnter={commit}
                  />
                ) : (
                  <button type="button" className="name" onClick={() => void choose(id)} onDoubleClick={() => setRenaming({ id, name: part.name })}>
                    {part.name}
                  </button>
                )}
                {part.of != null && (
                  <Tooltip title={`A linked copy of ${partNamed(parts, part.of)?.name ?? part.of}${part.mirrored == null ? "" : `, mirrored across ${part.mirrored}`}`}>
                    <span className="muted linked" aria-label={`${part.name} is a linked copy`}>{part.mirrored == null ? "=" : "⇄"}</span>
                  </Tooltip>
                )}
                {status?.error != null && <span className="flag" title={status.error}>▲</span>}
                <span className="count">{counted(status?.triangles ?? 0)}</span>
                <Tooltip title={part.hidden ? "Show" : "Hide; hidden parts are not exported"}>
                  <Button
                    type="text"
                    size="small"
                    aria-label={part.hidden ? `Show ${part.name}` : `Hide ${part.name}`}
                    icon={<Icon name={part.hidden ? "unseen" : "seen"} size={15} />}
                    onClick={() => void change(part.hidden ? "Show part" : "Hide part", setPart(id, { hidden: !part.hidden }))}
                  />
                </Tooltip>
                {part.ghosted && (
                  <Tooltip title="Ghosted: drawn see-through and not picked. Draw solid">
                    <Button type="text" size="small" aria-label={`Draw ${part.name} solid`} icon={<Icon name="ghost" size={15} />} onClick={() => void change("Draw part solid", setPart(id, { ghosted: false }))} />
                  </Tooltip>
                )}
                <Tooltip title={part.locked ? "Unlock" : "Lock; locked parts are not picked"}>
                  <Button
                    type="text"
                    size="small"
                    aria-label={part.locked ? `Unlock ${part.name}` : `Lock ${part.name}`}
                    icon={<Icon name={part.locked ? "locked" : "unlocked"} size={15} />}
                    onClick={() => void change(part.locked ? "Unlock part" : "Lock part", setPart(id, { locked: !part.locked }))}
                  />
                </Tooltip>
              </li>
            </Dropdown>
          );
        })}
      </ul>
    </section>
  );
}
