import { Button, Popconfirm } from "antd";
import { useEffect, useState } from "react";

import type { Board } from "../../api/client";
import { finishScale } from "../../interaction/brief/answerPoint";
import { matchToBounds } from "../../interaction/brief/matchBoard";
import { curveOfBoard } from "../../interaction/curves/followEdges";
import { backToView, focusValueField, focusView } from "../../interaction/focus";
import { bring } from "../../interaction/viewing";
import { ask, asking, askText, useAsking, wantsNumber } from "../../model/session/asking";
import { useBrief } from "../../model/brief/boardFit";
import { removeBoard, setBoard } from "../../model/document/intents";
import { cropOf, viewOf } from "../../model/places/boardPlane";
import { boardsOf, isLocked, unitOf, useEditor } from "../../model/store";
import { lengthText, shown, toShown } from "../../model/units";
import { VIEW_TITLES } from "../../model/views";
import { change } from "../../sync/build";
import { Icon } from "../fields/Icon";
import { PictureChoice } from "../fields/PictureChoice";
import { NumberField } from "../fields/NumberField";
import { useValueField } from "../fields/useValueField";
import { BlueprintDialog } from "./BlueprintDialog";
import { BoardDetails } from "./BoardDetails";
import { Cropped } from "./Cropped";
import { OutlineDialog } from "./OutlineDialog";
import { StraightenDialog } from "./StraightenDialog";
import { Tip } from "../fields/Tip";

export function boardTitle(board: Board): string {
  const view = viewOf(board);
  return view === null ? "Free" : VIEW_TITLES[view];
}

/** The pictures a build must match, and what can be done to the one chosen. */
export function BoardsSection({ onPicture }: { readonly onPicture: (file: File) => void }) {
  const boards = useEditor(boardsOf);
  const chosen = useAsking((s) => s.board);
  const board = boards.find((b) => b.id === chosen) ?? boards[0];
  return (
    <>
      <h2>
        Boards
        <PictureChoice label="Picture file" onPicture={onPicture}>+ Picture</PictureChoice>
      </h2>
      {boards.length === 0 && (
        <div className="teach">Drop a PNG, JPEG or WebP on a view. It stands in that view's plane at the width you type, or scaled by a length you know.</div>
      )}
      <div className="boards">
        {boards.map((b) => (
          <Thumb key={b.id} board={b} here={b.id === board?.id} />
        ))}
      </div>
      {board !== undefined && <Chosen key={board.id} board={board} />}
    </>
  );
}

function Thumb({ board, here }: { readonly board: Board; readonly here: boolean }) {
  const fit = useBrief((s) => s.boards[board.id]);
  return (
    <button
      type="button"
      className={here ? "board here" : "board"}
      aria-pressed={here}
      title={board.name}
      onClick={() => {
        asking.set({ board: board.id });
        bring(viewOf(board) ?? "perspective");
      }}
    >
      <Cropped src={`/api/pictures/${board.picture}`} crop={cropOf(board)} opacity={board.hidden ? 0.3 : 1} />
      <span className="caption">
        {boardTitle(board)}
        {fit !== undefined && <strong className={fit.iou >= 0.95 ? "good" : "warn"} title={`mean distance ${lengthText(fit.mean)}`}>{fit.iou >= 0.95 ? "" : "△ "}{briefly(fit.mean)}</strong>}
      </span>
    </button>
  );
}

/** Two digits of a length, as the figure under a picture. */
function briefly(value: number): string {
  return shown(Number(toShown(value).toPrecision(2)));
}

type Dialog = "outline" | "straighten" | "cut" | null;

