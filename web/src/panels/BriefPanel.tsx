import { Button, Popconfirm, Select, Slider, Tooltip } from "antd";
import { useRef, useState } from "react";

import type { Board, View } from "../api/client";
import { change } from "../state/editor";
import { moveBoard, removeBoard, setBoard } from "../state/intents";
import { boardsOf, isLocked, unitOf, useEditor } from "../state/store";
import { bring } from "../state/viewing";
import { FLAT_VIEWS, VIEW_TITLES } from "../viewport/views";
import { Icon } from "./Icon";
import { NumberField } from "./NumberField";

type Stand = NonNullable<Board["stand"]>;

const STANDS: { value: Stand; label: string }[] = [
  { value: "behind", label: "behind" },
  { value: "over", label: "over" },
  { value: "ghost", label: "as ghost" },
];

/** The pictures a build must match. */
export function BriefPanel({ onPicture }: { readonly onPicture: (file: File) => void }) {
  const boards = useEditor(boardsOf);
  const [open, setOpen] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const board = boards.find((b) => b.id === open) ?? boards[0];
  return (
    <section aria-label="Brief">
      <h2>
        Boards
        <button type="button" className="link" onClick={() => input.current?.click()}>
          + Picture
        </button>
        <input
          ref={input}
          type="file"
          hidden
          aria-label="Picture file"
          accept="image/png,image/jpeg,image/webp"
          onChange={(e) => {
            const file = e.target.files?.[0];
            if (file) onPicture(file);
            e.target.value = "";
          }}
        />
      </h2>
      {boards.length === 0 && (
        <div className="teach">Drop a PNG, JPEG or WebP on a view. It stands in that view's plane at the width you type.</div>
      )}
      <div className="boards">
        {boards.map((b) => (
          <button
            key={b.id}
            type="button"
            className={b.id === board?.id ? "board here" : "board"}
            aria-pressed={b.id === board?.id}
            onClick={() => {
              setOpen(b.id);
              bring(b.view ?? "front");
            }}
          >
            <img src={`/api/pictures/${b.picture}`} alt="" style={{ opacity: b.hidden ? 0.3 : 1 }} />
            <span>{VIEW_TITLES[b.view ?? "front"]}</span>
          </button>
        ))}
      </div>
      {board !== undefined && <BoardDetails key={board.id} board={board} />}
    </section>
  );
}

function BoardDetails({ board }: { readonly board: Board }) {
  const unit = useEditor(unitOf);
  const [opacity, setOpacity] = useState<number | null>(null);
  const at = (board.at ?? [0, 0]) as [number, number];
  const set = (label: string, values: Partial<Board>) => void change(label, setBoard(board.id, values), `board/${board.id}/${Object.keys(values)[0]}`);
  const place = (index: 0 | 1, v: number) => v !== at[index] && void change("Move board", moveBoard(board.id, index, v), `board/${board.id}/at`);
  return (
    <div className="details">
      <div className="row">
        <strong className="ellipsis" title={board.name}>{board.name}</strong>
        <span>
          <Tooltip title={board.hidden ? "Show" : "Hide"}>
            <Button type="text" size="small" aria-label={board.hidden ? "Show board" : "Hide board"} icon={<Icon name={board.hidden ? "unseen" : "seen"} size={16} />} onClick={() => set("Show or hide board", { hidden: !board.hidden })} />
          </Tooltip>
          <Tooltip title={isLocked(board) ? "Unlock: then it is moved by its border" : "Lock"}>
            <Button type="text" size="small" aria-label={isLocked(board) ? "Unlock board" : "Lock board"} icon={<Icon name={isLocked(board) ? "locked" : "unlocked"} size={16} />} onClick={() => set("Lock or unlock board", { locked: !isLocked(board) })} />
          </Tooltip>
          <Popconfirm title="Take this board away?" okText="Take away" onConfirm={() => void change("Remove board", removeBoard(board.id))}>
            <Button type="text" size="small" aria-label="Remove board" icon={<Icon name="bin" size={16} />} />
          </Popconfirm>
        </span>
      </div>
      <label className="row">
        <span>view</span>
        <Select<View> size="small" aria-label="Board view" style={{ width: 110 }} value={board.view ?? "front"} options={FLAT_VIEWS.map((v) => ({ value: v, label: VIEW_TITLES[v] }))} onChange={(view) => set("Turn board", { view })} />
      </label>
      <label className="row">
        <span>width</span>
        <NumberField label="Board width" unit={unit} width={110} value={board.width} onCommit={(width) => set("Scale board", { width })} />
      </label>
      <label className="row">
        <span>across</span>
        <NumberField label="Board across" unit={unit} width={110} value={at[0]} onCommit={(v) => place(0, v)} />
      </label>
      <label className="row">
        <span>up</span>
        <NumberField label="Board up" unit={unit} width={110} value={at[1]} onCommit={(v) => place(1, v)} />
      </label>
      <label className="row">
        <span>stands</span>
        <Select<Stand> size="small" aria-label="Where the board stands" style={{ width: 110 }} value={board.stand ?? "behind"} options={STANDS} onChange={(stand) => set("Stand board", { stand })} />
      </label>
      <label className="row">
        <span>strength</span>
        <Slider
          aria-label="Board strength"
          style={{ width: 110, margin: "4px 6px" }}
          min={0}
          max={100}
          tooltip={{ placement: "bottom" }}
          value={opacity ?? Math.round((board.opacity ?? 0.6) * 100)}
          onChange={setOpacity}
          onChangeComplete={(v) => {
            setOpacity(null);
            set("Dim board", { opacity: v / 100 });
          }}
        />
      </label>
    </div>
  );
}
