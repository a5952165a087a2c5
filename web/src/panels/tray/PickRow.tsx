import { Button } from "antd";
import { useState } from "react";

import { keyOf } from "../../interaction/keys/commands";
import { backToView, focusView } from "../../interaction/focus";
import { PICK_COMMANDS, pickBy, runPick } from "../../interaction/picks/pickRules";
import { accept, cancel, useLast } from "../../interaction/session/storing";
import { tryAnyway, tryValues } from "../../interaction/session/trial";
import { toggleThrough } from "../../interaction/viewing";
import { useCalm } from "../../model/session/calm";
import { dropSet, keepSet } from "../../model/document/intents";
import { typedOf } from "../../model/steps/kinds";
import { pickRule } from "../../model/picks/picks";
import { pickText } from "../../model/picks/pickText";
import { isThrough, prefs, type Sweep, usePrefs } from "../../model/prefs";
import { same, triple } from "../../model/session/toolStep";
import { shellBelow } from "../../model/steps/shells";
import { type EditorState, partOf, type PickKind, type ToolSession, useEditor, type Values } from "../../model/store";
import { counted, shown } from "../../model/units";
import { VIEW_TITLES } from "../../model/views";
import { useUnseen } from "../../model/session/unseen";
import { change } from "../../sync/build";
import { NameDialog } from "../builds/NameDialog";
import { MenuLabel, run } from "./common";
import { Drop } from "../fields/Drop";
import { radioKeys } from "../fields/radioKeys";
import { Tip } from "../fields/Tip";

const KINDS: readonly { kind: PickKind; title: string }[] = [
  { kind: "vertices", title: "Vertices" },
  { kind: "edges", title: "Edges" },
  { kind: "faces", title: "Faces" },
];
const SWEEPS: readonly { key: Sweep; title: string }[] = [
  { key: "box", title: "Box" },
  { key: "lasso", title: "Lasso" },
  { key: "paint", title: "Paint" },
];

/** What a click takes, what is picked, and how a drag picks; with a tool at work, what to do with its trial. */
export function PickRow() {
  const state = useCalm();
  const { pickKind, session, auto } = state;
  const unseen = useUnseen((s) => s.count);
  const elsewhere = state.previewError !== null && openAboveShell(state);
  return (
    <div className="trayrow">
      <span className="kinds" role="radiogroup" aria-label="What a click picks" onKeyDown={radioKeys}>
        {KINDS.map((k) => {
          const on = !auto && pickKind === k.kind;
          return (
            <Button key={k.kind} type={on ? "primary" : "default"} className={on ? "ink" : ""} role="radio" aria-checked={on} tabIndex={on ? 0 : -1} onClick={() => run(k.kind)}>
              {k.title} <kbd>{keyOf(k.kind)}</kbd>
            </Button>
          );
        })}
        <Tip title={`Whichever is nearest (${keyOf("auto")})`}>
          <Button type={auto ? "primary" : "default"} className={auto ? "ink" : ""} role="radio" aria-checked={auto} tabIndex={auto ? 0 : -1} onClick={() => run("auto")}>
            Auto
          </Button>
        </Tip>
      </span>
      <PickMenu />
      <span className="told two" data-testid="picked">
        {pickText(state, unseen)}
      </span>
      {session !== null && <TrialText state={state} />}
      <span className="grow" />
      {state.previewError !== null && <span className="unseen" role="alert">{state.previewError}</span>}
      {elsewhere && (
        <Button className="tool" onClick={() => { tryValues({ live: true }, false); focusView(); }}>
          Do it below the shell
        </Button>
      )}
      {state.takesLong && state.previewError !== null && session !== null && (
        <Button className="tool" onClick={() => { tryAnyway(); focusView(); }}>
          Do it anyway
        </Button>
      )}
      {session !== null ? <Accept session={session} able={!elsewhere} /> : <SweepMenu />}
      <Through named={session === null && state.previewError === null} />
    </div>
  );
}

/** Whether a boolean is tried on a cage that is open, while a live shell below gives it thickness: there it can be done. */
function openAboveShell({ session, ...state }: EditorState): boolean {
  const part = session?.tool === "boolean" && session.values["live"] !== true ? partOf({ session, ...state }, session.part) : null;
  return part !== null && shellBelow(part) !== null;
}

/** Both ways are shown, the one that holds is marked. */
function Through({ named }: { readonly named: boolean }) {
  const view = useEditor((s) => s.view);
  usePrefs((p) => p.through);
  const on = isThrough(view);
  const put = (to: boolean) => {
    if (to !== on) toggleThrough();
    focusView();
  };
  return (
    <Tip title={`In this view, only what is seen is picked, or what lies behind the model too (${keyOf("through")})`}>
      <span className="pair" role="radiogroup" aria-label="What is picked in this view" onKeyDown={radioKeys}>
        {named && <span className="muted of">{view === "perspective" ? "3D" : VIEW_TITLES[view]}</span>}
        <Button className={on ? "" : "on"} role="radio" aria-checked={!on} tabIndex={on ? -1 : 0} onClick={() => put(false)}>seen</Button>
        <Button className={on ? "on" : ""} role="radio" aria-checked={on} tabIndex={on ? 0 : -1} onClick={() => put(true)}>through</Button>
      </span>
    </Tip>
  );
}

