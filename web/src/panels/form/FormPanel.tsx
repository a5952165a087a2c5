import { Button } from "antd";

import { keyOf } from "../../interaction/keys/commands";
import { startDrawing } from "../../interaction/curves/drawForm";
import { focusView } from "../../interaction/focus";
import { startPath } from "../../interaction/curves/drawPath";
import { drawnForms } from "../../model/steps/kinds";
import { useEditor } from "../../model/store";
import { NewPartForm } from "./NewPartForm";
import { MemberFields } from "../together/MemberFields";
import { TogetherFields } from "../together/TogetherFields";

/** New parts, and where what is chosen stands in the build. */
export function FormPanel() {
  const drawing = useEditor((s) => s.drawing);
  const path = useEditor((s) => s.path !== null);
  const forms = drawnForms(useEditor((s) => s.kinds));
  return (
    <section aria-label="Form">
      <h2>New part</h2>
      <NewPartForm />
      <h3>Drawn by hand</h3>
      <p className="muted">Drag the footprint in a view, or with a face picked on that face; then its height.</p>
      <div className="forms" role="group" aria-label="Draw by hand">
        <Button size="small" className={path ? "on" : ""} onClick={() => void startPath(true).then(focusView)}>
          Path <kbd>{keyOf("path")}</kbd>
        </Button>
        <Button size="small" onClick={() => void startPath(true, true).then(focusView)}>
          Freehand
        </Button>
        {forms.map(({ word, title }) => (
          <Button key={word} size="small" className={drawing?.form === word ? "on" : ""} onClick={() => void startDrawing(word).then(focusView)}>
            {title}
          </Button>
        ))}
      </div>
      <TogetherFields />
      <MemberFields />
    </section>
  );
}
