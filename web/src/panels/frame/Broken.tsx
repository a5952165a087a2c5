import { pickAgain } from "../../interaction/picks/pickAgain";
import { partOf, useEditor } from "../../model/store";

/** The step at hand picks what is no longer there: said where one looks, with the way to pick it again. */
export function Broken() {
  const part = useEditor((s) => partOf(s, s.current));
  const open = useEditor((s) => s.openStep);
  const again = useEditor((s) => s.pickingAgain);
  const kinds = useEditor((s) => s.kinds);
  const status = useEditor((s) => s.build?.parts.find((p) => p.id === s.current)?.steps.find((t) => t.id === s.openStep));
  const step = part?.steps?.find((s) => s.id === open);
  const lost = status !== undefined && (status.missing > 0 || (status.error?.startsWith("the pick finds no") ?? false));
  if (part?.id == null || step?.id == null || !lost || again !== null) return null;
  const [partId, stepId] = [part.id, step.id];
  return (
    <div className="broken" role="status">
      ▲ What {step.label ?? kinds.find((k) => k.word === step.kind)?.title} had picked is not all there any more.{" "}
      <button type="button" className="link" onClick={() => void pickAgain(partId, stepId)}>Pick again in the view</button>
    </div>
  );
}
