import { Button, Checkbox, Select, Slider, Switch } from "antd";

import { keyOf } from "../../interaction/keys/commands";
import { focusView } from "../../interaction/focus";
import { type Frame, type Hold, type PivotKind, prefs, setSnap, type SnapKind, usePrefs } from "../../model/prefs";
import { cutBy } from "../../model/steps/heldPlanes";
import { editor, METRES, partOf, unitOf, useEditor } from "../../model/store";
import { Pop } from "../fields/Drop";
import { NumberField } from "../fields/NumberField";
import { run } from "./common";
import { CurveField } from "./CurveField";
import { Tip } from "../fields/Tip";

const SNAPS: readonly { key: SnapKind; title: string }[] = [
  { key: "grid", title: "grid" },
  { key: "vertex", title: "vertices" },
  { key: "edge", title: "edge middles" },
  { key: "face", title: "face centres" },
  { key: "board", title: "corners and middles of boards" },
  { key: "guide", title: "guides" },
  { key: "axes", title: "axes" },
  { key: "angle", title: "angle step" },
  { key: "scale", title: "scale step" },
];
const FRAMES: readonly { value: Frame; label: string }[] = [
  { value: "part", label: "part" },
  { value: "build", label: "build" },
  { value: "normal", label: "normal" },
];
const PIVOTS: readonly { value: PivotKind; label: string }[] = [
  { value: "pick", label: "pick" },
  { value: "each", label: "each piece" },
  { value: "part", label: "part's pivot" },
  { value: "origin", label: "origin" },
];
const HOLDS: readonly { value: Hold; label: string }[] = [
  { value: "x", label: "x = 0" },
  { value: "y", label: "y = 0" },
  { value: "z", label: "z = 0" },
];

/** Where a mirror cuts the part its plane is kept unless another is chosen, or none. */
function holds(cut: string | null): readonly { value: Hold; label: string }[] {
  if (cut === null) return [{ value: "none", label: "no plane" }, ...HOLDS];
  return [{ value: "none", label: `${cut} = 0, the mirror's` }, { value: "free", label: "no plane" }, ...HOLDS.filter((h) => h.value !== cut)];
}

/** How hands work: lasting switches, each told by its own word. */
export function OptionsRow() {
  const frame = usePrefs((p) => p.frame);
  const pivot = usePrefs((p) => p.pivot);
  const hold = usePrefs((p) => p.hold);
  const cut = useEditor((s) => cutBy(partOf(s, s.current)));
  const along = usePrefs((p) => p.alongEdges);
  const pivoting = useEditor((s) => s.pivoting);
  return (
    <div className="trayrow options">
      <Snap />
      <Soft />
      <Choice label="axes" tip="Handles lie along the part's own axes, the build's, or with z along the normal of what is picked" name="Axes of the handles" value={frame} options={FRAMES} put={(v) => prefs.set({ frame: v })} />
      <Choice label="about" tip="What turns and scales go about" name="What turns and scales go about" value={pivot} options={PIVOTS} put={(v) => prefs.set({ pivot: v })} />
      <Tip title={`Handles move the part's pivot (${keyOf("pivot")})`}>
        <Button className={pivoting ? "on" : ""} aria-pressed={pivoting} onClick={() => run("pivot")}>
          Pivot
        </Button>
      </Tip>
      <Choice label="keep on" tip="Points that lie on this plane stay on it, so that a half still meets its mirror image" name="Hold points to the middle plane" value={hold === cut || (hold === "free" && cut === null) ? "none" : hold} options={holds(cut)} chosen={hold === "none" && cut !== null ? `${cut} = 0` : undefined} put={(v) => prefs.set({ hold: v })} />
      <Lock />
      <Tip title={`Edges and vertices move along their edges only (${keyOf("along-edges")})`}>
        <Button className={along ? "on" : ""} aria-pressed={along} onClick={() => run("along-edges")}>
          Along edges
        </Button>
      </Tip>
    </div>
  );
}

function Choice<T extends string>({ label, tip, name, value, options, chosen, put }: { readonly label: string; readonly tip: string; readonly name: string; readonly value: T; readonly options: readonly { value: T; label: string }[]; readonly chosen?: string | undefined; readonly put: (value: T) => void }) {
  return (
    <span className="field">
      <Tip title={tip}>
        <span>{label}</span>
      </Tip>
      <Select<T> size="small" variant="borderless" className="choice" aria-label={name} popupMatchSelectWidth={false} value={value} options={[...options]} labelRender={({ label }) => chosen ?? label} onChange={(v) => { put(v); focusView(); }} />
    </span>
  );
}

