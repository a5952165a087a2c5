import { Select } from "antd";

import { LEADS } from "../../model/steps/leads";
import { partOf, useEditor } from "../../model/store";

/** Which step of another part is followed: those that do something to space. */
export function FollowedStep({ part, value, onChange }: { readonly part: string | null; readonly value: string | null; readonly onChange: (step: string) => void }) {
  const other = useEditor((s) => partOf(s, part));
  const kinds = useEditor((s) => s.kinds);
  const offered = (other?.steps ?? []).filter((s) => LEADS.includes(s.kind)).map((s) => ({ value: s.id ?? "", label: s.label ?? kinds.find((k) => k.word === s.kind)?.title ?? s.kind }));
  return <Select size="small" aria-label="step that is followed" style={{ minWidth: 108 }} popupMatchSelectWidth={false} placeholder={offered.length === 0 ? "nothing there bends it" : "choose"} value={value} options={offered} onChange={(v: string | null) => v !== null && onChange(v)} />;
}
