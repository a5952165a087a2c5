import { Button } from "antd";
import { type PointerEvent, useRef } from "react";

import { weightAt } from "../../model/shaping/softWeights";

type Curve = readonly (readonly [number, number])[];

const WIDTH = 190;
const HEIGHT = 84;
const GRIP = 8;

function sampled(fullness: number): Curve {
  return [0, 0.25, 0.5, 0.75, 1].map((t) => [t, Number(weightAt(t, fullness).toFixed(3))] as const);
}

/** Weights drawn by hand over the distance from the pick: drag a point, press beside them for another, press one twice to take it out. */
export function CurveField({ curve, fullness, onChange }: { readonly curve: Curve | null; readonly fullness: number; readonly onChange: (curve: Curve | null) => void }) {
  const held = useRef<number | null>(null);
  const points = curve ?? Array.from({ length: 25 }, (_, i) => [i / 24, weightAt(i / 24, fullness)] as const);
  const place = (e: PointerEvent<SVGSVGElement>): [number, number] => {
    const box = e.currentTarget.getBoundingClientRect();
    const share = (v: number) => Math.min(Math.max(v, 0), 1);
    return [share((e.clientX - box.left) / box.width), share(1 - (e.clientY - box.top) / box.height)].map((v) => Number(v.toFixed(3))) as [number, number];
  };
  const nearest = (t: number, w: number) => (curve ?? []).findIndex(([a, b]) => Math.hypot((a - t) * WIDTH, (b - w) * HEIGHT) <= GRIP);
  const down = (e: PointerEvent<SVGSVGElement>) => {
    if (curve === null) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    const [t, w] = place(e);
    let at = nearest(t, w);
    if (at < 0 && curve.every(([a]) => Math.abs(a - t) > 0.02)) {
      const next = [...curve, [t, w] as const].sort((a, b) => a[0] - b[0]);
      at = next.findIndex(([a]) => a === t);
      onChange(next);
    }
    held.current = at < 0 ? null : at;
  };
  const move = (e: PointerEvent<SVGSVGElement>) => {
    const i = held.current;
    if (curve === null || i === null) return;
    const [t, w] = place(e);
    const low = i === 0 ? 0 : (curve[i - 1]?.[0] ?? 0) + 0.01;
    const high = i === curve.length - 1 ? 1 : (curve[i + 1]?.[0] ?? 1) - 0.01;
    const fixed = i === 0 || i === curve.length - 1;
    onChange(curve.map((p, k) => (k === i ? ([fixed ? p[0] : Number(Math.min(Math.max(t, low), high).toFixed(3)), w] as const) : p)));
  };
  return (
    <div>
      <svg
        className="curve"
        width={WIDTH}
        height={HEIGHT}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="img"
        aria-label="Weight over distance"
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={() => (held.current = null)}
        onDoubleClick={(e) => {
          const [t, w] = place(e as unknown as PointerEvent<SVGSVGElement>);
          const at = nearest(t, w);
          if (curve !== null && at > 0 && at < curve.length - 1 && curve.length > 2) onChange(curve.filter((_, k) => k !== at));
        }}
      >
        <polyline points={points.map(([t, w]) => `${t * WIDTH},${(1 - w) * HEIGHT}`).join(" ")} fill="none" stroke="var(--ink)" strokeWidth={1.6} />
        {curve?.map(([t, w], i) => <circle key={i} cx={t * WIDTH} cy={(1 - w) * HEIGHT} r={4} fill="var(--panel)" stroke="var(--pick)" strokeWidth={2} />)}
      </svg>
      <Button size="small" onClick={() => onChange(curve === null ? sampled(fullness) : null)}>
        {curve === null ? "Draw the curve" : "Back to fullness"}
      </Button>
    </div>
  );
}
