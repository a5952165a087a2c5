import type { Group, Part } from "../../api/client";
import { Icon } from "../fields/Icon";

export type Flags = Pick<Part, "hidden" | "ghosted" | "locked">;

interface Props {
  readonly member: Part | Group;
  /** what it is called in a sentence: part or group */
  readonly word: string;
  readonly set: (label: string, flags: Flags) => void;
}

/** Seen or hidden, drawn solid or see-through, free or locked. Plain buttons: a list may have hundreds. */
export function Switches({ member, word, set }: Props) {
  const { name, hidden, ghosted, locked } = member;
  return (
    <>
      <button type="button" className="switch" aria-label={hidden ? `Show ${name}` : `Hide ${name}`} title={hidden ? "Show" : `Hide; hidden ${word}s are not exported`} onClick={() => set(hidden ? `Show ${word}` : `Hide ${word}`, { hidden: !hidden })}>
        <Icon name={hidden ? "unseen" : "seen"} size={15} />
      </button>
      {ghosted && (
        <button type="button" className="switch" aria-label={`Draw ${name} solid`} title="Ghosted: drawn see-through and not picked. Draw solid" onClick={() => set(`Draw ${word} solid`, { ghosted: false })}>
          <Icon name="ghost" size={15} />
        </button>
      )}
      <button type="button" className="switch" aria-label={locked ? `Unlock ${name}` : `Lock ${name}`} title={locked ? "Unlock" : `Lock; locked ${word}s are not picked`} onClick={() => set(locked ? `Unlock ${word}` : `Lock ${word}`, { locked: !locked })}>
        <Icon name={locked ? "locked" : "unlocked"} size={15} />
      </button>
    </>
  );
}