/** How a drag over paper or model picks. */
function SweepMenu() {
  const sweep = usePrefs((p) => p.sweep);
  const inside = usePrefs((p) => p.inside);
  const dots = usePrefs((p) => p.faceDots);
  const mark = (on: boolean) => (on ? "✓" : "");
  return (
    <>
      <Drop
        trigger={["click"]}
        menu={{
          items: [
            ...SWEEPS.map((s) => ({ key: s.key, label: <MenuLabel title={s.title} hint={mark(sweep === s.key)} />, onClick: () => { prefs.set({ sweep: s.key }); focusView(); } })),
            { key: "way", type: "divider" as const },
            { key: "inside", label: <MenuLabel title="only what lies wholly inside" hint={mark(inside)} />, onClick: () => { prefs.set({ inside: true }); focusView(); } },
            { key: "touching", label: <MenuLabel title="all it touches" hint={mark(!inside)} />, onClick: () => { prefs.set({ inside: false }); focusView(); } },
            { key: "line", type: "divider" as const },
            { key: "dots", label: <MenuLabel title="Dots in the middle of faces" hint={mark(dots)} />, onClick: () => run("face-dots") },
          ],
        }}
      >
        <Button aria-label="A drag picks by">
          {SWEEPS.find((s) => s.key === sweep)?.title} {sweep === "paint" ? "" : inside ? "inside" : "touching"} ▾
        </Button>
      </Drop>
    </>
  );
}

/** Ways on from the pick, and picks kept under a name. */
function PickMenu() {
  const part = useEditor((s) => partOf(s, s.current));
  const pick = useEditor((s) => s.pick);
  usePrefs((p) => p.keys);
  const [naming, setNaming] = useState(false);
  const sets = part?.sets ?? [];
  const leave = () => {
    setNaming(false);
    setTimeout(backToView);
  };
  const keep = (name: string) => {
    if (pick !== null) void change("Keep pick set", keepSet(pick.part, name, pickRule(pick)));
    leave();
  };
  const take = (name: string) => {
    const rule = sets.find((s) => s.name === name)?.pick as Partial<Record<PickKind, unknown>> | undefined;
    const kind = (["faces", "edges", "vertices"] as const).find((k) => rule?.[k] != null);
    if (rule !== undefined && kind !== undefined) void pickBy(kind, rule[kind]).then(backToView);
  };
  return (
    <>
      <Drop
        trigger={["click"]}
        menu={{
          items: [
            ...PICK_COMMANDS.map((c) => ({ key: c.id, label: <MenuLabel title={c.title} hint={keyOf(c.id)} />, onClick: () => void runPick(c).then(backToView) })),
            { key: "line", type: "divider" as const },
            ...sets.map((s) => ({
              key: `set/${s.name}`,
              label: <MenuLabel title={s.name} hint="set" />,
              children: [
                { key: `take/${s.name}`, label: "Pick it", onClick: () => take(s.name) },
                { key: `drop/${s.name}`, label: "Forget it", danger: true, onClick: () => void change("Forget pick set", dropSet(part?.id ?? "", s.name)) },
              ],
            })),
            { key: "keep", label: "Keep the pick as a set …", disabled: pick === null, onClick: () => setNaming(true) },
          ],
        }}
      >
        <Button className="tool">Pick ▾</Button>
      </Drop>
      {naming && <NameDialog title="Keep the pick as a set" label="Name of the set" placeholder="such as rim, hinge side, glass" okText="Keep" onDone={keep} onClose={leave} />}
    </>
  );
}

/** What the trial on screen comes to: faces after it, vertices that merge. Its notes stand in the line of the status. */
function TrialText({ state }: { readonly state: EditorState }) {
  const { preview } = state;
  if (preview === null || preview.facesAfter === null) return null;
  const told = [`→ ${counted(preview.facesAfter)} faces`];
  if (preview.merges > 0) told.push(`${counted(preview.merges)} ${preview.merges === 1 ? "vertex gives" : "vertices give"} way`);
  return (
    <span className="muted two" data-testid="trial" title={told.join(" · ")}>
      {told.join(" · ")}
    </span>
  );
}

function Accept({ session, able }: { readonly session: ToolSession; readonly able: boolean }) {
  const last = useEditor((s) => s.lastValues[session.tool]);
  const fresh = session.stored === null && same(session.initial, session.values);
  return (
    <>
      {fresh && last !== undefined && session.takes !== "nothing" && (
        <Tip title="The values used last">
          <Button className="tool" onClick={() => void useLast().then(backToView)}>
            Last{lastText(session, last)}
          </Button>
        </Tip>
      )}
      {able && <Button className="tool" onClick={() => void accept().then(backToView)}>Accept</Button>}
      <Button className="tool" type="text" onClick={() => { cancel(); focusView(); }}>Esc</Button>
    </>
  );
}

function lastText(session: ToolSession, last: Values): string {
  if (session.tool === "transform") return `: ${triple(last, session.field).map(shown).join(", ")}`;
  const main = typedOf(session.tool)?.name;
  const value = main === undefined ? undefined : last[main];
  return typeof value === "number" ? `: ${shown(value)}` : "";
}

