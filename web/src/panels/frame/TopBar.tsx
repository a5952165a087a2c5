import { Button, Input, Segmented } from "antd";
import { useState } from "react";
import { flushSync } from "react-dom";

import { backToView, focusView } from "../../interaction/focus";
import { undoAtWork } from "../../interaction/session/strokes";
import { setLayout } from "../../interaction/viewing";
import { useBrief } from "../../model/brief/boardFit";
import { useCalm } from "../../model/session/calm";
import { isFault } from "../../model/session/findingText";
import { rename } from "../../model/document/intents";
import { type Layout, usePrefs } from "../../model/prefs";
import { boardsOf, findingsOf, useEditor } from "../../model/store";
import { apartText, counted, percent } from "../../model/units";
import { change, triangleCount } from "../../sync/build";
import { applyTheme } from "../../theme/theme";
import { boardTitle } from "../brief/BoardsSection";
import { Drop } from "../fields/Drop";
import { Icon } from "../fields/Icon";
import { leavingTriangles, overBudget } from "../../model/session/budgets";
import { Tip } from "../fields/Tip";

/** Build name, save state, undo and redo, triangles, export, help. */
export function TopBar({ onHome, onFind, onHelp }: { readonly onHome: () => void; readonly onFind: () => void; readonly onHelp: () => void }) {
  const build = useEditor((s) => s.build);
  const findings = useEditor((s) => s.build?.parts.reduce((n, p) => n + findingsOf(s, p.id).filter((f) => isFault(f.kind)).length, 0) ?? 0) + useEditor((s) => (s.build === null ? 0 : overBudget(s.build).length));
  const bound = useEditor((s) => s.build?.document.budget ?? null);
  const tooMany = useEditor((s) => bound !== null && s.build !== null && leavingTriangles(s.build) > bound);
  const night = useEditor((s) => s.night);
  const layout = usePrefs((p) => p.layout);
  const triangles = useCalm(() => triangleCount());
  const [name, setName] = useState<string | null>(null);
  const home = (
    <Tip title="All builds">
      <button type="button" className="wordmark" onClick={onHome} aria-label="All builds">
        <img src="/mark.svg" alt="" width={22} height={22} /> Rhytonic
      </button>
    </Tip>
  );
  if (build === null) return <header className="topbar">{home}</header>;
  const href = (format: string) => `/api/builds/${build.id}/export?format=${format}`;
  const commit = (field: HTMLInputElement) => {
    const typed = field.value.trim(); // not what was typed when this was drawn: Esc may have taken it back since
    setName(null);
    if (typed && typed !== build.name) void change("Rename build", rename(typed));
  };
  return (
    <header className="topbar">
      {home}
      <span className="divider" />
      <Input
        variant="borderless"
        aria-label="Build name"
        className="buildname"
        title={build.name}
        maxLength={200}
        value={name ?? build.name}
        onChange={(e) => setName(e.target.value)}
        onBlur={(e) => commit(e.currentTarget)}
        onPressEnter={focusView}
        onKeyDown={(e) => {
          if (e.key !== "Escape") return;
          flushSync(() => setName(null));
          focusView();
        }}
      />
      <SaveNote />
      <Heard />
      <Tip title={build.undo ? `Undo: ${build.undo} (Ctrl Z)` : "Nothing to undo"}>
        <Button type="text" aria-label="Undo" disabled={build.undo === null} onClick={() => void undoAtWork("undo").then(backToView)} icon={<Icon name="undo" />} />
      </Tip>
      <Tip title={build.redo ? `Redo: ${build.redo} (Ctrl Shift Z)` : "Nothing to redo"}>
        <Button type="text" aria-label="Redo" disabled={build.redo === null} onClick={() => void undoAtWork("redo").then(backToView)} icon={<Icon name="redo" />} />
      </Tip>
      <span className="grow" />
      <button type="button" className="findbox" onClick={onFind}>
        Find a tool or part <kbd>Ctrl K</kbd>
      </button>
      <Segmented<Layout> size="small" className="layout" aria-label="Layout of the views" value={layout} options={[{ value: "one", label: "One view" }, { value: "sheet", label: "Sheet" }]} onChange={(v) => { setLayout(v); focusView(); }} />
      <span className="grow" />
      <FitChip />
      {findings > 0 && (
        <button type="button" className="chip warn" onClick={() => useEditor.setState({ station: "shape" })}>
          ▲ {findings === 1 ? "1 finding" : `${findings} findings`}
        </button>
      )}
      <Tip title={bound === null ? "" : tooMany ? "Over its budget; Handover tells what would give most back" : "Within its budget"}>
        <span className={tooMany ? "triangles fault" : "triangles"} data-testid="triangles" onClick={() => bound !== null && useEditor.setState({ station: "handover" })}>
          {tooMany && "▲ "}{counted(triangles)}{bound !== null && ` of ${counted(bound)}`} triangles
        </span>
      </Tip>
      <Drop
        trigger={["click"]}
        menu={{
          items: [
            { key: "obj", label: <a href={href("obj")} download>OBJ, quads kept, in metres</a> },
            { key: "glb", label: <a href={href("glb")} download>GLB, glTF 2.0</a> },
          ],
        }}
      >
        <Button>Export</Button>
      </Drop>
      <Tip title={night ? "Light colours" : "Night colours"}>
        <Button
          type="text"
          aria-label="Night colours"
          icon={<Icon name="night" />}
          onClick={() => {
            applyTheme(!night);
            useEditor.setState({ night: !night });
          }}
        />
      </Tip>
      <Button shape="circle" aria-label="Help" onClick={onHelp}>
        ?
      </Button>
    </header>
  );
}

