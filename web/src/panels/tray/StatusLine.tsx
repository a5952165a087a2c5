import { Button } from "antd";
import { useState } from "react";

import { focusView } from "../../interaction/focus";
import { setCoordinate } from "../../interaction/parts/placing";
import { askText, useAsking } from "../../model/session/asking";
import { useCalm } from "../../model/session/calm";
import { verticesOf } from "../../model/picks/picks";
import { useDragged } from "../../model/session/dragged";
import { usePointer } from "../../model/session/pointer";
import { editor, type EditorState, METRES, type Triple, unitOf, useEditor } from "../../model/store";
import { shownUnit } from "../../model/units";
import { lookOf } from "../../tools/manifest";
import { NumberField } from "../fields/NumberField";
import { Tip } from "../fields/Tip";

const NUMBERS = ["length", "angle", "ratio", "count"];

function hint(state: EditorState): string {
  const { session, drawing, path, pick, pivoting, placing, kinds, stack } = state;
  if (drawing !== null) return { wait: "Press and drag the footprint in a view; sizes may be typed.", footprint: "Let go where the footprint ends.", height: "Move to the height and click, or type it. Enter makes the form, Esc gives it up." }[drawing.stage];
  if (path?.freehand) return "Draw round the shape in one stroke; it becomes a body whose thickness you type. Esc leaves it.";
  if (path !== null) return path.picked !== null ? "Drag the point, type its place, choose its corner; Delete takes it out, Esc lets it go." : "Click points, drag for soft ones; the first closes, a click on the line puts one in. Esc ends.";
  if (session !== null) {
    if (kinds.find((k) => k.word === session.tool)?.form) return "Drag an end bar: the form takes its true size. Esc lays the bars down.";
    const { points, hint: own } = lookOf(session.tool);
    if (session.asks !== null && points !== undefined) return points.sentence;
    const numbers = kinds.find((k) => k.word === session.tool)?.parameters.some((p) => session.values[p.name] !== undefined && NUMBERS.includes(p.quantity));
    return own ?? (numbers ? "Drag the knob or type a value; Enter stores it and is done, Esc takes it back." : "Enter stores it and is done, Esc takes it back.");
  }
  if (stack !== null && pick?.elements.length === 1) return `${stack.nth} of ${stack.of} here; click again for the next behind.`;
  if (placing) return "Drag arrows, arcs or bars; a collar drags a copy out. A click chooses a part, Shift one more; Esc leaves it.";
  if (pivoting) return "Drag the pivot; with snap on it takes vertices, middles and boards.";
  if (pick === null) return "Click or drag to pick; Shift adds, Alt takes away; click again for what lies behind, twice at once for the loop.";
  return "Drag to pick several; arrow keys nudge; ? lists every key.";
}

/** One line: what to do with the tool at hand, where the pick and the pointer are. */
export function StatusLine() {
  const calm = useCalm(hint);
  const asked = useAsking((s) => s.asking);
  const notes = useCalm((s) => (s.session === null ? "" : (s.preview?.notes ?? []).map((n) => `${n.slice(0, 1).toUpperCase()}${n.slice(1)}.`).join(" ")));
  const revision = useEditor((s) => s.build?.revision);
  const dragged = useDragged((s) => (s.revision === revision ? s.told : null));
  const told = asked !== null ? `${askText(asked)} Esc leaves it.` : dragged !== null ? dragged : notes !== "" ? notes : calm;
  return (
    <div className="trayrow status">
      <span className={asked === null && (dragged !== null || notes !== "") ? "two hint" : "muted two hint"} title={told}>{told}</span>
      <span className="grow" />
      <Coordinates />
      <PointerPlace />
    </div>
  );
}

function PointerPlace() {
  const at = usePointer((s) => s.at);
  const unit = useEditor(shownUnit);
  const text = (v: number) => (Number.isNaN(v) ? "–" : (v / METRES[unit]).toFixed(1));
  return (
    <span className="muted pointer" data-testid="pointer" title={`Where the pointer is, in ${unit}`}>
      {at === null ? "" : at.map(text).join("  ")}
    </span>
  );
}

/** The lowest coordinates of what is picked, in the part's axes; typing one moves all until the lowest is there, or flattens. */
function Coordinates() {
  const pick = useEditor((s) => s.pick);
  const mesh = useCalm((s) => (s.pick === null ? undefined : (s.preview !== null && s.session?.part === s.pick.part ? s.preview : s.meshes[s.pick.part]?.mesh)?.cage));
  const unit = useEditor(unitOf);
  const [by, setBy] = useState<"set" | "shift">("shift");
  if (pick === null || mesh === undefined || pick.elements.length > 5000) return null;
  const metres = METRES[unit];
  const low: Triple = [Infinity, Infinity, Infinity];
  const high: Triple = [-Infinity, -Infinity, -Infinity];
  for (const v of verticesOf(mesh, pick.kind, pick.elements)) {
    for (let k = 0; k < 3; k++) {
      const at = mesh.positions[3 * v + k];
      if (at === undefined) return null;
      low[k] = Math.min(low[k] as number, at);
      high[k] = Math.max(high[k] as number, at);
    }
  }
  return (
    <span className="coordinates" role="group" aria-label="Coordinates of the pick">
      {(["x", "y", "z"] as const).map((axis, i) => {
        const value = Number((low[i]! / metres).toFixed(4)) + 0;
        const flat = high[i]! - low[i]! < 1e-7;
        return (
          <span className="field" key={axis} title={flat ? `all at ${axis} ${value}` : `${axis} from ${value} to ${Number((high[i]! / metres).toFixed(4))}`}>
            {axis}
            {flat ? "" : by === "set" ? "all" : "≥"}
            <NumberField
              label={`${axis} of the pick`}
              unit={unit}
              suffix=""
              width={62}
              value={value}
              onCommit={(v) => {
                if (v !== value || (!flat && by === "set")) void setCoordinate(axis, v, flat ? "set" : by).then(() => editor.set({ openStep: null }));
              }}
              onEnter={focusView}
            />
          </span>
        );
      })}
      <Tip title={by === "set" ? "A typed coordinate is given to all: the pick becomes flat there" : "A typed coordinate is where the lowest goes; all move with it"}>
        <Button aria-label="Typed coordinates" aria-pressed={by === "set"} onClick={() => setBy(by === "set" ? "shift" : "set")}>
          {by === "set" ? "flattens" : "moves"}
        </Button>
      </Tip>
    </span>
  );
}
