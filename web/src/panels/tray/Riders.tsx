import type { ToolSession } from "../../model/store";
import { Tip } from "../Tip";

/** The other parts chosen with the one at work, which are to follow it. */
export function Riders({ session }: { readonly session: ToolSession }) {
  const count = session.riders.length;
  if (count === 0 || session.stored !== null) return null;
  return (
    <Tip title="Each gets a step of its own that follows this one; the card of that step makes it rigid or lets it deform">
      <span className="muted">+ {count} {count === 1 ? "part follows" : "parts follow"}</span>
    </Tip>
  );
}
