import { Button, Dropdown, Tooltip } from "antd";

import type { KindInfo } from "../api/client";
import { fitting, startKind, whole } from "../state/kinds";
import { PICK_COMMANDS, runPick } from "../state/pickRules";
import { verticesOf } from "../state/picks";
import { accept, cancel, same, store, triple, tryValues, useLast } from "../state/session";
import { editor, METRES, unitOf, useEditor, type EditorState, type PickKind, type ToolSession, type TransformField, type Values } from "../state/store";
import { COMMANDS } from "../tools/keys";
import { mainParameter } from "../tools/number";
import { focusView } from "../tools/valueField";
import { KindFields, useValueField } from "./KindFields";
import { counted, NumberField, shown } from "./NumberField";

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
const DIRECT = 3;

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
        <Dropdown trigger={["click"]} menu={{ items: PICK_COMMANDS.map((c) => ({ key: c.id, label: <PickLabel title={c.title} hint={c.keys[0] ?? ""} />, onClick: () => void runPick(c).then(focusView) })) }}>
          <Button className="tool">Pick ▾</Button>
        </Dropdown>
        <span className="told" data-testid="picked">
          {session !== null && state.preview !== null ? pickText(state).split(" · ")[0] : pickText(state)}
        </span>
        {session !== null && <TrialText state={state} />}
        <span className="grow" />
        {state.previewError !== null && <span className="warn ellipsis" role="alert" title={state.previewError}>▲ {state.previewError}</span>}
        {session !== null && <Accept session={session} />}
        <Button className={state.through ? "on" : ""} aria-pressed={state.through} onClick={() => editor.set({ through: !state.through })}>
          {state.through ? "Through" : "Seen only"}
        </Button>
      </div>
      <div className="trayrow">
        {session !== null && !OWN_FIELDS.has(session.tool) ? (
          <KindFields session={session} />
        ) : pick === null ? (
          <>
            <span className="muted ellipsis">Click to pick. Shift adds, Alt takes away; a second click takes what lies behind, a double one the loop.</span>
            <span className="grow" />
            <Menu title="Whole part" kinds={whole(state)} />
          </>
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
                    {k.title} {key(k.word) !== "" && <kbd>{key(k.word)}</kbd>}
                  </Button>
                ))}
                {further.length > DIRECT && <Menu title="More" kinds={further.slice(DIRECT)} />}
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

/** Tools with fields of their own in the tray. */
const OWN_FIELDS = new Set(["extrude", "transform"]);

function PickLabel({ title, hint }: { readonly title: string; readonly hint: string }) {
  return (
    <span className="menurow">
      {title} {hint !== "" && <kbd>{hint.replaceAll("+", " ")}</kbd>}
    </span>
  );
}

function Menu({ title, kinds }: { readonly title: string; readonly kinds: readonly KindInfo[] }) {
  return (
    <Dropdown trigger={["click"]} menu={{ items: kinds.map((k) => ({ key: k.word, label: <PickLabel title={k.title} hint={key(k.word)} />, onClick: () => void startKind(k).then(focusView) })) }}>
      <Button className="tool">{title} ▾</Button>
    </Dropdown>
  );
}

/** What the trial on screen tells: faces before and after, vertices that merge, notes. */
function TrialText({ state }: { readonly state: EditorState }) {
  const { preview } = state;
  if (preview === null || preview.facesAfter === null) return null;
  const told = [`→ ${counted(preview.facesAfter)} faces`];
  if (preview.merges > 0) told.push(`${counted(preview.merges)} ${preview.merges === 1 ? "vertex gives" : "vertices give"} way`);
  return (
    <span className="muted ellipsis" data-testid="trial" title={[...told, ...preview.notes].join(" · ")}>
      {[...told, ...preview.notes].join(" · ")}
    </span>
  );
}

function Accept({ session }: { readonly session: ToolSession }) {
  const last = useEditor((s) => s.lastValues[session.tool]);
  const fresh = session.stored === null && same(session.initial, session.values);
  return (
    <>
      {fresh && last !== undefined && (
        <Tooltip title="The values used last">
          <Button className="tool" onClick={() => void useLast().then(focusView)}>
            Last{lastText(session, last)}
          </Button>
        </Tooltip>
      )}
      <Button className="tool" onClick={() => void accept().then(focusView)}>Accept</Button>
      <Button className="tool" type="text" onClick={() => { cancel(); focusView(); }}>Esc</Button>
    </>
  );
}

function lastText(session: ToolSession, last: Values): string {
  if (session.tool === "transform") return `: ${triple(last, session.field).map(shown).join(", ")}`;
  const main = session.tool === "extrude" ? "depth" : mainParameter(session.tool)?.name;
  const value = main === undefined ? undefined : last[main];
  return typeof value === "number" ? `: ${shown(value)}` : "";
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

