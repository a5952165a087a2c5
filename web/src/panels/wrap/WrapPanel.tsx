import { Button, Segmented, Select, Switch } from "antd";
import { useState } from "react";

import { backToView } from "../../interaction/focus";
import { startWord } from "../../interaction/keys/startKind";
import { hold, holdWhatGoesOut, letGo, packing } from "../../interaction/wrap/hold";
import { oneSquare } from "../../interaction/wrap/oneSquare";
import { align, type Alignment, evenOut, unwrapRound } from "../../interaction/wrap/pieces";
import { raisePicture } from "../../interaction/wrap/raise";
import { accept } from "../../interaction/session/storing";
import { addStep, freeName } from "../../model/document/intents";
import { find, setPick } from "../../model/picks/picks";
import { editor, partOf, useEditor } from "../../model/store";
import { counted } from "../../model/units";
import { sharing } from "../../model/wrap/sharing";
import { useLaid } from "../../model/wrap/layout";
import { change, tell } from "../../sync/build";
import { suggestedSeams } from "../../sync/layout";
import { Drop } from "../fields/Drop";
import { PictureChoice } from "../fields/PictureChoice";
import { Findings } from "../shape/Findings";
import { Patterns } from "./Patterns";

/** What sets pieces in line. */
const ALIGN: readonly (readonly [Alignment, string])[] = [
  ["left", "By their left sides"],
  ["centre", "One above the other"],
  ["right", "By their right sides"],
  ["bottom", "By their lower sides"],
  ["middle", "In a row"],
  ["top", "By their upper sides"],
];
const SIZES = [512, 1024, 2048, 4096, 8192];

/** Mark the picked edges as seams, or take the mark off them. */
async function seam(on: boolean): Promise<void> {
  await accept();
  const { pick } = editor.get();
  const part = partOf(editor.get(), pick?.part ?? null);
  if (pick === null || pick.kind !== "edges" || part?.id == null) return tell("seams are edges; pick edges first, by E in the views or on the square");
  const id = freeName("seam", (part.steps ?? []).map((s) => s.id));
  await change(on ? "Seam" : "Seam taken off", addStep(part.id, { id, kind: "seam", pick: { edges: { ids: [...pick.ids] } }, ...(on ? {} : { on: false }) }));
}

/** Pick the edges that would open the part where it shows least; they are marked by a press more. */
async function suggest(): Promise<void> {
  await accept();
  const { current, meshes } = editor.get();
  const mesh = current === null ? undefined : meshes[current]?.mesh.cage;
  if (current === null || mesh === undefined) return;
  const ids = await suggestedSeams(current);
  if (ids.length === 0) tell("no further cut suggests itself; unwrap the part, and what is still bent shows as stretch");
  else setPick(current, "edges", find(mesh, "edges", ids));
}

const go = (word: string) => void startWord(word).then(backToView);

