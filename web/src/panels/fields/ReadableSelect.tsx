import { Select } from "antd";
import { useMemo } from "react";

import { focusView } from "../../interaction/focus";
import { partsOf, useEditor } from "../../model/store";

/** What is raised on parts of the build, by what it was made of: patterns, and pictures by the relief they stand in. */
function useRaised(): readonly { readonly value: string; readonly label: string }[] {
  const parts = useEditor(partsOf);
  const patterns = useEditor((s) => s.build?.document.patterns);
  return useMemo(() => {
    const found = new Map<string, string>();
    for (const part of parts) {
      for (const step of part.steps ?? []) {
        if (step.kind !== "relief") continue;
        const pattern = patterns?.find((p) => p.id === step.pattern || p.name === step.pattern);
        if (pattern !== undefined) found.set(pattern.id, pattern.name);
        else if (step.picture != null) found.set(step.picture, `picture on ${part.name}`);
      }
    }
    return [...found].map(([value, label]) => ({ value, label }));
  }, [parts, patterns]);
}

/** What reads right on a mirror image: marks and letters that are not turned over with the rest. Nothing where nothing is raised. */
export function ReadableSelect({ value, onChange }: { readonly value: readonly string[]; readonly onChange: (value: readonly string[]) => void }) {
  const raised = useRaised();
  const patterns = useEditor((s) => s.build?.document.patterns);
  const held = value.map((v) => patterns?.find((p) => p.name === v)?.id ?? v);
  if (raised.length === 0 && held.length === 0) return null;
  const gone = held.filter((v) => !raised.some((r) => r.value === v)).map((v) => ({ value: v, label: patterns?.find((p) => p.id === v)?.name ?? "a picture no longer raised" }));
  return (
    <div className="row">
      <span title="Patterns and pictures that are not turned over on the image">readable</span>
      <Select size="small" mode="multiple" aria-label="readable" style={{ width: 128 }} popupMatchSelectWidth={false} maxTagCount={1} placeholder="none" value={held} options={[...raised, ...gone]} onChange={(v: string[]) => { onChange(v); focusView(); }} />
    </div>
  );
}
