import { Button } from "antd";

import { change } from "../state/editor";
import { removeStep } from "../state/intents";
import { find, setPick } from "../state/picks";
import { accept } from "../state/session";
import { editor, kindOf, partOf, useEditor } from "../state/store";

/** What each kind of finding is called, for one and for several. */
export const FINDINGS: Record<string, readonly [string, string]> = {
  zero_area_face: ["face without area", "faces without area"],
};

export function findingText(kind: string, count: number): string {
  const words = FINDINGS[kind] ?? [kind.replaceAll("_", " "), kind.replaceAll("_", " ")];
  return `${count} ${words[count === 1 ? 0 : 1]}`;
}

/** Pick what a finding is about, so that the view shows it. */
async function show(part: string, ids: readonly string[]): Promise<void> {
  await accept();
  const mesh = editor.get().meshes[part]?.mesh.cage;
  if (mesh !== undefined) setPick(part, "faces", find(mesh, "faces", ids));
}

/** Everything inspection found in the build, shown in the view and repaired at a press. */
export function Findings() {
  const build = useEditor((s) => s.build);
  const found = (build?.parts ?? []).flatMap((p) => p.findings.map((f) => ({ ...f, part: p.id, name: p.name })));
  if (found.length === 0) return null;
  return (
    <>
      <h2>Findings</h2>
      <ul className="findings">
        {found.map((f) => {
          const step = partOf(editor.get(), f.part)?.steps?.find((s) => s.id === f.step);
          const title = step?.label ?? (step ? kindOf(editor.get(), step.kind)?.title : null) ?? f.step;
          return (
            <li key={`${f.part}/${f.step}/${f.kind}`}>
              <p className="fault">
                ▲ {findingText(f.kind, f.count)} in {f.name}, since “{title}”
              </p>
              <Button size="small" onClick={() => void show(f.part, f.ids)}>
                Show
              </Button>
              <Button size="small" onClick={() => void accept().then(() => editor.set({ current: f.part, openStep: f.step }))}>
                Open the step
              </Button>
              {step?.kind === "extrude" && (
                <Button size="small" onClick={() => void accept().then(() => change(`Remove ${title}`, removeStep(f.part, f.step)))}>
                  Take it out
                </Button>
              )}
            </li>
          );
        })}
      </ul>
    </>
  );
}
