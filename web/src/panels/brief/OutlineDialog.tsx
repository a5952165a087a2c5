import { Button, InputNumber, Modal, Segmented, Select, Slider } from "antd";
import { useEffect, useRef, useState } from "react";

import { answer, api, type Board, sentence, type Stroke, type Tracing } from "../../api/client";
import type { components } from "../../api/schema";
import { setBoard } from "../../model/document/intents";
import { cropOf, type Place } from "../../model/places/boardPlane";
import { change } from "../../sync/build";
import { useMainButton } from "../fields/useMainButton";
import { PictureStage, ringsPath, type StagePointer, strokePath } from "./PictureStage";

type Traced = components["schemas"]["TracedOutline"];
type Trust = NonNullable<Board["trust"]>;
type Brush = "in" | "out";

const WAYS: { value: NonNullable<Tracing["by"]>; label: string }[] = [
  { value: "auto", label: "by transparency, else background" },
  { value: "transparency", label: "by transparency" },
  { value: "background", label: "by background colour" },
];
const HOLES: { value: NonNullable<Tracing["holes"]>; label: string }[] = [
  { value: "auto", label: "as the drawing is" },
  { value: "keep", label: "keep" },
  { value: "fill", label: "fill" },
];
const STARTS: { value: NonNullable<Trust["start"]>; label: string }[] = [
  { value: "all", label: "all of it" },
  { value: "left", label: "left half" },
  { value: "right", label: "right half" },
  { value: "upper", label: "upper half" },
  { value: "lower", label: "lower half" },
  { value: "box", label: "a box" },
  { value: "none", label: "only what is painted" },
];

/** More rings than this are noise, unless the person says otherwise; then what is smaller than this share of the largest is left out. */
const NOISY = 30;
const KEPT = 0.05;

