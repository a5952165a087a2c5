import { Button } from "antd";
import { useState } from "react";

import type { Board } from "../../api/client";
import { suggestNudge } from "../../interaction/brief/driveSizes";
import { focusView } from "../../interaction/focus";
import { useAsking } from "../../model/session/asking";
import { type BoardFit, useBrief } from "../../model/brief/boardFit";
import { outlineInPlane } from "../../model/places/boardPlane";
import { setBoards } from "../../model/document/intents";
import { isSet } from "../../model/document/parts";
import { setShown, usePrefs } from "../../model/prefs";
import { boardsOf, groupsOf, METRES, unitOf, useEditor } from "../../model/store";
import { apartText, percent, shownUnit, steady } from "../../model/units";
import { change } from "../../sync/build";
import { boardTitle } from "./BoardsSection";
import { Tip } from "../fields/Tip";

const WIDTH = 228;
const HEIGHT = 136;

/** The model's outline against the chosen board's, drawn and in figures. */
export function FitSection() {
  const boards = useEditor(boardsOf);
  const chosen = useAsking((s) => s.board);
  const fits = useBrief((s) => s.boards);
  const board = boards.find((b) => b.id === chosen && b.outline) ?? boards.find((b) => fits[b.id] !== undefined);
  if (board === undefined) {
    if (boards.length === 0) return null;
    return (
      <>
        <h2>Outline against the picture</h2>
        <p className="muted">Take a board's outline (Outline …): then the model is measured against it.</p>
      </>
    );
  }
  const fit = fits[board.id];
  return (
    <>
      <h2>Outline against {boardTitle(board)}</h2>
      <Beyond />
      <Hidden board={board} />
      {fit === undefined ? <p className="muted">Nothing of the model is seen in this view yet.</p> : <Figures board={board} fit={fit} />}
    </>
  );
}

/** A part that came in and reaches beyond what boards hold: whether they show it is asked once, for all of them. */
function Beyond() {
  const build = useEditor((s) => s.build);
  const fits = useBrief((s) => s.boards);
  const added = useBrief((s) => s.added);
  const parts = build?.document.parts ?? [];
  const part = parts.find((p) => p.id != null && added.includes(p.id) && Object.values(fits).some((f) => f.beyond.includes(p.id as string)));
  if (build === null || part?.id == null) return null;
  const id = part.id;
  const boards = (build.document.boards ?? []).filter((b) => fits[b.id]?.beyond.includes(id) === true);
  const done = () => {
    useBrief.setState({ added: added.filter((a) => a !== id) });
    focusView();
  };
  const leaveOut = () => {
    done();
    const others = parts.flatMap((p) => (p.id == null || p.id === id ? [] : [p.id]));
    void change(`Leave ${part.name} out of boards`, setBoards(boards.map((b) => [b.id, { parts: b.parts?.length ? b.parts.filter((p) => p !== id) : others }])));
  };
  return (
    <div className="asking" role="group" aria-label="What the boards show">
      <p>
        {part.name} reaches beyond the outline of {boards.map(boardTitle).join(" and ")}. Do the pictures show it?
      </p>
      <div className="actions">
        <Button size="small" onClick={done}>They show it</Button>
        <Button size="small" onClick={leaveOut}>Leave it out there</Button>
      </div>
    </div>
  );
}

/** Hidden parts are not judged, and it is said. */
function Hidden({ board }: { readonly board: Board }) {
  const parts = useEditor((s) => s.build?.document.parts);
  const groups = useEditor(groupsOf);
  if (board.parts?.length) return null; // told by name
  const hidden = (parts ?? []).filter((p) => isSet(p, groups, "hidden"));
  return hidden.length === 0 ? null : <p className="muted small" title={hidden.map((p) => p.name).join(", ")}>{hidden.length === 1 ? `${hidden[0]?.name} is hidden and not judged.` : `${hidden.length} hidden parts are not judged.`}</p>;
}

