import { Button, type InputRef, Modal, Segmented, Select } from "antd";
import { useLayoutEffect, useRef, useState } from "react";

import type { Board, View } from "../../api/client";
import { frame } from "../../interaction/viewing";
import { type Framed, guessViews } from "../../model/brief/sheetViews";
import { cutBoard } from "../../model/document/intents";
import type { Place } from "../../model/places/boardPlane";
import { unitOf, useEditor } from "../../model/store";
import { FLAT_VIEWS, VIEW_TITLES } from "../../model/views";
import { change } from "../../sync/build";
import { settleFields } from "../../sync/expression";
import { useFirstField } from "../fields/useFirstField";
import { NumberField } from "../fields/NumberField";
import { PictureStage, ringsPath, type StagePointer } from "./PictureStage";

interface Piece extends Framed {
  readonly view: View;
  /** whether the person said so */
  readonly told: boolean;
}

/** Frames with the views that the others' places tell, but those that were told. */
function guessed(pieces: readonly Piece[]): Piece[] {
  const views = guessViews(pieces);
  return pieces.map((p, i) => (p.told ? p : { ...p, view: views[i] as View }));
}

/** Cuts a drawing with several views on it into boards that keep its one scale. */
export function BlueprintDialog({ board, onClose }: { readonly board: Board; readonly onClose: () => void }) {
  const unit = useEditor(unitOf);
  const [pieces, setPieces] = useState<readonly Piece[]>([]);
  const [mode, setMode] = useState<"frame" | "length">("frame");
  const [drag, setDrag] = useState<{ a: Place; b: Place } | null>(null);
  const [known, setKnown] = useState<{ a: Place; b: Place } | null>(null);
  const [first, setFirst] = useState<Place | null>(null);
  const field = useRef<InputRef>(null);
  const width = useRef(board.width);
  const [, again] = useState(0);
  const [busy, setBusy] = useState(false);
  const aspect = useRef(1);
  useLayoutEffect(() => {
    if (known !== null) field.current?.focus({ cursor: "all" }); // what is typed next is its length
  }, [known]);
  const release = (p: StagePointer) => {
    if (drag === null) return;
    const done = { a: drag.a, b: p.at };
    setDrag(null);
    const far = (k: 0 | 1) => Math.abs(done.a[k] - done.b[k]) / p.pixel;
    if (mode === "length") {
      // two clicks as in Scale, or one drag
      if (Math.hypot(far(0), far(1)) > 4) know(done.a, done.b);
      else if (first === null) {
        setFirst(done.a);
        setKnown(null);
      } else know(first, done.b);
    } else if (far(0) > 8 && far(1) > 8) setPieces(guessed([...pieces, { ...done, view: "front", told: false }]));
  };
  const know = (a: Place, b: Place) => {
    setFirst(null);
    setKnown({ a, b });
  };
  const length = known === null ? 0 : Math.hypot(known.a[0] - known.b[0], known.a[1] - known.b[1]);
  const widthField = useFirstField();
  const make = async () => {
    setBusy(true);
    await settleFields();
    const w = width.current;
    const a = aspect.current;
    const boards = pieces.map((p): Omit<Board, "id"> => {
      const share = (v: number) => Number(Math.min(Math.max(v, 0), 1).toFixed(5));
      const [left, right] = [Math.min(p.a[0], p.b[0]) + 0.5, Math.max(p.a[0], p.b[0]) + 0.5].map(share) as [number, number];
      const [lower, upper] = [Math.min(p.a[1], p.b[1]) / a, Math.max(p.a[1], p.b[1]) / a].map(share) as [number, number];
      const middle = p.view === "top" || p.view === "bottom"; // seen from above, a thing stands about the origin
      const at = [-((left + right) / 2 - 0.5) * w, -(middle ? (lower + upper) / 2 : lower) * w * a].map((v) => Number(v.toPrecision(9)) + 0) as Place;
      return { picture: board.picture, name: `${board.name}, ${VIEW_TITLES[p.view].toLowerCase()}`.slice(0, 200), view: p.view, width: w, at, crop: [left, lower, right, upper] };
    });
    const fine = await change("Cut drawing into boards", cutBoard(board.id, boards));
    setBusy(false);
    if (!fine) return;
    onClose();
    frame(); // the boards stand elsewhere now than the drawing did
  };
  return (
    <Modal open title={`Cut up ${board.name}`} width={880} okText={pieces.length === 1 ? "Make one board" : `Make ${pieces.length} boards`} okButtonProps={{ disabled: pieces.length === 0 }} confirmLoading={busy} afterOpenChange={widthField.afterOpenChange} onOk={() => void make()} onCancel={onClose}>
      <div className="picturedialog">
        <PictureStage src={`/api/pictures/${board.picture}`} label="The drawing to cut up" onAspect={(x) => (aspect.current = x)} onPress={(p) => setDrag({ a: p.at, b: p.at })} onMove={(p) => drag !== null && setDrag({ ...drag, b: p.at })} onRelease={release}>
          {(_, pixel) => (
            <>
              {pieces.map((p, i) => (
                <g key={i}>
                  <path d={ringsPath([[p.a, [p.b[0], p.a[1]], p.b, [p.a[0], p.b[1]]]])} className="selection" strokeWidth={1.6 * pixel} />
                  <text x={Math.min(p.a[0], p.b[0]) + 5 * pixel} y={-Math.max(p.a[1], p.b[1]) + 15 * pixel} fontSize={12 * pixel}>{VIEW_TITLES[p.view]}</text>
                </g>
              ))}
              {drag !== null && mode === "frame" && <path d={ringsPath([[drag.a, [drag.b[0], drag.a[1]], drag.b, [drag.a[0], drag.b[1]]]])} className="selection" strokeWidth={1.6 * pixel} />}
              {first !== null && <circle cx={first[0]} cy={-first[1]} r={4 * pixel} className="cornerdot" />}
              {[mode === "length" ? drag : null, known].map((l, i) => l !== null && <line key={i} x1={l.a[0]} y1={-l.a[1]} x2={l.b[0]} y2={-l.b[1]} className="known" strokeWidth={2 * pixel} />)}
            </>
          )}
        </PictureStage>
        <div>
          <Segmented<"frame" | "length"> block value={mode} onChange={setMode} options={[{ value: "frame", label: "Frame views" }, { value: "length", label: "Known length" }]} />
          <p className="muted">{mode === "frame" ? "Drag a frame round each view; say which view it is." : "Click the two ends of something whose length you know, or drag along it, and type it: all boards take that scale."}</p>
          {mode === "length" && known !== null && (
            <label className="row">
              <span>real length</span>
              <NumberField inputRef={field} label="Real length on the drawing" unit={unit} width={110} value={Number((length * width.current).toPrecision(5))} onCommit={(v) => { if (v > 0) width.current = Number((v / length).toPrecision(9)); again((n) => n + 1); }} />
            </label>
          )}
          <label className="row">
            <span>width of the whole drawing</span>
            <NumberField inputRef={widthField.ref} label="Width of the drawing" unit={unit} width={100} value={width.current} onCommit={(v) => { if (v > 0) width.current = v; again((n) => n + 1); }} />
          </label>
          <h3>Boards</h3>
          {pieces.length === 0 && <p className="muted">none yet</p>}
          {pieces.map((p, i) => (
            <div className="row" key={i}>
              <Select<View> size="small" aria-label={`View of frame ${i + 1}`} style={{ width: 120 }} value={p.view} options={FLAT_VIEWS.map((v) => ({ value: v, label: VIEW_TITLES[v] }))} onChange={(view) => setPieces(guessed(pieces.map((q, k) => (k === i ? { ...q, view, told: true } : q))))} />
              <Button size="small" onClick={() => setPieces(guessed(pieces.filter((_, k) => k !== i)))}>Leave out</Button>
            </div>
          ))}
          <p className="muted small">The whole drawing's board gives way to them. Each stands with its lower middle on the origin; line them up by a point if they need it.</p>
        </div>
      </div>
    </Modal>
  );
}
