import { Button, Dropdown, Tooltip, type InputRef } from "antd";
import { useEffect, useRef } from "react";

import { fitting, startKind } from "../state/kinds";
import { verticesOf } from "../state/picks";
import { accept, cancel, DEFAULTS, same, store, triple, tryValues, useLast } from "../state/session";
import { editor, METRES, unitOf, useEditor, type EditorState, type PickKind, type ToolSession, type TransformField } from "../state/store";
import { COMMANDS } from "../tools/keys";
import { focusView, registerValueField } from "../tools/valueField";
import { NumberField, shown } from "./NumberField";

const KINDS: readonly { kind: PickKind; id: string; title: string }[] = [
  { kind: "vertices", id: "vertices", title: "Vertices" },
  { kind: "edges", id: "edges", title: "Edges" },
  { kind: "faces", id: "faces", title: "Faces" },
];
const FIELDS: readonly { field: TransformField; id: string; title: string }[] = [
  { field: "translate", id: "move", title: "Move" },
  { field: "rotate", id: "turn", title: "Turn" },
  { field: "scale", id: "scale", title: "Scale" },
];

/** So many further edits stand in the tray itself; the others open from it. */
const DIRECT = 1;

function command(id: string) {
  return COMMANDS.find((c) => c.id === id);
}

function key(id: string): string {
  return command(id)?.keys[0] ?? "";
}

function run(id: string): void {
  void command(id)?.run();
  focusView();
}

/** What is picked, the tools that fit it, and the value field of the tool in use. */
export function ToolTray() {
  const state = useEditor();
  const { pick, pickKind, session } = state;
  const further = fitting(state);
  return (
    <footer className="tray" aria-label="Tool tray">
      <div className="trayrow">
        <span className="kinds" role="radiogroup" aria-label="What a click picks">
          {KINDS.map((k) => (
            <Button key={k.kind} type={pickKind === k.kind ? "primary" : "default"} className={pickKind === k.kind ? "ink" : ""} role="radio" aria-checked={pickKind === k.kind} onClick={() => run(k.id)}>
              {k.title} <kbd>{key(k.id)}</kbd>
            </Button>
          ))}
        </span>
        <span className="told" data-testid="picked">
          {pickText(state)}
        </span>
        <span className="grow" />
        {state.previewError !== null && <span className="warn ellipsis" role="alert" title={state.previewError}>▲ {state.previewError}</span>}
        {session !== null && <Accept session={session} />}
        <Button className={state.through ? "on" : ""} aria-pressed={state.through} onClick={() => editor.set({ through: !state.through })}>
          {state.through ? "Through" : "Seen only"}
        </Button>
      </div>
      <div className="trayrow">
        {pick === null ? (
          <span className="muted">Click the model to pick. Shift adds, Alt takes away; a second click takes what lies behind.</span>
        ) : (
          <>
            {pick.kind === "faces" && (
              <Button className={session?.tool === "extrude" ? "tool on" : "tool"} onClick={() => run("extrude")}>
                Extrude <kbd>{key("extrude")}</kbd>
              </Button>
            )}
            {session?.tool === "extrude" && <ExtrudeFields session={session} />}
            {FIELDS.map((f) => (
              <Button key={f.id} className={session?.tool === "transform" && session.field === f.field ? "tool on" : "tool"} onClick={() => run(f.id)}>
                {f.title} <kbd>{key(f.id)}</kbd>
              </Button>
            ))}
            {session?.tool === "transform" && <TransformFields session={session} />}
            {session === null && (
              <>
                {further.slice(0, DIRECT).map((k) => (
                  <Button key={k.word} className="tool" onClick={() => void startKind(k).then(focusView)}>
                    {k.title}
                  </Button>
                ))}
                {further.length > DIRECT && (
                  <Dropdown trigger={["click"]} menu={{ items: further.slice(DIRECT).map((k) => ({ key: k.word, label: k.title, onClick: () => void startKind(k).then(focusView) })) }}>
                    <Button className="tool">More ▾</Button>
                  </Dropdown>
                )}
                <Button className="tool" onClick={() => run("delete")}>
                  Delete <kbd>Del</kbd>
                </Button>
              </>
            )}
          </>
        )}
      </div>
    </footer>
  );
}

