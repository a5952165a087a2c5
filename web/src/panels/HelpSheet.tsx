import { Modal } from "antd";

import { COMMANDS } from "../tools/keys";

const POINTER: readonly [string, string][] = [
  ["Click", "pick; again on the same spot takes what lies behind"],
  ["Shift click", "add to the pick or take from it"],
  ["Alt click", "take from the pick"],
  ["Double click", "an edge: its loop; a face: the band across its nearest edge; with Ctrl the ring; with Shift beside the pick"],
  ["Ctrl click", "the shortest way from the last click to here, beside the pick"],
  ["Drag a handle", "try a value; release stores it; Shift is fine"],
  ["Type a number", "with a tool at work: sets it exactly; +2 adds, *1.5 multiplies, /2 divides; cm, mm, m, in, ft"],
  ["Right drag", "turn the 3D view; shifts a flat one"],
  ["Middle drag, Space drag", "shift the view"],
  ["Wheel", "zoom to the pointer"],
  ["Ctrl K", "find a tool, part or step"],
  ["?", "this sheet"],
];

/** Every key and gesture. */
export function HelpSheet({ open, onClose }: { readonly open: boolean; readonly onClose: () => void }) {
  return (
    <Modal open={open} onCancel={onClose} footer={null} title="Keys and gestures" width={640}>
      <div className="help">
        <dl>
          {COMMANDS.map((c) => (
            <div key={c.id}>
              <dt>{c.keys.map((k) => <kbd key={k}>{k.replaceAll("+", " ")}</kbd>)}</dt>
              <dd>{c.title}</dd>
            </div>
          ))}
        </dl>
        <dl>
          {POINTER.map(([gesture, meaning]) => (
            <div key={gesture}>
              <dt>{gesture}</dt>
              <dd>{meaning}</dd>
            </div>
          ))}
        </dl>
        <p className="muted">Keys act while the view has focus.</p>
      </div>
    </Modal>
  );
}
