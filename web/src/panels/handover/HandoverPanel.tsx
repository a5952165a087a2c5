import { Button, Select } from "antd";
import { useState } from "react";

import { focusView } from "../../interaction/focus";
import { setBudget } from "../../model/document/intents";
import { leavingTriangles } from "../../model/session/budgets";
import { counted } from "../../model/units";
import { change } from "../../sync/build";
import { NumberField } from "../fields/NumberField";
import { OverBudget } from "../shape/OverBudget";
import { isCurve } from "../../model/document/parts";
import { groupsOf, partsOf, useEditor } from "../../model/store";

const FILES = [
  { format: "glb", title: "GLB", text: "glTF 2.0 in one file. Triangles; groups, pivots, joints and copies as nodes." },
  { format: "gltf", title: "glTF", text: "The same as text, numbers within." },
  { format: "usdz", title: "USDZ", text: "USD in one file. Quads and larger faces stay; groups, pivots, joints and copies as prims." },
  { format: "usda", title: "USDA", text: "The same as text." },
  { format: "obj", title: "OBJ", text: "Quads and larger faces stay; one object a part, its groups named." },
  { format: "zip", title: "OBJ + MTL", text: "The same with its materials, in a ZIP." },
  { format: "ply", title: "PLY", text: "Quads and larger faces stay; all parts as one." },
  { format: "stl", title: "STL", text: "Triangles; all parts as one." },
] as const;
const DRAWINGS = [
  { format: "svg", title: "SVG", text: "Curves in millimetres, a path each; arcs and soft spans stay what they are." },
  { format: "dxf", title: "DXF", text: "Curves in the build's unit, a layer each; arcs as bulges, soft spans as splines." },
] as const;

/** Files that leave: in metres, at the hand-over level, without hidden parts unless they are asked for. */
export function HandoverPanel() {
  const build = useEditor((s) => s.build);
  const parts = useEditor(partsOf);
  const groups = useEditor(groupsOf);
  const kinds = useEditor((s) => s.kinds);
  const [chosen, choose] = useState<string[]>([]);
  if (build === null) return null;
  const put = (budget: number | null) => budget !== (build.document.budget ?? null) && void change(budget === null ? "No triangle budget" : "Triangle budget of the build", setBudget(budget), "build/budget");
  const left = parts.filter((p) => p.hidden).length;
  const there = chosen.filter((id) => parts.some((p) => p.id === id) || groups.some((g) => g.id === id));
  const of = there.map((id) => `&of=${encodeURIComponent(id)}`).join("");
  const options = [...groups.map((g) => ({ value: g.id, label: `${g.name} (group)` })), ...parts.map((p) => ({ value: p.id ?? "", label: p.name }))];
  return (
    <section aria-label="Handover">
      <h2>Budget</h2>
      <div className="row">
        <span>triangles at most</span>
        <NumberField label="triangle budget of the build" unit={null} whole width={100} value={build.document.budget ?? null} empty="no bound" onEmpty={() => put(null)} onCommit={(v) => put(v > 0 ? v : null)} onEnter={focusView} />
      </div>
      <p className="muted">{counted(leavingTriangles(build))} leave with it; parts and groups may have budgets of their own.</p>
      <OverBudget />
      <h2>Model</h2>
      <Select mode="multiple" size="small" aria-label="What is handed over" style={{ width: "100%", marginBottom: 10 }} placeholder="everything that is not hidden" maxTagCount="responsive" optionFilterProp="label" value={there} options={options} onChange={choose} />
      <Files files={FILES} build={build.id} of={of} />
      <p className="muted">
        True scale, in metres, y up.
        {there.length === 0 && left > 0 && (left === 1 ? " One hidden part stays home." : ` ${left} hidden parts stay home.`)}
      </p>
      {parts.some((p) => !p.hidden && isCurve(p, parts, kinds)) && (
        <>
          <h2>Drawing</h2>
          <Files files={DRAWINGS} build={build.id} of={of} />
        </>
      )}
      <h2>Recipe</h2>
      <div className="file">
        <Button href={`/api/builds/${build.id}/file`} download={`${build.name}.rhy.json`}>
          Recipe file
        </Button>
        <span className="muted">Every step with its numbers, for the command line and for keeping.</span>
      </div>
    </section>
  );
}

interface FilesProps {
  readonly files: readonly { readonly format: string; readonly title: string; readonly text: string }[];
  readonly build: string;
  readonly of: string;
}

/** Formats, each with its button and what it holds. */
function Files({ files, build, of }: FilesProps) {
  return files.map((f) => (
    <div className="file" key={f.format}>
      <Button href={`/api/builds/${build}/export?format=${f.format}${of}`} download>
        {f.title}
      </Button>
      <span className="muted">{f.text}</span>
    </div>
  ));
}
