import { change } from "../state/editor";
import { placePart } from "../state/intents";
import { accept } from "../state/session";
import { partOf, unitOf, useEditor } from "../state/store";
import { NewPartForm } from "./NewPartForm";
import { NumberField } from "./NumberField";

const ROWS = [
  { key: "translate", title: "place", empty: 0 },
  { key: "rotate", title: "turn", empty: 0 },
  { key: "scale", title: "scale", empty: 1 },
] as const;

/** New parts, and where the current one stands in the build. */
export function FormPanel() {
  const part = useEditor((s) => partOf(s, s.current));
  const unit = useEditor(unitOf);
  return (
    <section aria-label="Form">
      <h2>New part</h2>
      <NewPartForm />
      {part !== null && (
        <>
          <h2>Placement of {part.name}</h2>
          {ROWS.map(({ key, title, empty }) => {
            const now = (part.placement?.[key] ?? [empty, empty, empty]) as number[];
            return (
              <div className="row" key={key}>
                <span>{title}</span>
                <span className="triple">
                  {(["x", "y", "z"] as const).map((axis, i) => (
                    <NumberField
                      key={axis}
                      label={`${title} ${axis}`}
                      unit={key === "translate" ? unit : null}
                      suffix={axis}
                      width={56}
                      value={now[i] as number}
                      onCommit={(v) => {
                        if (v === now[i]) return;
                        void accept().then(() => change("Place part", placePart(part.id ?? "", key, i, v), `${part.id}/placement/${key}`));
                      }}
                    />
                  ))}
                </span>
              </div>
            );
          })}
          <p className="muted">Lengths in {unit}, turns in degrees.</p>
        </>
      )}
    </section>
  );
}
