import { Button } from "antd";

import { keyOf } from "../../interaction/keys/commands";
import { backToView, focusView } from "../../interaction/focus";
import { fitting, startKind, whole } from "../../interaction/keys/startKind";
import { cancel, finish, store } from "../../interaction/session/storing";
import { tryValues } from "../../interaction/session/trial";
import { useCalm } from "../../model/session/calm";
import { unedited } from "../../model/steps/freshForm";
import { triple } from "../../model/session/toolStep";
import { isCurve } from "../../model/document/parts";
import { pathAtHand } from "../../model/drawing/pathPoints";
import { partOf, partsOf, type ToolSession, type TransformField, unitOf, useEditor } from "../../model/store";
import { lookOf } from "../../tools/manifest";
import { NumberField } from "../fields/NumberField";
import { Tip } from "../fields/Tip";
import { KindMenu, run } from "./common";
import { useValueField } from "../fields/useValueField";
import { KindFields } from "./KindFields";

const FIELDS: readonly { field: TransformField; id: string; title: string }[] = [
  { field: "translate", id: "move", title: "Move" },
  { field: "rotate", id: "turn", title: "Turn" },
  { field: "scale", id: "scale", title: "Scale" },
];
/** So many further edits stand in the tray itself; the others open from it. */
const DIRECT = 3;
/** On a curve what makes something of it stands in the tray. */
const ON_CURVES = 5;

/** What shapes a part as a whole. */
const SHAPING = [{ word: "brush", title: "Brush" }, { word: "lattice", title: "Lattice" }, { word: "bend", title: "Bend" }] as const;

/** The tools that fit the pick, and the value fields of the one in use. */
export function WorkRow() {
  const state = useCalm();
  const { pick, session } = state;
  const further = fitting(state);
  const part = partOf(state, state.current);
  const made = whole(state);
  const curve = part !== null && isCurve(part, partsOf(state), state.kinds);
  if (session !== null && lookOf(session.tool).place !== "first") {
    return (
      <div className="trayrow">
        <KindFields session={session} />
      </div>
    );
  }
  if (pick === null) {
    return (
      <div className="trayrow">
        {part !== null && unedited(part) !== null && (
          <Button className="tool" onClick={() => run("form-size")}>
            Size of the form <kbd>{keyOf("form-size")}</kbd>
          </Button>
        )}
        {!curve && <Button className="tool" onClick={() => run("insert_loop")} disabled={part === null}>
          Insert loops <kbd>{keyOf("insert_loop")}</kbd>
        </Button>}
        {!curve && <Button className="tool" onClick={() => run("slice")} disabled={part === null}>
          Slice <kbd>{keyOf("slice")}</kbd>
        </Button>}
        {!curve && SHAPING.map((k) => (
          <Button key={k.word} className="tool" onClick={() => run(k.word)} disabled={part === null}>
            {k.title} <kbd>{keyOf(k.word)}</kbd>
          </Button>
        ))}
        {curve && pathAtHand(state) !== null && <Button className="tool" onClick={() => run("path")}>
          Draw on <kbd>{keyOf("path")}</kbd>
        </Button>}
        {curve && made.slice(0, ON_CURVES).map((k) => (
          <Button key={k.word} className="tool" onClick={() => void startKind(k).then(backToView)}>
            {k.title} {keyOf(k.word) !== "" && <kbd>{keyOf(k.word)}</kbd>}
          </Button>
        ))}
        <KindMenu title="Whole part" kinds={curve ? made.slice(ON_CURVES) : made} />
        <span className="grow" />
      </div>
    );
  }
  return (
    <div className="trayrow">
      {pick.kind === "faces" && (
        <Button className={session?.tool === "extrude" ? "tool on" : "tool"} onClick={() => run("extrude")}>
          Extrude <kbd>{keyOf("extrude")}</kbd>
        </Button>
      )}
      {session?.tool === "extrude" && <ExtrudeFields session={session} />}
      {FIELDS.map((f) => (
        <Button key={f.id} className={session?.tool === "transform" && session.field === f.field ? "tool on" : "tool"} onClick={() => run(f.id)}>
          {f.title} <kbd>{keyOf(f.id)}</kbd>
        </Button>
      ))}
      {session?.tool === "transform" && <TransformFields session={session} />}
      {session === null && (
        <>
          {further.slice(0, DIRECT).map((k) => (
            <Button key={k.word} className="tool" onClick={() => void startKind(k).then(backToView)}>
              {k.title} {keyOf(k.word) !== "" && <kbd>{keyOf(k.word)}</kbd>}
            </Button>
          ))}
          {further.length > DIRECT && <KindMenu title="More" kinds={further.slice(DIRECT)} others={pick.kind === "edges" ? ["piping", "edge-curve"] : []} />}
          <Button className="tool" onClick={() => run("delete")}>
            Delete <kbd>Del</kbd>
          </Button>
        </>
      )}
    </div>
  );
}

function ExtrudeFields({ session }: { readonly session: ToolSession }) {
  const unit = useEditor(unitOf);
  const ref = useValueField();
  return (
    <span className="fields">
      depth
      <NumberField
        inputRef={ref}
        label="Depth"
        unit={unit}
        value={Number(session.values["depth"])}
        onTry={(v) => tryValues({ depth: v }, true)}
        onCommit={(v) => {
          tryValues({ depth: v }, false);
          void store();
        }}
        onCancel={cancel}
        onEnter={finish}
        onLeave={focusView}
      />
    </span>
  );
}

function TransformFields({ session }: { readonly session: ToolSession }) {
  const unit = useEditor(unitOf);
  const ref = useValueField();
  const now = triple(session.values, session.field);
  const length = session.field === "translate";
  const put = (i: number, v: number) => ({ [session.field]: now.map((o, j) => (i === j ? v : o)) as [number, number, number] });
  const push = Number(session.values["push"] ?? 0);
  const even = session.field === "scale";
  const all = (v: number) => ({ scale: [v, v, v] as [number, number, number] });
  return (
    <span className="fields">
      {even && (
        <NumberField
          key="scale-all"
          inputRef={ref}
          label="scale evenly"
          quantity="scale"
          unit={null}
          suffix="× all"
          width={84}
          value={now.every((v) => v === now[0]) ? now[0] : 1}
          onTry={(v) => tryValues(all(v), true)}
          onCommit={(v) => {
            tryValues(all(v), false);
            void store();
          }}
          onCancel={cancel}
          onEnter={finish}
          onLeave={focusView}
        />
      )}
      {(["x", "y", "z"] as const).map((axis, i) => (
        <NumberField
          key={`${session.field}-${axis}`}
          inputRef={i === 0 && !even ? ref : undefined}
          label={`${session.field} ${axis}`}
          quantity={length ? "length" : session.field}
          unit={length ? unit : null}
          suffix={`${axis} ${length ? unit : session.field === "rotate" ? "°" : "×"}`}
          width={80}
          value={now[i] as number}
          onTry={(v) => tryValues(put(i, v), true)}
          onCommit={(v) => {
            tryValues(put(i, v), false);
            void store();
          }}
          onCancel={cancel}
          onEnter={finish}
          onLeave={focusView}
        />
      ))}
      {length && (
        <>
          <Tip title="Every point moves this far along its own normal: thicker, or thinner">
            <span>push</span>
          </Tip>
          <NumberField label="push along normals" unit={unit} width={70} value={push} onTry={(v) => tryValues({ push: v }, true)} onCommit={(v) => { tryValues({ push: v }, false); void store(); }} onCancel={cancel} onEnter={finish} onLeave={focusView} />
        </>
      )}
    </span>
  );
}
