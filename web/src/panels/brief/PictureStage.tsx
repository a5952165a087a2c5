import { type PointerEvent, type ReactNode, useRef, useState } from "react";

import type { Place } from "../../model/places/boardPlane";

export interface StagePointer {
  /** in picture widths: across from the middle, up from the lower edge */
  readonly at: Place;
  /** picture widths in one pixel */
  readonly pixel: number;
}

interface Props {
  readonly src: string;
  readonly label: string;
  /** the picture's height in its widths, once it is known */
  readonly onAspect?: (aspect: number) => void;
  readonly onPress?: (p: StagePointer) => void;
  readonly onMove?: (p: StagePointer) => void;
  readonly onRelease?: (p: StagePointer) => void;
  /** drawn over the picture, in picture widths with y downwards */
  readonly children?: (aspect: number, pixel: number) => ReactNode;
  /** the left, lower, right and upper share of the picture that is shown */
  readonly crop?: readonly [number, number, number, number] | undefined;
  readonly width?: number;
  readonly height?: number;
}

const WHOLE = [0, 0, 1, 1] as const;

/** A picture laid flat, to be clicked, painted and drawn on. */
export function PictureStage({ src, label, onAspect, onPress, onMove, onRelease, children, crop = WHOLE, width = 560, height = 460 }: Props) {
  const [aspect, setAspect] = useState<number | null>(null);
  const box = useRef<HTMLDivElement>(null);
  const pressed = useRef(false);
  const a = aspect ?? 1;
  const [left, lower, right, upper] = crop;
  const [across, up] = [right - left, (upper - lower) * a];
  const shownWidth = Math.min(width, (height * across) / up);
  const pixel = across / shownWidth;
  const place = (e: PointerEvent): StagePointer => {
    const r = (box.current as HTMLDivElement).getBoundingClientRect();
    return { at: [left - 0.5 + (across * (e.clientX - r.left)) / r.width, lower * a + (up * (r.bottom - e.clientY)) / r.height], pixel };
  };
  return (
    <div
      ref={box}
      className="picturestage"
      role="application"
      aria-label={label}
      style={{ width: shownWidth, height: (shownWidth * up) / across }}
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        e.preventDefault();
        e.currentTarget.setPointerCapture(e.pointerId);
        pressed.current = true;
        onPress?.(place(e));
      }}
      onPointerMove={(e) => onMove?.(place(e))}
      onPointerUp={(e) => {
        if (!pressed.current) return;
        pressed.current = false;
        onRelease?.(place(e));
      }}
    >
      <img
        src={src}
        alt=""
        draggable={false}
        style={{ position: "absolute", maxWidth: "none", width: 1 / pixel, height: a / pixel, left: -left / pixel, top: (-(1 - upper) * a) / pixel }}
        onLoad={(e) => {
          const known = e.currentTarget.naturalHeight / e.currentTarget.naturalWidth;
          setAspect(known);
          onAspect?.(known);
        }}
      />
      {aspect !== null && (
        <svg viewBox={`${left - 0.5} ${-upper * a} ${across} ${up}`} preserveAspectRatio="none">
          {children?.(a, pixel)}
        </svg>
      )}
    </div>
  );
}

/** Rings in picture widths as an SVG path. */
export function ringsPath(rings: readonly (readonly (readonly number[])[])[]): string {
  return rings.map((ring) => `M${ring.map((p) => `${p[0]!.toFixed(5)} ${(-p[1]!).toFixed(5)}`).join("L")}Z`).join("");
}

export function strokePath(points: readonly (readonly number[])[]): string {
  const [first] = points;
  if (first === undefined) return "";
  const all = points.length === 1 ? [first, first] : points;
  return `M${all.map((p) => `${p[0]!.toFixed(5)} ${(-p[1]!).toFixed(5)}`).join("L")}`;
}
