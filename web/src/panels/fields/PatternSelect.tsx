import { Select } from "antd";

import type { Pattern } from "../../api/client";
import { focusView } from "../../interaction/focus";
import { useEditor } from "../../model/store";

const NONE: readonly Pattern[] = [];

/** A pattern of the build that a step takes. */
export function PatternSelect({ value, width = 150, onChange }: { readonly value: string; readonly width?: number; readonly onChange: (value: string) => void }) {
  const patterns = useEditor((s) => s.build?.document.patterns ?? NONE);
  const held = patterns.find((p) => p.id === value || p.name === value)?.id ?? value;
  return <Select size="small" aria-label="pattern" style={{ width }} popupMatchSelectWidth={false} value={held} options={patterns.map((p) => ({ value: p.id, label: p.name }))} onChange={(v) => { onChange(v); focusView(); }} />;
}
