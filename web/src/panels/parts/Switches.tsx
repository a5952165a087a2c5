import { Button, Tooltip } from "antd";

import type { Group, Part } from "../../api/client";
import { Icon } from "../Icon";

export type Flags = Pick<Part, "hidden" | "ghosted" | "locked">;

interface Props {
  readonly member: Part | Group;
  /** what it is called in a sentence: part or group */
  readonly word: string;
  readonly set: (label: string, flags: Flags) => void;
}

/** Seen or hidden, drawn solid or see-through, free or locked. */
export function Switches({ member, word, set }: Props) {
  const { name, hidden, ghosted, locked } = member;
  return (
    <>
      <Tooltip title={hidden ? "Show" : `Hide; hidden ${word}s are not exported`}>
        <Button type="text" size="small" aria-label={hidden ? `Show ${name}` : `Hide ${name}`} icon={<Icon name={hidden ? "unseen" : "seen"} size={15} />} onClick={() => set(hidden ? `Show ${word}` : `Hide ${word}`, { hidden: !hidden })} />
      </Tooltip>
      {ghosted && (
        <Tooltip title="Ghosted: drawn see-through and not picked. Draw solid">
          <Button type="text" size="small" aria-label={`Draw ${name} solid`} icon={<Icon name="ghost" size={15} />} onClick={() => set(`Draw ${word} solid`, { ghosted: false })} />
        </Tooltip>
      )}
      <Tooltip title={locked ? "Unlock" : `Lock; locked ${word}s are not picked`}>
        <Button type="text" size="small" aria-label={locked ? `Unlock ${name}` : `Lock ${name}`} icon={<Icon name={locked ? "locked" : "unlocked"} size={15} />} onClick={() => set(locked ? `Unlock ${word}` : `Lock ${word}`, { locked: !locked })} />
      </Tooltip>
    </>
  );
}