/** What was stored last, for those who hear the page. */
function Heard() {
  const done = useEditor((s) => (s.save.kind === "waiting" ? s.save.message : s.build?.undo == null ? null : `Saved; the last change is ${s.build.undo}`));
  const revision = useEditor((s) => s.build?.revision);
  return <span key={revision} className="unsighted" role="status" aria-live="polite">{done}</span>;
}

/** How near the build is to its brief, in one figure; its parts on hover. */
function FitChip() {
  const overall = useBrief((s) => s.overall);
  const fits = useBrief((s) => s.boards);
  const sizes = useBrief((s) => s.sizes);
  const boards = useEditor(boardsOf);
  const wanted = Object.values(sizes).filter((s) => s.verdict !== null);
  const passed = wanted.filter((s) => s.verdict === "pass").length;
  if (overall === null && wanted.length === 0) return null;
  const fine = (overall ?? 1) >= 0.95 && passed === wanted.length;
  const told = [
    ...boards.flatMap((b) => {
      const fit = fits[b.id];
      return fit === undefined ? [] : [`${boardTitle(b)}: ${percent(fit.iou)} shared, mean ${apartText(fit.mean)}, worst ${apartText(fit.worst)}`];
    }),
    ...(overall === null ? [] : ["The fit is the mean of what the outlines share."]),
    ...(wanted.length === 0 ? [] : [`${passed} of ${wanted.length} sizes pass`]),
  ].join("\n");
  return (
    <Tip title={told}>
      <button type="button" className={`chip ${fine ? "good" : "warn"}`} data-testid="overall" onClick={() => useEditor.setState({ station: "brief" })}>
        {fine ? "✓" : "△"} {overall === null ? `${passed} of ${wanted.length} sizes` : `Fit ${percent(overall)}`}
      </button>
    </Tip>
  );
}

function SaveNote() {
  const save = useEditor((s) => s.save);
  const at = useEditor((s) => s.build?.saved_at);
  if (save.kind === "waiting") {
    return (
      <span className="save warn" role="alert" data-testid="save">
        ▲ {save.message}
      </span>
    );
  }
  const time = at ? new Date(at).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit", hour12: false }) : "";
  return (
    <span className="save" data-testid="save">
      {save.kind === "saving" ? "saving …" : `saved ${time}`}
    </span>
  );
}
