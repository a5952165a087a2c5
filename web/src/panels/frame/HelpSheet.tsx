import { Button, Input, type InputRef, Modal } from "antd";
import { useMemo, useRef, useState } from "react";

import { type Command, commands, type Group, keyName, keysOf } from "../../interaction/keys/commands";
import { prefs, usePrefs } from "../../model/prefs";
import { useEditor } from "../../model/store";

const GROUPS: readonly [Group, string][] = [
  ["pick", "Picking"],
  ["work", "Tools"],
  ["brief", "The brief"],
  ["switch", "How hands work"],
  ["view", "Views"],
  ["place", "Placing"],
  ["draw", "Drawing forms"],
  ["build", "The build"],
];

const POINTER: readonly [string, string][] = [
  ["Click", "pick; again on the same spot takes what lies behind"],
  ["Drag", "pick with a box, a lasso or a brush, as the tray says"],
  ["Shift", "on a click or drag: adds, or takes a single one away again"],
  ["Alt", "on a click or drag: takes away"],
  ["Double click", "an edge: its loop; a face: the band drawn dotted under the pointer; with Ctrl the ring; with Shift beside the pick"],
  ["axes, about, keep on", "in the tray: along what handles lie, about what turns and scales go, on which plane points stay"],
  ["push", "moves every point along its own normal"],
  ["Ctrl click", "the shortest way from the last click to here, beside the pick"],
  ["Drag a handle", "try a value; release stores it; Shift is fine; Ctrl turns snapping about"],
  ["Type a number", "with a tool at work: sets it exactly; +2 adds, *1.5 multiplies, /2 divides, +-2 subtracts; cm, mm, m, in, ft"],
  ["↓ in a field", "recent values; the small 0 before it zeroes"],
  ["Right drag, or the rim", "turn the 3D view; a right drag shifts a flat one"],
  ["Middle drag, Space drag", "shift the view; flat views together"],
  ["Wheel, pinch", "zoom to the pointer"],
  ["Ctrl K", "find any command, part or step"],
  ["?", "this sheet"],
];

/** Every key and gesture; keys can be changed. */
export function HelpSheet({ open, onClose }: { readonly open: boolean; readonly onClose: () => void }) {
  const own = usePrefs((p) => p.keys);
  const [changing, setChanging] = useState<string | null>(null);
  const field = useRef<InputRef>(null);
  const [text, setText] = useState("");
  const kinds = useEditor((s) => s.kinds); // some commands are theirs
  const groups = useMemo(() => GROUPS.map(([group, title]) => ({ title, commands: commands().filter((c) => c.group === group && c.title.toLowerCase().includes(text.toLowerCase())) })), [text, kinds]);
  const close = () => {
    setChanging(null);
    onClose();
  };
  return (
    <Modal open={open} onCancel={close} footer={null} title="Keys and gestures" afterOpenChange={(shown) => shown && field.current?.focus()} width={860} style={{ top: 40 }}>
      <div className="row">
        <Input ref={field} aria-label="Narrow the keys down" placeholder="Narrow down" value={text} onChange={(e) => setText(e.target.value)} style={{ width: 220 }} />
        <span className="muted">Press a key's button to change it. Keys act while a view has focus.</span>
        <Button size="small" disabled={Object.keys(own).length === 0} onClick={() => prefs.set({ keys: {} })}>
          All as they were
        </Button>
      </div>
      <div className="help">
        <div className="columns">
          {groups.map((g) =>
            g.commands.length === 0 ? null : (
              <section key={g.title}>
                <h3>{g.title}</h3>
                <dl>
                  {g.commands.map((c) => (
                    <div key={c.id}>
                      <dt>
                        <KeyButton command={c} changing={changing === c.id} onChange={setChanging} />
                      </dt>
                      <dd>{c.title}</dd>
                    </div>
                  ))}
                </dl>
              </section>
            ),
          )}
          <section>
            <h3>Pointer</h3>
            <dl>
              {POINTER.map(([gesture, meaning]) => (
                <div key={gesture}>
                  <dt>{gesture}</dt>
                  <dd>{meaning}</dd>
                </div>
              ))}
            </dl>
          </section>
        </div>
      </div>
    </Modal>
  );
}

/** What may not be a key: digits, signs and points open the value field; Ctrl K and ? are taken. */
const TAKEN = /^[0-9.,+\-*/?]$|^Ctrl\+K$|^ $|^(Control|Shift|Alt|Meta|Tab)$/;

function KeyButton({ command, changing, onChange }: { readonly command: Command; readonly changing: boolean; readonly onChange: (id: string | null) => void }) {
  const keys = keysOf(command);
  const shown = keys.length === 0 ? "–" : keys.map((k) => k.replaceAll("+", " ")).join(", ");
  return (
    <button
      type="button"
      className={changing ? "keybutton changing" : "keybutton"}
      aria-label={`Key of ${command.title}`}
      onClick={() => onChange(changing ? null : command.id)}
      onBlur={() => changing && onChange(null)}
      onKeyDown={(e) => {
        if (!changing) return;
        e.preventDefault();
        e.stopPropagation();
        const name = keyName(e);
        if (TAKEN.test(name)) return;
        // the key leaves the command that had it
        const others = commands().filter((c) => c.id !== command.id && keysOf(c).includes(name)).map((c) => [c.id, keysOf(c).find((k) => k !== name) ?? ""]);
        if (name !== "Escape") prefs.set({ keys: { ...prefs.get().keys, ...(Object.fromEntries(others) as Record<string, string>), [command.id]: name } });
        onChange(null);
      }}
    >
      {changing ? "press a key" : shown}
    </button>
  );
}
