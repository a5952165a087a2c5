import { Button } from "antd";
import { useState } from "react";

import type { Board } from "../../api/client";
import { suggestNudge } from "../../interaction/brief";
import { focusView } from "../../interaction/focus";
import { useAsking } from "../../model/asking";
import { type BoardFit, useBrief } from "../../model/brief";
import { outlineInPlane } from "../../model/plane";
import { setShown, usePrefs } from "../../model/prefs";
import { boardsOf, METRES, unitOf, useEditor } from "../../model/store";
import { lengthText, shownUnit, steady } from "../../model/units";
import { boardTitle } from "./BoardsSection";
import { Tip } from "../Tip";

const WIDTH = 228;
const HEIGHT = 136;

export function percent(share: number): string {
  return `${(Math.floor(share * 1000) / 10).toFixed(1)} %`;
}

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
      {fit === undefined ? <p className="muted">Nothing of the model is seen in this view yet.</p> : <Figures board={board} fit={fit} />}
    </>
  );
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
        mean <strong>{lengthText(Number(fit.mean.toPrecision(3)))}</strong>, worst <strong>{lengthText(Number(fit.worst.toPrecision(3)))}</strong>
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
            {lengthText(Number(fit.worst.toPrecision(2)))}
          </text>
        </>
      )}
    </svg>
  );
}
