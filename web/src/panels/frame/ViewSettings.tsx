import { Button, Segmented, Switch } from "antd";

import { focusView } from "../../interaction/focus";
import { cutOpen } from "../../interaction/viewing";
import { prefs, type Prefs, setShown, usePrefs } from "../../model/prefs";
import { editor, METRES, unitOf, useEditor } from "../../model/store";
import { applyColours, type ColourName, token } from "../../theme/theme";
import { Pop } from "../fields/Drop";
import { Icon } from "../fields/Icon";
import { NumberField } from "../fields/NumberField";
import { Tip } from "../fields/Tip";

const SHOWN: readonly { key: keyof Prefs["shown"]; title: string }[] = [
  { key: "grid", title: "grid" },
  { key: "floor", title: "floor and shadow" },
  { key: "origin", title: "axes through the origin" },
  { key: "axes", title: "axis letters" },
  { key: "lines", title: "projection lines of the pick" },
  { key: "sizes", title: "sizes" },
  { key: "guides", title: "guides" },
  { key: "fit", title: "outline against the boards" },
];
const COLOURS: readonly { key: ColourName; title: string; variable: string }[] = [
  { key: "cage", title: "cage", variable: "model-edge" },
  { key: "pick", title: "pick", variable: "pick" },
  { key: "surface", title: "surface", variable: "model" },
];

/** What the views show beside the model, the section, the pointer's kind, and the colours. */
export function ViewSettings() {
  return (
    <Pop trigger="click" placement="bottomRight" title="Views" content={<Settings />} onOpenChange={(open) => !open && focusView()}>
      <Tip title="What the views show">
        <Button size="small" type="text" aria-label="View settings" icon={<Icon name="settings" size={16} />} />
      </Tip>
    </Pop>
  );
}

function Settings() {
  const shown = usePrefs((p) => p.shown);
  const pointer = usePrefs((p) => p.pointer);
  const coarse = usePrefs((p) => p.coarse);
  const colours = usePrefs((p) => p.colours);
  const section = useEditor((s) => s.section);
  const unit = useEditor(unitOf);
  const metres = METRES[unit];
  const paint = (key: ColourName, value: string | undefined) => {
    const { [key]: _, ...rest } = prefs.get().colours;
    const next = value === undefined ? rest : { ...rest, [key]: value };
    applyColours(next);
    prefs.set({ colours: next });
  };
  return (
    <div className="settings">
      {SHOWN.map((s) => (
        <label className="row" key={s.key}>
          <span>{s.title}</span>
          <Switch size="small" aria-label={s.title} checked={shown[s.key]} onChange={(on) => setShown({ [s.key]: on })} />
        </label>
      ))}
      <h3>Section</h3>
      <div className="row">
        <span>cut open across</span>
        <span>
          {(["x", "y", "z"] as const).map((axis, i) => (
            <Button key={axis} size="small" className={section?.axis === i ? "on" : ""} aria-label={`Section across ${axis}`} aria-pressed={section?.axis === i} onClick={() => cutOpen(i as 0 | 1 | 2)}>
              {axis}
            </Button>
          ))}
          <Button size="small" type="text" disabled={section === null} onClick={() => editor.set({ section: null })}>
            close
          </Button>
        </span>
      </div>
      {section !== null && (
        <>
          <label className="row">
            <span>at</span>
            <NumberField label="Section at" unit={unit} width={110} value={Number((section.at / metres).toPrecision(9))} onTry={(v) => editor.set({ section: { ...section, at: v * metres } })} onCommit={(v) => editor.set({ section: { ...section, at: v * metres } })} />
          </label>
          <label className="row">
            <span>take the lower side away</span>
            <Switch size="small" aria-label="Take the lower side away" checked={section.below} onChange={(below) => editor.set({ section: { ...section, below } })} />
          </label>
        </>
      )}
      <h3>Pointer</h3>
      <Segmented<"mouse" | "trackpad"> size="small" aria-label="Pointer" value={pointer} options={[{ value: "mouse", label: "Mouse" }, { value: "trackpad", label: "Trackpad" }]} onChange={(v) => prefs.set({ pointer: v })} />
      <p className="muted">{pointer === "mouse" ? "The wheel zooms to the pointer." : "Two fingers shift the view, a pinch zooms."}</p>
      <h3>Drawing</h3>
      <label className="row">
        <span>coarse, for a machine that draws slowly</span>
        <Switch size="small" aria-label="Coarse drawing" checked={coarse} onChange={(on) => prefs.set({ coarse: on })} />
      </label>
      <h3>Colours</h3>
      {COLOURS.map((c) => (
        <label className="row" key={c.key}>
          <span>{c.title}</span>
          <span>
            <input type="color" aria-label={`Colour of the ${c.title}`} value={colours[c.key] ?? token(c.variable)} onChange={(e) => paint(c.key, e.target.value)} />
            <Button size="small" type="text" disabled={colours[c.key] === undefined} onClick={() => paint(c.key, undefined)}>
              as it was
            </Button>
          </span>
        </label>
      ))}
    </div>
  );
}
