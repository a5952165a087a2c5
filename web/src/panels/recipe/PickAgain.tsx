import { Button } from "antd";
import { useEffect } from "react";

import type { KindInfo, Step, StepStatus } from "../../api/client";
import { leavePickingAgain, pickAgain, useNewPick } from "../../interaction/picks/pickAgain";
import { useEditor } from "../../model/store";

interface Props {
  readonly part: string;
  readonly step: Step;
  readonly status: StepStatus | null;
  readonly takes: KindInfo["takes"];
}

/** What a step's pick came to where its ids are gone, and the way to make it anew. */
export function PickAgain({ part, step, status, takes }: Props) {
  const id = step.id ?? "";
  const active = useEditor((s) => s.pickingAgain !== null && s.pickingAgain.part === part && s.pickingAgain.step === id);
  const count = useEditor((s) => (s.pick !== null && s.pick.part === part && takes.includes(s.pick.kind) ? s.pick.elements.length : 0));
  useEffect(() => {
    if (!active) return undefined;
    const pressed = (e: KeyboardEvent) => {
      if (e.target instanceof HTMLInputElement || (e.key !== "Enter" && e.key !== "Escape")) return;
      if (e.key === "Enter" && e.target instanceof HTMLButtonElement) return; // the button does what it says
      e.preventDefault();
      e.stopPropagation();
      void (e.key === "Enter" ? useNewPick() : leavePickingAgain());
    };
    window.addEventListener("keydown", pressed, true);
    return () => {
      window.removeEventListener("keydown", pressed, true);
      void leavePickingAgain(); // the card was closed half way
    };
  }, [active]);
  const missing = status?.missing ?? 0;
  const nothing = status?.error?.startsWith("the pick finds no") ?? false;
  if (active)
    return (
      <div className="again" role="group" aria-label="Pick again">
        <p className="muted">Pick {takes.join(" or ")} in a view, as they are above this step; Enter takes them, Esc leaves all as it was.</p>
        <Button size="small" type="primary" disabled={count === 0} onClick={() => void useNewPick()}>Take the {count} picked</Button>
        <Button size="small" onClick={() => void leavePickingAgain()}>Leave</Button>
      </div>
    );
  const offer = <button type="button" className="link" onClick={() => void pickAgain(part, id)}>pick again</button>;
  return (
    <>
      {missing > 0 && <p className="fault">▲ {missing} of what was picked are no longer there; {offer}</p>}
      {nothing && missing === 0 && <p className="fault">{offer}</p>}
      {status?.again != null && <p className="muted">found again {status.again}; {offer}</p>}
    </>
  );
}
