import { Select } from "antd";

import { focusView } from "../../interaction/focus";
import { boardsOf, useEditor } from "../../model/store";

/** A board that a step takes: those that have an outline, and the one it has. */
export function BoardSelect({ value, onChange }: { readonly value: string; readonly onChange: (value: string) => void }) {
  const boards = useEditor(boardsOf);
  const held = boards.find((b) => b.id === value || b.name === value)?.id ?? value;
  const offered = boards.filter((b) => b.outline != null || b.id === held).map((b) => ({ value: b.id, label: b.name }));
  return <Select size="small" aria-label="board" style={{ width: 150 }} value={held} options={offered} onChange={(v) => { onChange(v); focusView(); }} />;
}