/** Takes a picture's outline, corrected by painting, and says which part of it is trusted. */
export function OutlineDialog({ board, onClose }: { readonly board: Board; readonly onClose: () => void }) {
  const [page, setPage] = useState<"outline" | "trust">("outline");
  const [tracing, setTracing] = useState<Tracing>({ ...board.outline?.tracing });
  const [trust, setTrust] = useState<Trust>({ ...board.trust });
  const [brush, setBrush] = useState<Brush>("in");
  const [radius, setRadius] = useState(0.02);
  const [drawing, setDrawing] = useState<Place[] | null>(null);
  const [busy, setBusy] = useState(false);
  const { traced, fault, waiting } = useTraced(board, tracing);
  useEffect(() => {
    // a photograph's specks: the pieces that matter are kept, and the rest is offered
    if (traced !== null && tracing.least === undefined && traced.rings.length > NOISY) setTracing((t) => ({ ...t, least: KEPT }));
  }, [traced, tracing.least]);
  useMainButton(traced !== null && !waiting);
  const strokes = (page === "outline" ? tracing.strokes : trust.strokes) ?? [];
  const addStroke = (points: Place[]) => {
    const stroke: Stroke = { paint: brush, radius, points: thinned(points, radius / 6).map(([x, y]) => [Number(x.toFixed(5)), Number(y.toFixed(5))]) };
    if (page === "outline") setTracing((t) => ({ ...t, strokes: [...(t.strokes ?? []), stroke] }));
    else setTrust((t) => ({ ...t, strokes: [...(t.strokes ?? []), stroke] }));
  };
  const dropStroke = () => {
    if (page === "outline") setTracing((t) => ({ ...t, strokes: (t.strokes ?? []).slice(0, -1) }));
    else setTrust((t) => ({ ...t, strokes: (t.strokes ?? []).slice(0, -1) }));
  };
  const boxed = page === "trust" && trust.start === "box";
  const aspect = useRef(1);
  const press = (p: StagePointer) => setDrawing([p.at]);
  const move = (p: StagePointer) => drawing !== null && setDrawing(boxed ? [drawing[0] as Place, p.at] : [...drawing, p.at]);
  const release = (p: StagePointer) => {
    if (drawing === null) return;
    setDrawing(null);
    if (!boxed) addStroke([...drawing, p.at]);
    else {
      const [a, b] = [drawing[0] as Place, p.at];
      const share = (v: number) => Number(Math.min(Math.max(v, 0), 1).toFixed(4));
      setTrust((t) => ({ ...t, box: [share(Math.min(a[0], b[0]) + 0.5), share(Math.min(a[1], b[1]) / aspect.current), share(Math.max(a[0], b[0]) + 0.5), share(Math.max(a[1], b[1]) / aspect.current)] }));
    }
  };
  const take = async () => {
    if (traced === null) return;
    setBusy(true);
    const rings = traced.rings.map((ring) => ring.map((p) => [Number((p[0]! * board.width).toPrecision(8)), Number((p[1]! * board.width).toPrecision(8))] as [number, number]));
    const fine = await change("Take outline", setBoard(board.id, { outline: { width: board.width, tracing, rings }, trust }));
    setBusy(false);
    if (fine) onClose();
  };
  return (
    <Modal open title={`Outline of ${board.name}`} width={880} okText="Take this outline" okButtonProps={{ disabled: traced === null || waiting }} confirmLoading={busy} onOk={() => void take()} onCancel={onClose}>
      <div className="picturedialog">
        <PictureStage src={`/api/pictures/${board.picture}`} crop={cropOf(board)} label="The picture with its outline" onAspect={(a) => (aspect.current = a)} onPress={press} onMove={move} onRelease={release}>
          {(a, pixel) => (
            <>
              {traced !== null && <path d={ringsPath(traced.rings)} className="traced" fillRule="evenodd" strokeWidth={2 * pixel} />}
              {page === "trust" && <Distrusted trust={trust} aspect={a} />}
              {drawing !== null && !boxed && <path d={strokePath(drawing)} className={`brush ${brush}`} strokeWidth={2 * radius} />}
              {drawing !== null && boxed && <path d={ringsPath([boxOf(drawing[0] as Place, drawing[drawing.length - 1] as Place)])} className="selection" strokeWidth={1.5 * pixel} />}
            </>
          )}
        </PictureStage>
        <div>
          <Segmented<"outline" | "trust"> block value={page} onChange={setPage} options={[{ value: "outline", label: "Outline" }, { value: "trust", label: "Trusted part" }]} />
          {page === "outline" ? <Ways tracing={tracing} put={(t) => setTracing((held) => ({ ...held, ...t }))} traced={traced} /> : <TrustFields trust={trust} put={(t) => setTrust((held) => ({ ...held, ...t }))} />}
          <h3>{page === "outline" ? "Correct by painting" : "Paint trust"}</h3>
          <div className="row">
            <Segmented<Brush> size="small" aria-label="Brush" value={brush} onChange={setBrush} options={[{ value: "in", label: "paint in" }, { value: "out", label: "paint out" }]} />
            <Button size="small" disabled={strokes.length === 0} onClick={dropStroke}>Take back</Button>
          </div>
          <label className="row">
            <span>brush</span>
            <Slider aria-label="Size of the brush" style={{ width: 150 }} min={0.003} max={0.12} step={0.001} value={radius} onChange={setRadius} tooltip={{ formatter: (v) => `${(200 * (v ?? 0)).toFixed(1)} % of the width` }} />
          </label>
          {fault !== null && <p className="fault" role="alert">▲ {fault}</p>}
          <p className="muted" role="status">{waiting ? "tracing …" : traced === null ? "" : `${traced.rings.length === 1 ? "one ring" : `${traced.rings.length} rings`}, ${traced.corners} corners${(tracing.least ?? 0) > 0 ? `; what is smaller than ${Number((100 * (tracing.least ?? 0)).toFixed(1))} % of the largest piece is left out` : ""}`}</p>
          <p className="muted small">Stored in real units with the board. Rings inside others are holes.</p>
        </div>
      </div>
    </Modal>
  );
}

function Ways({ tracing, put, traced }: { readonly tracing: Tracing; readonly put: (t: Partial<Tracing>) => void; readonly traced: Traced | null }) {
  return (
    <>
      <label className="row">
        <span>taken</span>
        <Select size="small" aria-label="How the outline is told" style={{ width: 232 }} value={tracing.by ?? "auto"} options={WAYS} onChange={(by) => put({ by })} />
      </label>
      <label className="row">
        <span>background</span>
        <span className="icons">
          <input type="color" aria-label="Background colour" value={tracing.background ?? traced?.background ?? "#ffffff"} onChange={(e) => put({ background: e.target.value })} />
          <Button size="small" type="text" disabled={tracing.background == null} onClick={() => put({ background: null })}>that of the rim</Button>
        </span>
      </label>
      <label className="row">
        <span>threshold</span>
        <Slider aria-label="Threshold" style={{ width: 150 }} min={0.01} max={0.8} step={0.01} value={tracing.threshold ?? 0.1} onChange={(threshold) => put({ threshold })} />
      </label>
      <label className="row">
        <span title="Specks, and lines thinner than twice this, are left out">clean up</span>
        <InputNumber size="small" aria-label="Clean up" min={0} max={50} precision={0} style={{ width: 84 }} suffix="px" changeOnWheel={false} value={tracing.clean ?? 2} onChange={(clean) => clean !== null && put({ clean })} />
      </label>
      <label className="row">
        <span title="Pieces and holes smaller than this share of the largest piece are left out">keep from</span>
        <span className="icons">
          <InputNumber size="small" aria-label="Smallest piece kept" min={0} max={100} precision={1} style={{ width: 84 }} suffix="%" changeOnWheel={false} value={Number((100 * (tracing.least ?? 0)).toFixed(1))} onChange={(least) => least !== null && put({ least: least / 100 })} />
          <Button size="small" type="text" disabled={(tracing.least ?? 0) === 0} onClick={() => put({ least: 0 })}>all</Button>
        </span>
      </label>
      <label className="row">
        <span>holes</span>
        <Select size="small" aria-label="Holes" style={{ width: 150 }} value={tracing.holes ?? "auto"} options={HOLES} onChange={(holes) => put({ holes })} />
      </label>
    </>
  );
}

