import { Input } from "antd";
import { useState } from "react";

interface Props {
  readonly name: string;
  readonly label: string;
  readonly renaming: boolean;
  readonly onClick: (e: React.MouseEvent) => void;
  readonly onRenaming: (on: boolean) => void;
  readonly onRename: (name: string) => void;
}

/** A name that is chosen by a click and renamed by two. */
export function Name({ name, label, renaming, onClick, onRenaming, onRename }: Props) {
  const [typed, type] = useState(name);
  if (!renaming) {
    return (
      <button
        type="button"
        className="name"
        onClick={onClick}
        onDoubleClick={() => {
          type(name);
          onRenaming(true);
        }}
      >
        {name}
      </button>
    );
  }
  const commit = () => {
    onRenaming(false);
    if (typed.trim() !== "" && typed.trim() !== name) onRename(typed.trim());
  };
  return (
    <Input
      size="small"
      autoFocus
      aria-label={label}
      maxLength={200}
      value={typed}
      onChange={(e) => type(e.target.value)}
      onBlur={commit}
      onPressEnter={commit}
      onKeyDown={(e) => {
        if (e.key !== "Escape") return;
        type(name);
        onRenaming(false);
      }}
    />
  );
}