function Figures({ board, fit }: { readonly board: Board; readonly fit: BoardFit }) {
  const shown = usePrefs((p) => p.shown.fit);
  const unit = useEditor(unitOf);
  const display = useEditor(shownUnit);
  const picked = useEditor((s) => s.pick !== null);
  const trial = useBrief((s) => s.trial);
  const [seeking, setSeeking] = useState(false);
  const at = fit.worstAt === null ? "" : ` at ${fit.worstAt.map((v) => steady(Number((v / METRES[display]).toFixed(2)))).join(", ")}`;
  return (
    <>
      <Deviation board={board} fit={fit} metres={METRES[unit]} />
      <p data-testid="fit" title="Distances between the outlines, there and back, the larger of the two">
        mean <strong>{apartText(fit.mean)}</strong>, worst <strong>{apartText(fit.worst)}</strong>
        <span className="muted">{at}</span>
      </p>
      <p>
        <strong data-testid="shared">{percent(fit.iou)}</strong> <span className="muted">shared area{trial ? ", of the trial" : ""}</span>
      </p>
      <div className="actions">
        <Tip title={picked ? "The move of what is picked that fits best, as a trial to accept" : "Pick vertices on the outline first"}>
          <Button size="small" loading={seeking} onClick={() => { setSeeking(true); void suggestNudge(board.id).finally(() => setSeeking(false)); focusView(); }}>Suggest a nudge</Button>
        </Tip>
        <Button size="small" className={shown ? "on" : ""} aria-pressed={shown} onClick={() => setShown({ fit: !shown })}>Show in views</Button>
      </div>
      <p className="muted small">Outlines are judged. Detail lines inside them are not.{trustText(board)}</p>
    </>
  );
}

function trustText(board: Board): string {
  const start = board.trust?.start ?? "all";
  return start === "all" && (board.trust?.strokes?.length ?? 0) === 0 ? "" : " Figures go by the trusted part of the picture alone.";
}

/** Both outlines and what lies between them, small. */
function Deviation({ board, fit, metres }: { readonly board: Board; readonly fit: BoardFit; readonly metres: number }) {
  const picture = outlineInPlane(board).map((ring) => ring.map(([x, y]) => [x * metres, y * metres] as const));
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  const reach = (x: number, y: number) => {
    x0 = Math.min(x0, x);
    x1 = Math.max(x1, x);
    y0 = Math.min(y0, y);
    y1 = Math.max(y1, y);
  };
  for (const ring of picture) for (const [x, y] of ring) reach(x, y);
  for (let i = 0; i < fit.off.length; i++) reach(fit.points[2 * i]!, fit.points[2 * i + 1]!);
  const scale = Math.min((WIDTH - 20) / Math.max(x1 - x0, 1e-9), (HEIGHT - 20) / Math.max(y1 - y0, 1e-9));
  const px = (x: number) => (WIDTH / 2 + (x - (x0 + x1) / 2) * scale).toFixed(1);
  const py = (y: number) => (HEIGHT / 2 - (y - (y0 + y1) / 2) * scale).toFixed(1);
  const drawn = picture.map((ring) => `M${ring.map(([x, y]) => `${px(x)} ${py(y)}`).join("L")}Z`).join("");
  const [fine, out, into]: string[][] = [[], [], []];
  let start = 0;
  for (let i = 0; i < fit.off.length; i++) {
    const last = i + 1 === fit.off.length || fit.ring[i + 1] !== fit.ring[i];
    const j = last ? start : i + 1;
    if (last) start = i + 1;
    const off = (fit.off[i]! + fit.off[j]!) / 2;
    (Math.abs(off) * scale < 0.7 ? fine : off > 0 ? out : into)!.push(`M${px(fit.points[2 * i]!)} ${py(fit.points[2 * i + 1]!)}L${px(fit.points[2 * j]!)} ${py(fit.points[2 * j + 1]!)}`);
  }
  const worst = fit.worstAt;
  return (
    <svg className="deviation" viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="img" aria-label="The model's outline against the picture's: whole berry lines lie outside it, dashed teal ones inside">
      <path d={drawn} fill="var(--table)" stroke="var(--muted)" strokeWidth={0.8} fillRule="evenodd" />
      <path d={fine!.join("")} stroke="var(--mark)" strokeWidth={1} fill="none" />
      <path d={into!.join("")} stroke="var(--mark)" strokeWidth={2.4} strokeDasharray="4 2" fill="none" />
      <path d={out!.join("")} stroke="var(--pick)" strokeWidth={2.4} fill="none" />
      {worst !== null && fit.worst > 0 && (
        <>
          <circle cx={px(worst[0])} cy={py(worst[1])} r={5} fill="none" stroke="var(--ink)" strokeWidth={1.2} />
          <text x={Number(px(worst[0])) > WIDTH * 0.6 ? Number(px(worst[0])) - 9 : Number(px(worst[0])) + 9} y={Math.max(Number(py(worst[1])) - 6, 12)} textAnchor={Number(px(worst[0])) > WIDTH * 0.6 ? "end" : "start"}>
            {apartText(fit.worst)}
          </text>
        </>
      )}
    </svg>
  );
}