function TrustFields({ trust, put }: { readonly trust: Trust; readonly put: (t: Partial<Trust>) => void }) {
  return (
    <>
      <label className="row">
        <span>trusted</span>
        <Select size="small" aria-label="Trusted part" style={{ width: 170 }} value={trust.start ?? "all"} options={STARTS} onChange={(start) => put({ start })} />
      </label>
      <p className="muted small">{trust.start === "box" ? "Drag a box on the picture." : "Figures go by the trusted part alone: pictures bend towards their edges, and things are rarely the same on both sides."}</p>
    </>
  );
}

/** What is not trusted, dimmed. */
function Distrusted({ trust, aspect }: { readonly trust: Trust; readonly aspect: number }) {
  const start = trust.start ?? "all";
  const [l, b, r, t] = trust.box ?? [0, 0, 1, 1];
  const areas: Record<string, Place[][]> = {
    all: [boxOf([-0.5, 0], [0.5, aspect])],
    left: [boxOf([-0.5, 0], [0, aspect])],
    right: [boxOf([0, 0], [0.5, aspect])],
    lower: [boxOf([-0.5, 0], [0.5, aspect / 2])],
    upper: [boxOf([-0.5, aspect / 2], [0.5, aspect])],
    box: trust.box == null ? [] : [boxOf([l - 0.5, b * aspect], [r - 0.5, t * aspect])],
    none: [],
  };
  return (
    <>
      <mask id="trusted">
        <rect x={-0.5} y={-aspect} width={1} height={aspect} fill="white" />
        <path d={ringsPath(areas[start] ?? [])} fill="black" />
        {(trust.strokes ?? []).map((s, i) => (
          <path key={i} d={strokePath(s.points)} fill="none" strokeWidth={2 * s.radius} strokeLinecap="round" strokeLinejoin="round" stroke={(s.paint ?? "in") === "in" ? "black" : "white"} />
        ))}
      </mask>
      <rect x={-0.5} y={-aspect} width={1} height={aspect} className="distrusted" mask="url(#trusted)" />
    </>
  );
}

function boxOf(a: Place, b: Place): Place[] {
  return [a, [b[0], a[1]], b, [a[0], b[1]]];
}

/** A stroke with no more points than its brush can tell, and no more than are taken. */
function thinned(points: readonly Place[], step: number): Place[] {
  const out: Place[] = [];
  for (const p of points) {
    const last = out[out.length - 1];
    if (last === undefined || Math.hypot(p[0] - last[0], p[1] - last[1]) >= step) out.push(p);
  }
  return out.slice(0, 2000);
}

/** The outline as the core traces it: one request in flight, the newest settings wait. */
function useTraced(board: Board, tracing: Tracing): { traced: Traced | null; fault: string | null; waiting: boolean } {
  const [state, setState] = useState<{ traced: Traced | null; fault: string | null }>({ traced: null, fault: null });
  const [waiting, setWaiting] = useState(true);
  const next = useRef<Tracing | null>(null);
  const flying = useRef(false);
  useEffect(() => {
    next.current = tracing;
    setWaiting(true);
    if (flying.current) return;
    flying.current = true;
    void (async () => {
      while (next.current !== null) {
        const asked: Tracing = next.current;
        next.current = null;
        try {
          const traced = await answer(api.POST("/api/pictures/{sha256}/outline", { params: { path: { sha256: board.picture } }, body: { tracing: asked, crop: (board.crop ?? [0, 0, 1, 1]) as [number, number, number, number], opaque: board.source != null } }));
          setState({ traced: traced as Traced, fault: null });
        } catch (error) {
          setState({ traced: null, fault: sentence(error) });
        }
      }
      flying.current = false;
      setWaiting(false);
    })();
  }, [tracing, board.picture, board.crop, board.source]);
  return { ...state, waiting };
}