function Accept({ session }: { readonly session: ToolSession }) {
  const last = useEditor((s) => s.lastValues[session.tool]);
  const fresh = session.stored === null && same(DEFAULTS[session.tool], session.values);
  return (
    <>
      {fresh && last !== undefined && (
        <Tooltip title="The values used last">
          <Button className="tool" onClick={() => void useLast().then(focusView)}>
            Last: {session.tool === "extrude" ? shown(Number(last["depth"])) : triple(last, session.field).map(shown).join(", ")}
          </Button>
        </Tooltip>
      )}
      <Button className="tool" onClick={() => void accept().then(focusView)}>Accept</Button>
      <Button className="tool" type="text" onClick={() => { cancel(); focusView(); }}>Esc</Button>
    </>
  );
}

/** The field that digits typed over the view go to. */
function useValueField() {
  const ref = useRef<InputRef>(null);
  useEffect(() => {
    registerValueField(ref.current?.input ?? null);
    return () => registerValueField(null);
  });
  return ref;
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
        onEnter={focusView}
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
  return (
    <span className="fields">
      {(["x", "y", "z"] as const).map((axis, i) => (
        <NumberField
          key={`${session.field}-${axis}`}
          inputRef={i === 0 ? ref : undefined}
          label={`${session.field} ${axis}`}
          unit={length ? unit : null}
          suffix={length ? unit : session.field === "rotate" ? "°" : "×"}
          width={76}
          value={now[i] as number}
          onTry={(v) => tryValues(put(i, v), true)}
          onCommit={(v) => {
            tryValues(put(i, v), false);
            void store();
          }}
          onCancel={cancel}
          onEnter={focusView}
        />
      ))}
    </span>
  );
}

/** Kind and count of the pick, with its length or area. */
function pickText(state: EditorState): string {
  const { pick, meshes } = state;
  if (pick === null) return "nothing picked";
  const n = pick.elements.length;
  const one = { faces: "face", edges: "edge", vertices: "vertex" }[pick.kind];
  const told = `${n} ${n === 1 ? one : pick.kind}`;
  const mesh = meshes[pick.part]?.mesh.cage;
  if (mesh === undefined || n > 5000) return told;
  const metres = METRES[unitOf(state)];
  const p = mesh.positions;
  if (pick.kind === "vertices") {
    if (n !== 1) return told;
    const v = verticesOf(mesh, "vertices", pick.elements)[0] as number;
    return `${told} · ${[0, 1, 2].map((i) => shown(p[3 * v + i]! / metres)).join(", ")} ${unitOf(state)}`;
  }
  if (pick.kind === "edges") {
    const length = pick.elements.reduce((sum, e) => {
      const [a, b] = [mesh.shape.edges[2 * e]! * 3, mesh.shape.edges[2 * e + 1]! * 3];
      return sum + Math.hypot(p[a]! - p[b]!, p[a + 1]! - p[b + 1]!, p[a + 2]! - p[b + 2]!);
    }, 0);
    return `${told} · ${shown(Number((length / metres).toPrecision(5)))} ${unitOf(state)}`;
  }
  let area = 0;
  for (const f of pick.elements) {
    const [from, to] = [mesh.shape.offsets[f]!, mesh.shape.offsets[f + 1]!];
    let [x, y, z] = [0, 0, 0];
    const o = mesh.shape.corners[from]! * 3;
    for (let c = from + 1; c + 1 < to; c++) {
      const [a, b] = [mesh.shape.corners[c]! * 3, mesh.shape.corners[c + 1]! * 3];
      const [ux, uy, uz] = [p[a]! - p[o]!, p[a + 1]! - p[o + 1]!, p[a + 2]! - p[o + 2]!];
      const [vx, vy, vz] = [p[b]! - p[o]!, p[b + 1]! - p[o + 1]!, p[b + 2]! - p[o + 2]!];
      x += uy * vz - uz * vy;
      y += uz * vx - ux * vz;
      z += ux * vy - uy * vx;
    }
    area += Math.hypot(x, y, z) / 2;
  }
  return `${told} · ${shown(Number((area / metres ** 2).toPrecision(5)))} ${unitOf(state)}²`;
}

