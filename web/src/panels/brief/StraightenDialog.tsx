import { Button, Modal, Segmented, Slider } from "antd";
import { useRef, useState } from "react";

import { answer, api, type Board, sentence } from "../../api/client";
import { setBoard } from "../../model/document/intents";
import { cropOf, type Place } from "../../model/places/boardPlane";
import { unitOf, useEditor } from "../../model/store";
import { change, tell } from "../../sync/build";
import { settleFields } from "../../sync/expression";
import { useMainButton } from "../fields/useMainButton";
import { NumberField } from "../fields/NumberField";
import { PictureStage, ringsPath, type StagePointer } from "./PictureStage";

const NAMES = ["lower left", "lower right", "upper right", "upper left"];
const REACH = 14;
type Mode = "bent" | "level";

/** How far a line is off level, or upright where it is nearer to that, in degrees counter-clockwise; null for one too short to tell. */
function tiltOf([a, b]: [Place, Place]): number | null {
  const [x, y] = [b[0] - a[0], b[1] - a[1]];
  if (Math.hypot(x, y) < 0.02) return null;
  const angle = (Math.atan2(y, x) * 180) / Math.PI;
  return angle - 90 * Math.round(angle / 90);
}

/** Takes distortion out of a picture, and makes the picture of a rectangle one. The original is kept. */
export function StraightenDialog({ board, onClose }: { readonly board: Board; readonly onClose: () => void }) {
  const unit = useEditor(unitOf);
  const original = board.source?.picture ?? board.picture;
  const [distortion, setDistortion] = useState(board.source?.distortion ?? 0);
  const [looked, setLooked] = useState(distortion);
  const [corners, setCorners] = useState<Place[] | null>((board.source?.corners as Place[] | null | undefined) ?? null);
  const size = useRef<[number, number]>([...(board.source?.size ?? [10, 10])] as [number, number]);
  const [, again] = useState(0);
  const [mode, setMode] = useState<Mode>("bent");
  const [busy, setBusy] = useState(false);
  const dragged = useRef<number | null>(null);
  const aspect = useRef(1);
  const [level, setLevel] = useState<[Place, Place] | null>(null);
  const levelling = useRef(false);
  const press = (p: StagePointer) => {
    if (mode === "level") {
      levelling.current = true;
      setLevel([p.at, p.at]);
      return;
    }
    if (corners === null) return;
    const near = corners.map((c) => Math.hypot(c[0] - p.at[0], c[1] - p.at[1]) / p.pixel);
    const least = Math.min(...near);
    dragged.current = least <= REACH ? near.indexOf(least) : null;
  };
  const move = (p: StagePointer) => {
    if (levelling.current && level !== null) setLevel([level[0], p.at]);
    const i = dragged.current;
    if (i !== null) setCorners((held) => held?.map((c, k) => (k === i ? p.at : c)) ?? null);
  };
  const begin = () => setCorners([[-0.3, 0.2 * aspect.current], [0.3, 0.2 * aspect.current], [0.3, 0.8 * aspect.current], [-0.3, 0.8 * aspect.current]]);
  const put = (i: 0 | 1, v: number) => {
    if (v > 0) size.current[i] = v;
    again((n) => n + 1);
  };
  const tilt = level === null ? null : tiltOf(level);
  useMainButton(mode !== "level" || tilt !== null);
  const make = async () => {
    setBusy(true);
    if (mode === "level") {
      const turn = Number((((board.turn ?? 0) - (board.mirrored ? -1 : 1) * (tilt ?? 0)) % 360).toFixed(3)) + 0;
      if (tilt !== null && (await change("Level board", setBoard(board.id, { turn })))) onClose();
      setBusy(false);
      return;
    }
    await settleFields();
    const used = corners?.map((c) => c.map((v) => Number(v.toFixed(6))) as Place) as [Place, Place, Place, Place] | undefined;
    const sides: [number, number] | null = used === undefined ? null : size.current;
    try {
      const made = await answer(api.POST("/api/pictures/{sha256}/straighten", { params: { path: { sha256: original } }, body: { corners: used ?? null, size: sides, distortion } }));
      const source = { picture: original, distortion, ...(used === undefined ? {} : { corners: used, size: size.current }) };
      const width = made.real === null || made.real === undefined ? board.width : Number(made.real[0]!.toPrecision(9));
      if (await change("Straighten board", setBoard(board.id, { picture: made.picture.sha256, width, source, outline: undefined, trust: undefined, crop: undefined }))) onClose();
    } catch (error) {
      tell(sentence(error));
    }
    setBusy(false);
  };
  const back = async () => {
    if (await change("Original picture", setBoard(board.id, { picture: original, source: undefined, outline: undefined, trust: undefined, crop: undefined }))) onClose();
  };
  return (
    <Modal open title={`Straighten ${board.name}`} width={880} okText={mode === "level" ? "Make it level" : "Straighten"} okButtonProps={{ disabled: mode === "level" && tilt === null }} confirmLoading={busy} onOk={() => void make()} onCancel={onClose}>
      <div className="picturedialog">
        <PictureStage
          crop={mode === "level" ? cropOf(board) : undefined}
          src={mode === "level" ? `/api/pictures/${board.picture}` : looked === 0 ? `/api/pictures/${original}` : `/api/pictures/${original}/straightened?distortion=${looked}&side=1100`}
          label="The picture with the corners of a rectangle"
          onAspect={(a) => (aspect.current = a)}
          onPress={press}
          onMove={move}
          onRelease={() => { dragged.current = null; levelling.current = false; }}
        >
          {(_, pixel) => mode === "level" ? level !== null && <line x1={level[0][0]} y1={-level[0][1]} x2={level[1][0]} y2={-level[1][1]} className="known" strokeWidth={2 * pixel} /> : corners !== null && (
            <>
              <path d={ringsPath([corners])} className="selection" strokeWidth={1.6 * pixel} />
              {corners.map(([x, y], i) => (
                <g key={NAMES[i]}>
                  <circle cx={x} cy={-y} r={7 * pixel} className="corner" strokeWidth={2 * pixel} />
                  <circle cx={x} cy={-y} r={1.2 * pixel} className="cornerdot" />
                </g>
              ))}
            </>
          )}
        </PictureStage>
        <div>
          <Segmented<Mode> block value={mode} onChange={setMode} options={[{ value: "bent", label: "Bent or aslant" }, { value: "level", label: "Merely tilted" }]} />
          {mode === "level" ? (
            <>
              <p className="muted">Drag along something that is level in truth, or upright: the board is turned until it is.</p>
              <p role="status">{tilt === null ? "" : `It is ${Math.abs(tilt).toFixed(2)}° off; the board turns ${tilt > 0 ? "clockwise" : "the other way"}.`}</p>
              <p className="muted small">The picture stays as it is, and so does its outline.</p>
            </>
          ) : (
            <>
              <h3>Distortion</h3>
              <Slider aria-label="Distortion" min={-0.14} max={0.4} step={0.005} value={distortion} onChange={setDistortion} onChangeComplete={setLooked} />
              <p className="muted small">Left takes out barrel distortion, right pincushion: until edges that are straight look straight.</p>
              <h3>Rectangle of known sides</h3>
              {corners === null ? (
                <>
                  <p className="muted">Something flat and square in the picture, a door or a sheet of paper, tells how the picture lies.</p>
                  <Button size="small" onClick={begin}>Place its corners</Button>
                </>
              ) : (
                <>
                  <p className="muted">Drag the four rings onto its corners and type its true sides.</p>
                  <label className="row">
                    <span>width</span>
                    <NumberField label="Width of the rectangle" unit={unit} width={110} value={size.current[0]} onCommit={(v) => put(0, v)} />
                  </label>
                  <label className="row">
                    <span>height</span>
                    <NumberField label="Height of the rectangle" unit={unit} width={110} value={size.current[1]} onCommit={(v) => put(1, v)} />
                  </label>
                  <Button size="small" onClick={() => setCorners(null)}>No rectangle</Button>
                </>
              )}
              {board.source != null && (
                <>
                  <h3>Original</h3>
                  <Button size="small" onClick={() => void back()}>Back to the original picture</Button>
                </>
              )}
              <p className="muted small">The original is kept. With a rectangle the board takes its true scale; its outline is taken anew.</p>
            </>
          )}
        </div>
      </div>
    </Modal>
  );
}