function Chosen({ board }: { readonly board: Board }) {
  const open = useAsking((s) => s.details);
  const [dialog, setDialog] = useState<Dialog>(null);
  const leave = () => {
    setDialog(null);
    setTimeout(backToView);
  };
  const set = (label: string, values: Partial<Board>) => void change(label, setBoard(board.id, values), `board/${board.id}/${Object.keys(values)[0]}`);
  const flat = viewOf(board) !== null;
  const bySide = () => bring(viewOf(board) ?? "perspective");
  return (
    <div className="details">
      <div className="row">
        <strong className="ellipsis" title={board.name}>{board.name}</strong>
        <span className="icons">
          <Tip title={board.hidden ? "Show" : "Hide"}>
            <Button type="text" size="small" aria-label={board.hidden ? "Show board" : "Hide board"} icon={<Icon name={board.hidden ? "unseen" : "seen"} size={16} />} onClick={() => set("Show or hide board", { hidden: !board.hidden })} />
          </Tip>
          <Tip title={isLocked(board) ? "Unlock: then its border moves it, corners scale, the knob turns, bars crop" : "Lock"}>
            <Button type="text" size="small" aria-label={isLocked(board) ? "Unlock board" : "Lock board"} icon={<Icon name={isLocked(board) ? "locked" : "unlocked"} size={16} />} onClick={() => set("Lock or unlock board", { locked: !isLocked(board) })} />
          </Tip>
          <Popconfirm title="Take this board away?" okText="Take away" onConfirm={() => void change("Remove board", removeBoard(board.id))}>
            <Button type="text" size="small" aria-label="Remove board" icon={<Icon name="bin" size={16} />} />
          </Popconfirm>
        </span>
      </div>
      <div className="actions">
        {flat && (
          <>
            <Tip title="Click two points of the picture and type how far apart they really are">
              <Button size="small" onClick={() => { bySide(); ask({ kind: "scale", board: board.id, points: [] }); }}>Scale</Button>
            </Tip>
            <Tip title="Click a point of the picture and where it belongs: on another board, the model or a guide">
              <Button size="small" onClick={() => { bySide(); ask({ kind: "line up", board: board.id, points: [] }); }}>Line up</Button>
            </Tip>
            <Tip title="Fit the picture's outline to the box of the current part">
              <Button size="small" disabled={!board.outline} onClick={() => void matchToBounds(board)}>Match</Button>
            </Tip>
          </>
        )}
        {flat && <Button size="small" className={board.outline ? "" : "wanted"} onClick={() => setDialog("outline")}>Outline …</Button>}
        {board.outline && <Tip title="A new part that is the outline, thinned"><Button size="small" onClick={() => void curveOfBoard(board.id).then(backToView)}>As a curve</Button></Tip>}
        <Button size="small" onClick={() => setDialog("straighten")}>Straighten …</Button>
        {flat && (
          <Tip title="Several views on one drawing become boards of one scale">
            <Button size="small" onClick={() => setDialog("cut")}>Cut up …</Button>
          </Tip>
        )}
        <Button size="small" type="text" aria-expanded={open} onClick={() => asking.set({ details: !open })}>{open ? "Less ▴" : "Place ▾"}</Button>
      </div>
      <AskRow board={board} />
      <Width board={board} />
      {open && <BoardDetails board={board} />}
      {dialog === "outline" && <OutlineDialog board={board} onClose={leave} />}
      {dialog === "straighten" && <StraightenDialog board={board} onClose={leave} />}
      {dialog === "cut" && <BlueprintDialog board={board} onClose={leave} />}
    </div>
  );
}

function Width({ board }: { readonly board: Board }) {
  const unit = useEditor(unitOf);
  return (
    <label className="row">
      <span>width of the picture</span>
      <NumberField label="Board width" unit={unit} width={104} value={board.width} onCommit={(width) => width > 0 && void change("Scale board", setBoard(board.id, { width }), `board/${board.id}/width`)} />
    </label>
  );
}

/** What is being asked for, and the real length once two points are there. */
function AskRow({ board }: { readonly board: Board }) {
  const what = useAsking((s) => s.asking);
  const unit = useEditor(unitOf);
  const ready = wantsNumber(what);
  const ref = useValueField(ready);
  useEffect(() => {
    if (ready) focusValueField(); // its number is what comes next
  }, [ready]);
  if (what === null || what.kind === "guide" || what.board !== board.id) return null;
  const leave = () => {
    ask(null);
    focusView();
  };
  return (
    <div className="asking" role="status">
      <p>{askText(what)}</p>
      <div className="row">
        {ready ? <NumberField inputRef={ref} label="Real length" unit={unit} width={104} value={0} onCommit={(v) => void finishScale(v)} onEnter={focusView} onLeave={leave} /> : <span />}
        <Button size="small" onClick={leave}>Leave it</Button>
      </div>
    </div>
  );
}
