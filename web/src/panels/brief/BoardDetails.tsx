import { Button, Checkbox, Select } from "antd";

import type { Board, BoardView } from "../../api/client";
import { asking } from "../../model/session/asking";
import { moveBoard, orderBoard, setBoard } from "../../model/document/intents";
import { cropOf } from "../../model/places/boardPlane";
import { boardsOf, partsOf, unitOf, useEditor } from "../../model/store";
import { FLAT_VIEWS, VIEW_TITLES } from "../../model/views";
import { change } from "../../sync/build";
import { NumberField } from "../fields/NumberField";
import { StoredSlider } from "../fields/StoredSlider";

type Stand = NonNullable<Board["stand"]>;

const STANDS: { value: Stand; label: string }[] = [
  { value: "behind", label: "behind" },
  { value: "over", label: "over" },
  { value: "ghost", label: "as ghost" },
];
const VIEWS: { value: BoardView; label: string }[] = [...FLAT_VIEWS.map((v) => ({ value: v as BoardView, label: VIEW_TITLES[v] })), { value: "free", label: "Free" }];
const CROP = ["left", "lower", "right", "upper"] as const;

/** Where a board stands and how it looks, by numbers. */
export function BoardDetails({ board }: { readonly board: Board }) {
  const unit = useEditor(unitOf);
  const parts = useEditor(partsOf);
  const order = useEditor((s) => boardsOf(s).findIndex((b) => b.id === board.id));
  const count = useEditor((s) => boardsOf(s).length);
  const at = (board.at ?? [0, 0]) as [number, number];
  const free = board.view === "free";
  const set = (label: string, values: Partial<Board>) => change(label, setBoard(board.id, values), `board/${board.id}/${Object.keys(values)[0]}`);
  const place = (index: 0 | 1, v: number) => v !== at[index] && void change("Move board", moveBoard(board.id, index, v), `board/${board.id}/at`);
  const crop = cropOf(board);
  const reorder = (by: -1 | 1) => {
    asking.set({ board: board.id }); // the panel stays with it
    void change("Order boards", orderBoard(board.id, by));
  };
  return (
    <>
      <label className="row">
        <span>view</span>
        <Select<BoardView> size="small" aria-label="Board view" style={{ width: 110 }} value={board.view ?? "front"} options={VIEWS} onChange={(view) => set("Turn board", { view })} />
      </label>
      {free && <Free board={board} set={set} />}
      <label className="row">
        <span>across</span>
        <NumberField label="Board across" unit={unit} width={104} value={at[0]} onCommit={(v) => place(0, v)} />
      </label>
      <label className="row">
        <span>up</span>
        <NumberField label="Board up" unit={unit} width={104} value={at[1]} onCommit={(v) => place(1, v)} />
      </label>
      <label className="row">
        <span>turned</span>
        <NumberField label="Board turned" unit={null} suffix="°" width={104} value={board.turn ?? 0} onCommit={(turn) => set("Turn board", { turn })} />
      </label>
      <label className="row">
        <span>stands</span>
        <Select<Stand> size="small" aria-label="Where the board stands" style={{ width: 110 }} value={board.stand ?? "behind"} options={STANDS} onChange={(stand) => set("Stand board", { stand })} />
      </label>
      <label className="row">
        <span>strength</span>
        <StoredSlider
          aria-label="Board strength"
          style={{ width: 110, margin: "4px 6px" }}
          min={0}
          max={100}
          tooltip={{ placement: "bottom" }}
          value={Math.round((board.opacity ?? 0.6) * 100)}
          onStore={(v) => set("Dim board", { opacity: v / 100 })}
        />
      </label>
      <div className="row">
        <span>tint</span>
        <span className="icons">
          <input type="color" aria-label="Tint of the board" value={board.tint ?? "#ffffff"} onChange={(e) => set("Tint board", { tint: e.target.value })} />
          <Button size="small" type="text" disabled={board.tint == null} onClick={() => void change("Tint board", setBoard(board.id, { tint: undefined }))}>none</Button>
        </span>
      </div>
      <div className="row">
        <span>order</span>
        <span className="icons">
          <Button size="small" aria-label="Further back" disabled={order <= 0} onClick={() => reorder(-1)}>back</Button>
          <Button size="small" aria-label="Further in front" disabled={order >= count - 1} onClick={() => reorder(1)}>front</Button>
        </span>
      </div>
      <div className="checks">
        <Checkbox checked={board.mirrored ?? false} onChange={(e) => set("Mirror board", { mirrored: e.target.checked })}>mirrored</Checkbox>
        <Checkbox checked={board.one_sided ?? false} onChange={(e) => set("Sides of board", { one_sided: e.target.checked })}>only from its side</Checkbox>
      </div>
      <div className="row">
        <span>crop&nbsp;%</span>
        <span className="quad">
          {CROP.map((side, i) => (
            <NumberField key={side} label={`Crop ${side}`} unit={null} suffix="" quantity="crop" width={42} value={Number((100 * crop[i]!).toFixed(1))} onCommit={(v) => {
              const next = cropOf(board);
              next[i] = Math.min(Math.max(v / 100, 0), 1);
              void set("Crop board", { crop: next });
            }} />
          ))}
        </span>
      </div>
      <label className="row">
        <span>shows</span>
        <Select<string[]> size="small" mode="multiple" aria-label="Parts the board shows" style={{ width: 150 }} placeholder="all that is seen" maxTagCount={1} value={[...(board.parts ?? [])]} options={parts.map((p) => ({ value: p.id ?? "", label: p.name }))} onChange={(ids) => set("Parts of board", { parts: ids })} />
      </label>
    </>
  );
}

function Free({ board, set }: { readonly board: Board; readonly set: (label: string, values: Partial<Board>) => Promise<unknown> }) {
  const unit = useEditor(unitOf);
  const stand = { translate: [0, 0, 0], rotate: [0, 0, 0], ...board.place } as { translate: number[]; rotate: number[] };
  const put = (key: "translate" | "rotate", i: number, v: number) => {
    const values = [...stand[key]];
    values[i] = v;
    void set("Place board", { place: { ...stand, [key]: values } as NonNullable<Board["place"]> });
  };
  return (
    <>
      {(["translate", "rotate"] as const).map((key) => (
        <div className="row" key={key}>
          <span>{key === "translate" ? "stands at" : "tilted"}</span>
          <span className="triple">
            {(["x", "y", "z"] as const).map((axis, i) => (
              <NumberField key={axis} label={`Board ${key} ${axis}`} unit={key === "translate" ? unit : null} suffix={axis} quantity={key} width={58} value={stand[key][i] ?? 0} onCommit={(v) => put(key, i, v)} />
            ))}
          </span>
        </div>
      ))}
    </>
  );
}
