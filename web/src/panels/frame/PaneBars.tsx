import { Button, Segmented } from "antd";

import { focusView } from "../../interaction/focus";
import { frame, look, swapSide } from "../../interaction/viewing";
import { type PaneLook, setLook, type Shading, type Showing, type Slot, slotOf, usePrefs } from "../../model/prefs";
import { useEditor, type ViewName } from "../../model/store";
import { FLAT_VIEWS, VIEW_TITLES } from "../../model/views";
import { Drop } from "../fields/Drop";
import { Icon } from "../fields/Icon";
import { ViewSettings } from "./ViewSettings";
import { Tip } from "../fields/Tip";

const SHADINGS: readonly { key: Shading; title: string }[] = [
  { key: "solid", title: "Solid" },
  { key: "flat", title: "Flat tone" },
  { key: "ghost", title: "Ghost" },
  { key: "wire", title: "Wire" },
];
const SHOWINGS: readonly { key: Showing; title: string }[] = [
  { key: "both", title: "Surface with its cage" },
  { key: "surface", title: "Surface alone" },
  { key: "cage", title: "Cage alone" },
  { key: "beside", title: "Surface beside the cage" },
];

/** What stands over the views: which one it is, how it is drawn, and what may be changed of that. */
export function PaneBars() {
  const layout = usePrefs((p) => p.layout);
  return layout === "one" ? <OneBar /> : <SheetBars />;
}

function OneBar() {
  const view = useEditor((s) => s.view);
  const lookFrom = (to: ViewName) => {
    look(to);
    focusView();
  };
  return (
    <div className="viewbar">
      <Segmented<ViewName> size="small" aria-label="View" value={view} onChange={lookFrom} options={(["perspective", ...FLAT_VIEWS] as ViewName[]).map((v) => ({ value: v, label: VIEW_TITLES[v] }))} />
      <LookMenu slot={slotOf(view)} title={VIEW_TITLES[view]} />
      <FrameAll />
      <ViewSettings />
    </div>
  );
}

function FrameAll() {
  return (
    <Tip title="Show everything (A)">
      <Button size="small" type="text" aria-label="Show everything" icon={<Icon name="frame" size={16} />} onClick={() => { frame(); focusView(); }} />
    </Tip>
  );
}

function SheetBars() {
  const sides = usePrefs((p) => p.sides);
  const [x, y] = usePrefs((p) => p.split);
  const bars: readonly { slot: Slot; view: ViewName; left: number; top: number }[] = [
    { slot: "top", view: sides.top, left: 0, top: 0 },
    { slot: "solid", view: "perspective", left: x, top: 0 },
    { slot: "front", view: sides.front, left: 0, top: y },
    { slot: "right", view: sides.right, left: x, top: y },
  ];
  return (
    <>
      {bars.map((b) => (
        <div key={b.slot} className="panebar" style={{ left: `calc(${b.left * 100}% + 6px)`, top: `calc(${b.top * 100}% + 5px)` }}>
          {b.view === "perspective" ? (
            <span className="paneview">{VIEW_TITLES[b.view]}</span>
          ) : (
            <Tip title="Look from the opposite side">
              <button type="button" className="paneview" aria-label={`${VIEW_TITLES[b.view]}: look from the opposite side`} onClick={() => { swapSide(b.view); focusView(); }}>
                {VIEW_TITLES[b.view]}
              </button>
            </Tip>
          )}
          <LookMenu slot={b.slot} title={VIEW_TITLES[b.view]} />
          <Tip title="This view alone (O)">
            <Button size="small" type="text" aria-label={`${VIEW_TITLES[b.view]} alone`} icon={<Icon name="alone" size={14} />} onClick={() => { look(b.view); focusView(); }} />
          </Tip>
          {b.slot === "solid" && (
            <>
              <FrameAll />
              <ViewSettings />
            </>
          )}
        </div>
      ))}
    </>
  );
}

/** How one place of the sheet is drawn. */
function LookMenu({ slot, title }: { readonly slot: Slot; readonly title: string }) {
  const held = usePrefs((p) => p.looks[slot]);
  const set = (values: Partial<PaneLook>) => {
    setLook(slot, values);
    focusView();
  };
  const mark = (on: boolean, text: string) => (
    <span className="menurow">
      {text} <span>{on ? "✓" : ""}</span>
    </span>
  );
  const shading = SHADINGS.find((s) => s.key === held.shading)?.title ?? "";
  return (
    <Drop
      trigger={["click"]}
      menu={{
        items: [
          { key: "shading", type: "group", label: "Shading", children: SHADINGS.map((s) => ({ key: s.key, label: mark(held.shading === s.key, s.title), onClick: () => set({ shading: s.key }) })) },
          { key: "showing", type: "group", label: "Of a smooth part", children: SHOWINGS.map((s) => ({ key: s.key, label: mark(held.showing === s.key, s.title), onClick: () => set({ showing: s.key }) })) },
          { key: "line", type: "divider" },
          { key: "edges", label: mark(held.edges, "Edges"), onClick: () => set({ edges: !held.edges }) },
        ],
      }}
    >
      <button type="button" className="panelook" aria-label={`Shading of ${title}`}>
        {shading} ▾
      </button>
    </Drop>
  );
}
