import { useState } from "react";

/** What is shown of a picture, as large as its frame lets it be. */
export function Cropped({ src, crop, opacity }: { readonly src: string; readonly crop: readonly number[]; readonly opacity: number }) {
  const [aspect, setAspect] = useState<number | null>(null);
  const [left, lower, right, upper] = crop as [number, number, number, number];
  const a = aspect ?? 1;
  return (
    <span className="cropped">
      <img src={src} alt="" hidden onLoad={(e) => setAspect(e.currentTarget.naturalHeight / e.currentTarget.naturalWidth)} />
      {aspect !== null && (
        <svg viewBox={`${left} ${(1 - upper) * a} ${right - left} ${(upper - lower) * a}`} style={{ opacity }} aria-hidden>
          <image href={src} x={0} y={0} width={1} height={a} preserveAspectRatio="none" />
        </svg>
      )}
    </span>
  );
}