/** With an axis locked, dragging anywhere moves along it. */
function Lock() {
  const lock = useEditor((s) => s.axisLock);
  return (
    <span className="field">
      lock
      {(["x", "y", "z"] as const).map((axis, i) => (
        <Tip key={axis} title={`Drag anywhere to move along ${axis} (${keyOf(`lock-${axis}`)})`}>
          <Button className={lock === i ? "axis on" : "axis"} aria-label={`Lock ${axis}`} aria-pressed={lock === i} onClick={() => { editor.set({ axisLock: lock === i ? null : (i as 0 | 1 | 2) }); focusView(); }}>
            {axis}
          </Button>
        </Tip>
      ))}
    </span>
  );
}

function Snap() {
  const snap = usePrefs((p) => p.snap);
  const gridStep = usePrefs((p) => p.gridStep);
  const angleStep = usePrefs((p) => p.angleStep);
  const scaleStep = usePrefs((p) => p.scaleStep);
  const unit = useEditor(unitOf);
  const metres = METRES[unit];
  const panel = (
    <div className="settings">
      {SNAPS.map((s) => (
        <Checkbox key={s.key} checked={snap[s.key]} onChange={(e) => setSnap({ [s.key]: e.target.checked })}>
          {s.title}
        </Checkbox>
      ))}
      <label className="row">
        <span>grid step</span>
        <NumberField label="Grid step" unit={unit} width={96} value={Number((gridStep / metres).toPrecision(9))} onCommit={(v) => v > 0 && prefs.set({ gridStep: v * metres })} />
      </label>
      <label className="row">
        <span>angle step</span>
        <NumberField label="Angle step" unit={null} suffix="°" width={96} value={angleStep} onCommit={(v) => v > 0 && prefs.set({ angleStep: v })} />
      </label>
      <label className="row">
        <span>scale step</span>
        <NumberField label="Scale step" unit={null} suffix="×" width={96} value={scaleStep} onCommit={(v) => v > 0 && prefs.set({ scaleStep: v })} />
      </label>
      <p className="muted">Ctrl turns snapping about for one drag.</p>
    </div>
  );
  return (
    <span className="pair">
      <Tip title={`Snap to what is switched on beside (${keyOf("snap")})`}>
        <Button className={snap.on ? "on" : ""} aria-pressed={snap.on} onClick={() => run("snap")}>
          {snap.on ? "Snap on" : "Snap off"}
        </Button>
      </Tip>
      <Pop trigger="click" placement="topLeft" title="Snap to" content={panel} onOpenChange={(open) => !open && focusView()}>
        <Button aria-label="What to snap to">▾</Button>
      </Pop>
    </span>
  );
}

function Soft() {
  const soft = usePrefs((p) => p.soft);
  const unit = useEditor(unitOf);
  const metres = METRES[unit];
  const set = (values: Partial<typeof soft>) => prefs.set({ soft: { ...prefs.get().soft, ...values } });
  const panel = (
    <div className="settings">
      <label className="row">
        <span>radius</span>
        <NumberField label="Soft radius" unit={unit} width={96} value={Number((soft.radius / metres).toPrecision(9))} onCommit={(v) => v > 0 && set({ radius: v * metres })} />
      </label>
      <label className="row">
        <span>fullness</span>
        <NumberField label="Soft fullness" unit={null} width={96} value={soft.fullness} disabled={soft.curve !== null} onCommit={(v) => set({ fullness: Math.min(Math.max(v, 0), 1) })} />
      </label>
      <Slider aria-label="Fullness of soft selection" min={0} max={1} step={0.01} value={soft.fullness} disabled={soft.curve !== null} onChange={(fullness) => set({ fullness })} />
      <CurveField curve={soft.curve} fullness={soft.fullness} onChange={(curve) => set({ curve })} />
      <label className="row">
        <span>along the surface</span>
        <Switch size="small" aria-label="Along the surface" checked={soft.connected} onChange={(connected) => set({ connected })} />
      </label>
    </div>
  );
  return (
    <span className="pair">
      <Tip title={`What lies near follows the pick (${keyOf("soft")})`}>
        <Button className={soft.on ? "on" : ""} aria-pressed={soft.on} onClick={() => run("soft")}>
          Soft
        </Button>
      </Tip>
      <Pop trigger="click" placement="topLeft" title="Soft selection" content={panel} onOpenChange={(open) => !open && focusView()}>
        <Button aria-label="How soft selection falls off">▾</Button>
      </Pop>
    </span>
  );
}
