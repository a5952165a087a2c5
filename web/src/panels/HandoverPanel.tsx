import { Button } from "antd";

import { useEditor } from "../model/store";

const FILES = [
  { format: "obj", title: "OBJ", text: "Faces stay as they are, quads and larger; one object per part; in metres." },
  { format: "glb", title: "GLB", text: "glTF 2.0, triangles, one node per part; in metres." },
] as const;

/** Files that leave: at true scale, at the hand-over level, without hidden parts. */
export function HandoverPanel() {
  const build = useEditor((s) => s.build);
  if (build === null) return null;
  const left = build.document.parts?.filter((p) => p.hidden).length ?? 0;
  return (
    <section aria-label="Handover">
      <h2>Model</h2>
      {FILES.map((f) => (
        <div className="file" key={f.format}>
          <Button href={`/api/builds/${build.id}/export?format=${f.format}`} download>
            {f.title}
          </Button>
          <span className="muted">{f.text}</span>
        </div>
      ))}
      {left > 0 && <p className="muted">{left === 1 ? "One hidden part stays" : `${left} hidden parts stay`} home.</p>}
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
