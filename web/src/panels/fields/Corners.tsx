import { Input } from "antd";
import { useState } from "react";

import { cornersText, cornersTyped } from "../../model/wrap/corners";

type Points = readonly (readonly [number, number])[];

/** Corners of a polygon as pairs of numbers. What cannot be read stays, and says what would be. */
export function Corners({ label, points, onSet }: { readonly label: string; readonly points: Points; readonly onSet: (points: Points) => void }) {
  const [typed, setTyped] = useState<string | null>(null);
  const read = typed === null ? null : cornersTyped(typed);
  const take = () => {
    if (typed === null) return;
    if (read === null) return;
    if (cornersText(read) !== cornersText(points)) onSet(read);
    setTyped(null);
  };
  return (
    <label className="layerfield wide">
      corners
      <Input.TextArea size="small" aria-label={label} autoSize={{ minRows: 1, maxRows: 4 }} value={typed ?? cornersText(points)} status={typed !== null && read === null ? "error" : ""} onChange={(e) => setTyped(e.target.value)} onBlur={take} onPressEnter={(e) => { e.preventDefault(); take(); }} />
      {typed !== null && read === null && <span className="fault small" role="alert">three or more pairs, as 2 2, 8 2, 5 9</span>}
    </label>
  );
}
