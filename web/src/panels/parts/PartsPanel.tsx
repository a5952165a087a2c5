import { useState } from "react";

import { partTree } from "../../model/parts";
import { editor, groupsOf, partsOf, useEditor } from "../../model/store";
import { GroupRow } from "./GroupRow";
import { PartRow } from "./PartRow";

/** Parts and groups with their triangle counts; seen or hidden, locked or free. */
export function PartsPanel({ onAdd }: { readonly onAdd: () => void }) {
  const parts = useEditor(partsOf);
  const groups = useEditor(groupsOf);
  const isolated = useEditor((s) => s.isolated);
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set());
  const fold = (id: string, open: boolean) => {
    const next = new Set(folded);
    if (open) next.delete(id);
    else next.add(id);
    setFolded(next);
  };
  return (
    <section className="parts" aria-label="Parts">
      <h2>
        Parts
        <button type="button" className="link" onClick={onAdd}>
          + Part
        </button>
      </h2>
      {isolated !== null && (
        <p className="muted isolated">
          {isolated.length === 1 ? "One part alone." : "Some parts alone."}{" "}
          <button type="button" className="link" onClick={() => editor.set({ isolated: null })}>
            Show all
          </button>
        </p>
      )}
      {parts.length === 0 && <p className="teach">No part yet. Start from a base form of about the right size.</p>}
      <ul>
        {partTree(parts, groups, folded).map((row) =>
          "group" in row ? (
            <GroupRow key={`group-${row.group.id}`} group={row.group} depth={row.depth} open={!folded.has(row.group.id)} onOpen={(open) => fold(row.group.id, open)} />
          ) : (
            <PartRow key={row.part.id} part={row.part} depth={row.depth} />
          ),
        )}
      </ul>
    </section>
  );
}