/** How the part at hand lies on the texture square, what lays it out, and the layout as a picture. */
export function WrapPanel() {
  const part = useEditor((s) => partOf(s, s.current));
  const build = useEditor((s) => s.build);
  const edges = useEditor((s) => (s.pick?.kind === "edges" ? s.pick.elements.length : 0));
  const checker = useEditor((s) => s.checker);
  const laid = useLaid();
  const [size, setSize] = useState(2048);
  const [fill, setFill] = useState<"outlined" | "filled">("outlined");
  const figures = laid.part === part?.id ? (laid.layout?.figures ?? null) : null;
  if (build === null || part === null) return <section aria-label="Wrap"><h2>Wrap</h2><p className="muted">Make a part first.</p></section>;
  const file = (format: string, depth = "8") => `/api/builds/${build.id}/layout?format=${format}&size=${size}&depth=${depth}&fill=${fill === "filled"}&${sharing(part, build.document.parts ?? []).map((id) => `of=${encodeURIComponent(id)}`).join("&")}`;
  const held = (packing(part.id ?? "")?.held ?? 0) > 0;
  const goesOut = () => void holdWhatGoesOut(part.id ?? "");
  return (
    <section aria-label="Wrap">
      <h2>Seams</h2>
      <div className="wraprow">
        <Button size="small" onClick={() => void seam(true).then(backToView)}>Mark seam</Button>
        <Button size="small" onClick={() => void seam(false).then(backToView)}>Take seam off</Button>
        <Button size="small" onClick={() => void suggest().then(backToView)}>Suggest</Button>
      </div>
      <p className="muted small">{edges > 0 ? `${counted(edges)} ${edges === 1 ? "edge" : "edges"} picked` : "Pick edges, or let the hidden and the sharp ones be suggested."}</p>
      <h2>Lay out</h2>
      <div className="wraprow">
        <Button size="small" type={figures === null ? "primary" : "default"} onClick={() => go("unwrap")}>Unwrap</Button>
        {figures !== null && <Button size="small" title="Lay pieces out anew round what is picked, which stays where it lies" onClick={() => void unwrapRound().then(backToView)}>Unwrap round it</Button>}
        <Button size="small" onClick={() => go("project")}>Project</Button>
        <Button size="small" onClick={() => go("pack")}>Pack</Button>
        <Button size="small" onClick={() => go("straighten_uv")}>Straighten band</Button>
        <Button size="small" onClick={() => go("uv_transform")}>Turn, move</Button>
        <Drop trigger={["click"]} menu={{ items: ALIGN.map(([key, label]) => ({ key, label })), onClick: ({ key }) => void align(key as Alignment).then(backToView) }}>
          <Button size="small">In line ▾</Button>
        </Drop>
        <Button size="small" onClick={() => void evenOut().then(backToView)}>One density</Button>
        <Button size="small" title="Chosen parts beside each other on one square, at one density" onClick={() => void oneSquare().then(backToView)}>One square</Button>
      </div>
      {figures !== null && (
        <>
          <h2>{part.name} on the square</h2>
          <dl className="figures">
            <dt>pieces</dt>
            <dd>{counted(figures.islands)}</dd>
            <dt>covered</dt>
            <dd>{(figures.coverage * 100).toFixed(1)} %</dd>
            <dt>density</dt>
            <dd>{figures.density.mean.toPrecision(4)} px/cm</dd>
            <dt>stretch</dt>
            <dd>{figures.stretch.mean.toFixed(3)}, worst {figures.stretch.worst < 1000 ? figures.stretch.worst.toFixed(2) : "flat"}</dd>
            <dt>turned over</dt>
            <dd>{figures.turned === 0 ? "none" : `${counted(figures.turned)} faces`}</dd>
            <dt>lie over others</dt>
            <dd>{figures.overlap === 0 ? "none" : `${(figures.overlap * 100).toFixed(2)} %`}</dd>
          </dl>
          <div className="row">
            <span>hatching</span>
            <Segmented<"pieces" | "stretch"> size="small" aria-label="What hatching shows" value={laid.shows} options={[{ value: "pieces", label: "pick" }, { value: "stretch", label: "stretch" }]} onChange={(shows) => useLaid.setState({ shows })} />
          </div>
          <label className="row">
            <span>squares on the model</span>
            <Switch size="small" aria-label="Squares on the model" checked={checker} onChange={(on) => editor.set({ checker: on })} />
          </label>
          <label className="row">
            <span title="What changes upstream then moves none of them; new ones go round them">pieces stay where they lie</span>
            <Switch size="small" aria-label="Pieces stay where they lie" checked={held} onChange={(on) => void (on ? hold(part.id ?? "") : letGo(part.id ?? "")).then(backToView)} />
          </label>
          <h2>Layout picture</h2>
          <div className="row">
            <span>pixels a side</span>
            <Select size="small" aria-label="Pixels a side" value={size} style={{ width: 90 }} options={SIZES.map((s) => ({ value: s, label: counted(s) }))} onChange={setSize} />
          </div>
          <div className="row">
            <span>pieces</span>
            <Segmented<"outlined" | "filled"> size="small" aria-label="Pieces" value={fill} options={["outlined", "filled"]} onChange={setFill} />
          </div>
          <p className="muted small">Painted, it is dropped on the square, or <PictureChoice label="Painted picture" onPicture={(picture) => void raisePicture(picture).then(backToView)}>chosen here</PictureChoice>: its greys are raised where they lie. Dropped again, it takes the place of the picture of the relief that is open.</p>
          <div className="wraprow">
            <Button size="small" href={file("png")} download onClick={goesOut}>PNG</Button>
            <Button size="small" href={file("png", "16")} download onClick={goesOut}>PNG, 16 bits</Button>
            <Button size="small" href={file("svg")} download onClick={goesOut}>SVG</Button>
          </div>
        </>
      )}
      <Patterns />
      <Findings />
    </section>
  );
}
