import { Button } from "antd";
import type { ReactNode } from "react";

import type { KindInfo } from "../../api/client";
import { commandOf, keyOf } from "../../interaction/keys/commands";
import { backToView, focusView } from "../../interaction/focus";
import { startKind } from "../../interaction/keys/startKind";
import { Drop } from "../fields/Drop";

export function run(id: string): void {
  void commandOf(id)?.run();
  focusView();
}

export function MenuLabel({ title, hint }: { readonly title: ReactNode; readonly hint: string }) {
  return (
    <span className="menurow">
      {title} {hint !== "" && <kbd>{hint}</kbd>}
    </span>
  );
}

/** Kinds of step behind a button, and commands by their ids. */
export function KindMenu({ title, kinds, others = [] }: { readonly title: string; readonly kinds: readonly KindInfo[]; readonly others?: readonly string[] }) {
  const items = [
    ...kinds.map((k) => ({ key: k.word, label: <MenuLabel title={k.title} hint={keyOf(k.word)} />, onClick: () => void startKind(k).then(backToView) })),
    ...others.map((id) => ({ key: id, label: <MenuLabel title={commandOf(id)?.title ?? id} hint={keyOf(id)} />, onClick: () => run(id) })),
  ];
  return (
    <Drop trigger={["click"]} menu={{ items }}>
      <Button className="tool">{title} ▾</Button>
    </Drop>
  );
}
