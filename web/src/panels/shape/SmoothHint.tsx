import { useQuery } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";

import { answer, api, type Part } from "../../api/client";
import { focusView } from "../../interaction/focus";
import { prepareSmooth } from "../../interaction/surface/smooth";
import { useEditor } from "../../model/store";

/** Parts whose hint was put away, by their build and id, until the page is left. */
const LEFT = new Set<string>();

/** A cage of wide caps or bare rims looks wrong smoothed; said once, with what mends it. */
export function SmoothHint({ part }: { readonly part: Part }) {
  const build = useEditor((s) => s.build);
  const [, again] = useState(0);
  const id = part.id ?? "";
  const left = `${build?.id} ${id}`;
  const key = build?.parts.find((p) => p.id === id)?.key;
  const found = useQuery({
    queryKey: ["smoothing", build?.id, id, key],
    queryFn: () => answer(api.GET("/api/builds/{build_id}/smoothing", { params: { path: { build_id: build?.id ?? "" }, query: { part: id, revision: build?.revision ?? 0 } } })),
    enabled: build !== null && !LEFT.has(left),
    retry: false,
  }).data;
  if (found === undefined || LEFT.has(left) || (found.caps.length === 0 && found.loops.length === 0)) return null;
  const mend = (label: string, steps: typeof found.caps) => {
    void prepareSmooth(id, label, steps);
    focusView();
  };
  const caps = found.caps.length > 0;
  const loops = found.loops.length > 0;
  return (
    <div className="asking" role="group" aria-label="Before it is smooth">
      <p>
        {caps && `Smooth, ${found.ngons === 1 ? "a face" : `${found.ngons} faces`} of many sides come${found.ngons === 1 ? "s" : ""} to a point. `}
        {loops && "Rims grow round unless loops run close beside them."}
      </p>
      <div className="actions">
        {caps && <Button size="small" onClick={() => mend("Quad caps", found.caps)}>Quad caps</Button>}
        {loops && <Button size="small" onClick={() => mend("Support loops", found.loops)}>Support loops</Button>}
        <Button size="small" type="text" onClick={() => { LEFT.add(left); again((n) => n + 1); focusView(); }}>It is meant so</Button>
      </div>
    </div>
  );
}
