import { App, Menu } from "antd";
import { useEffect, useRef } from "react";

import type { Part } from "../../api/client";
import { copyChosen } from "../../interaction/copies";
import { focusView } from "../../interaction/focus";
import { groupMembers, moveChosen, removeChosen, setMembers } from "../../interaction/together";
import type { Copying } from "../../model/copies";
import { dissolveGroup } from "../../model/intents";
import { chosenOf, type Key, memberOf } from "../../model/members";
import { neededBy } from "../../model/parts";
import { useStock } from "../../model/stock";
import { editor, groupsOf, useEditor } from "../../model/store";
import { change, tell } from "../../sync/build";

const COPIES: readonly { how: Copying; label: string }[] = [
  { how: "plain", label: "with a recipe of its own" },
  { how: "linked", label: "linked: follows this one" },
  { how: "x", label: "mirrored, linked, across x" },
  { how: "y", label: "mirrored, linked, across y" },
  { how: "z", label: "mirrored, linked, across z" },
];

interface Props {
  readonly member: Key;
  readonly onRename: (key: Key) => void;
  readonly onDone: () => void;
}

/** What can be done with a part or group as a whole, or with all that is chosen. */
export function MemberMenu({ member: key, onRename, onDone }: Props) {
  const { modal } = App.useApp();
  const groups = useEditor(groupsOf);
  const isolated = useEditor((s) => s.isolated);
  const member = useEditor((s) => memberOf(s, key));
  const keys = useEditor((s) => s.chosen).includes(key) ? chosenOf(editor.get()) : [key];
  const first = useRef<HTMLDivElement>(null);
  useEffect(() => first.current?.querySelector<HTMLElement>("[role=menuitem]")?.focus(), []);
  if (member === null) return null;
  const isPart = key.startsWith("p:");
  const one = keys.length === 1;
  const partIds = keys.filter((k) => k.startsWith("p:")).map((k) => k.slice(2));
  const alone = partIds.length > 0 && isolated !== null && partIds.every((id) => isolated.includes(id));
  const inside = keys.some((k) => memberOf(editor.get(), k)?.group != null);
  const ghosted = member.ghosted ?? false;
  const template = member.template ?? false;
  const what = one ? (isPart ? "part" : "group") : "what is chosen";

  const remove = () => {
    const { build, kinds } = editor.get();
    const needs = build === null ? [] : [...new Set(partIds.flatMap((id) => neededBy(id, build.document, kinds)))].filter((p: Part) => !partIds.includes(p.id ?? ""));
    if (needs.length === 0) return void removeChosen(keys);
    void modal.confirm({
      title: `${needs.map((p) => p.name).join(", ")} ${needs.length === 1 ? "needs" : "need"} ${one ? member.name : "them"}`,
      content: "Steps that need it cannot run without it, and say so in the recipe. Undo brings it back.",
      okText: "Remove anyway",
      okButtonProps: { danger: true },
      cancelText: "Keep it",
      onOk: () => void removeChosen(keys),
      afterClose: focusView,
    });
  };
  const dissolve = () => {
    // what a group moves would jump
    if (member.placement != null || member.joint != null) tell(`${member.name} is placed as one; take its parts out one by one`);
    else void change(`Dissolve ${member.name}`, dissolveGroup(key.slice(2)));
  };

  const items = [
    ...(partIds.length > 0 ? [{ key: "alone", label: alone ? "Show all parts" : "Show alone", onClick: () => editor.set({ isolated: alone ? null : partIds }) }] : []),
    ...(partIds.length > 0 && isolated !== null && !alone ? [{ key: "too", label: "Show too", onClick: () => editor.set({ isolated: [...new Set([...isolated, ...partIds])] }) }] : []),
    { key: "ghost", label: ghosted ? "Draw solid" : "Ghost", onClick: () => void setMembers(ghosted ? `Draw ${what} solid` : `Ghost ${what}`, keys, { ghosted: !ghosted }) },
    { key: "template", label: template ? "Count and hand over again" : "Template: seen, never handed over", onClick: () => void setMembers(template ? "Template no more" : "Template", keys, { template: !template }) },
    ...(one ? [{ key: "rename", label: "Rename", onClick: () => onRename(key) }] : []),
    ...(partIds.length > 0 ? [{ key: "copy", label: "Copy", children: COPIES.map(({ how, label }) => ({ key: `copy-${how}`, label, onClick: () => void copyChosen(partIds, how) })) }] : []),
    {
      key: "group",
      label: "Group",
      children: [
        { key: "group-new", label: "into a new group", onClick: () => void groupMembers(keys) },
        ...groups.filter((g) => !keys.includes(`g:${g.id}`) && g.id !== member.group).map((g) => ({ key: `group-${g.id}`, label: `into ${g.name}`, onClick: () => void moveChosen(keys, g.id, null) })),
        ...(inside ? [{ key: "group-out", label: "out of its group", onClick: () => void moveChosen(keys, null, null) }] : []),
      ],
    },
    ...(one ? [{ key: "keep", label: "Keep in stock …", onClick: () => useStock.setState({ keeping: key }) }] : []),
    ...(!isPart && one ? [{ key: "dissolve", label: "Dissolve group", onClick: dissolve }] : []),
    ...(partIds.length > 0 ? [{ key: "remove", label: partIds.length === 1 ? "Remove part" : `Remove ${partIds.length} parts`, danger: true, onClick: remove }] : []),
  ];
  return (
    <div ref={first} className="ant-dropdown-menu-host">
      <Menu mode="vertical" selectable={false} items={items} onClick={onDone} />
    </div>
  );
}
