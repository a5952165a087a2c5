import { App, Menu } from "antd";
import { useEffect, useRef } from "react";

import type { Part } from "../../api/client";
import { type Copied, copyAcrossFace, copyBeside, hasMirroredHalf, joinMirroredHalf } from "../../interaction/parts/copyParts";
import { focusView } from "../../interaction/focus";
import { dissolve, groupMembers, moveChosen, removeChosen, setMembers } from "../../interaction/parts/wholes";
import { chosenOf, type Key, memberOf } from "../../model/document/members";
import { neededBy } from "../../model/document/parts";
import { useStock } from "../../model/session/shelf";
import { editor, groupsOf, useEditor } from "../../model/store";

/** Told apart by day and by night, and by eyes that tell few colours apart (after B. Wong, Nature Methods 8, 2011). */
const COLOURS = [
  { value: "#c9a24b", label: "brass" },
  { value: "#9a6a45", label: "timber" },
  { value: "#6f8f9c", label: "slate" },
  { value: "#4d9078", label: "verdigris" },
  { value: "#b5563f", label: "red lead" },
  { value: "#5a6fb0", label: "signal blue" },
  { value: "#d8d2c0", label: "canvas" },
  { value: "#4c4f57", label: "iron" },
] as const;
const COPIES: readonly { how: Copied; label: string }[] = [
  { how: "plain", label: "with a recipe of its own" },
  { how: "linked", label: "linked: follows this one" },
  { how: "x", label: "mirrored, linked, across x" },
  { how: "y", label: "mirrored, linked, across y" },
  { how: "z", label: "mirrored, linked, across z" },
  { how: "own x", label: "mirrored across x, a recipe of its own" },
  { how: "own y", label: "mirrored across y, a recipe of its own" },
  { how: "own z", label: "mirrored across z, a recipe of its own" },
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
  const face = useEditor((s) => s.pick?.kind === "faces" && s.pick.elements.length === 1);
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
  const items = [
    ...(partIds.length > 0 ? [{ key: "alone", label: alone ? "Show all parts" : "Show alone", onClick: () => editor.set({ isolated: alone ? null : partIds }) }] : []),
    ...(partIds.length > 0 && isolated !== null && !alone ? [{ key: "too", label: "Show too", onClick: () => editor.set({ isolated: [...new Set([...isolated, ...partIds])] }) }] : []),
    { key: "ghost", label: ghosted ? "Draw solid" : "Ghost", onClick: () => void setMembers(ghosted ? `Draw ${what} solid` : `Ghost ${what}`, keys, { ghosted: !ghosted }) },
    { key: "template", label: template ? "Count and hand over again" : "Template: seen, never handed over", onClick: () => void setMembers(template ? "Template no more" : "Template", keys, { template: !template }) },
    ...(one ? [{ key: "rename", label: "Rename", onClick: () => onRename(key) }] : []),
    {
      key: "copy",
      label: "Copy",
      children: [
        ...COPIES.map(({ how, label }) => ({ key: `copy-${how}`, label, onClick: () => void copyBeside(keys, how) })),
        { key: "copy-face", label: "mirrored, linked, through the picked face", disabled: !face, title: face ? "" : "pick one face first", onClick: () => void copyAcrossFace(keys) },
      ],
    },
    ...(isPart && one && hasMirroredHalf(key.slice(2)) ? [{ key: "halves", label: "One part with its mirrored half", onClick: () => void joinMirroredHalf(key.slice(2)) }] : []),
    {
      key: "colour",
      label: "Colour",
      children: [
        ...COLOURS.map(({ value, label }) => ({ key: `colour-${value}`, label, icon: <span className="swatch" style={{ background: value }} />, onClick: () => void setMembers(`Colour ${what}`, keys, { colour: value }) })),
        ...(member.colour == null ? [] : [{ key: "colour-none", label: "as all others", onClick: () => void setMembers("No colour of its own", keys, { colour: null }) }]),
      ],
    },
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
    ...(!isPart && one ? [{ key: "dissolve", label: "Dissolve group", onClick: () => void dissolve(key.slice(2)) }] : []),
    ...(partIds.length > 0 ? [{ key: "remove", label: partIds.length === 1 ? "Remove part" : `Remove ${partIds.length} parts`, danger: true, onClick: remove }] : []),
  ];
  return (
    <div ref={first} className="ant-dropdown-menu-host">
      <Menu mode="vertical" selectable={false} items={items} onClick={onDone} />
    </div>
  );
}
