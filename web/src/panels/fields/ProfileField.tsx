import { type InputRef, Select } from "antd";
import { type Ref, useMemo } from "react";

import { focusView } from "../../interaction/focus";
import { isCurve, othersFor } from "../../model/document/parts";
import { partsOf, unitOf, useEditor } from "../../model/store";
import { NumberField } from "./NumberField";

/** What is swept: a polygon or a rectangle about the path, or a part that ends as a curve. */
export type Profile = string | { readonly circle: number; readonly sides?: number } | { readonly rectangle: readonly [number, number] };

interface Props {
  readonly part: string;
  readonly value: Profile;
  readonly inputRef?: Ref<InputRef> | undefined;
  readonly onTry?: (value: Profile) => void;
  readonly onCommit: (value: Profile) => void;
  readonly onCancel?: () => void;
  readonly onEnter?: () => void;
  readonly onLeave?: () => void;
}

const SIDES = 12;

/** A profile: which kind, and its numbers. */
export function ProfileField({ part, value, inputRef, onTry, onCommit, onCancel, onEnter, onLeave }: Props) {
  const unit = useEditor(unitOf);
  const build = useEditor((s) => s.build);
  const kinds = useEditor((s) => s.kinds);
  const parts = useEditor(partsOf);
  const curves = useMemo(() => othersFor({ build, kinds }, part).filter((p) => isCurve(p, build?.document.parts ?? [], kinds)), [build, kinds, part]);
  const named = typeof value === "string" ? (parts.find((p) => p.id === value || p.name === value)?.id ?? value) : null;
  const round = typeof value === "object" && "circle" in value ? value : null;
  const square = typeof value === "object" && "rectangle" in value ? value.rectangle : null;
  const size = round?.circle ?? (square === null ? null : square[0] / 2);
  const turnTo = (next: string) => {
    const r = size ?? 1;
    onCommit(next === "round" ? { circle: r } : next === "rectangle" ? { rectangle: [2 * r, 2 * r] } : next);
    focusView();
  };
  const more = { ...(onCancel === undefined ? {} : { onCancel }), ...(onEnter === undefined ? {} : { onEnter }), ...(onLeave === undefined ? {} : { onLeave }) };
  const length = (label: string, v: number, put: (n: number) => Profile, first: boolean) => (
    <NumberField key={label} {...(first && inputRef !== undefined ? { inputRef } : {})} label={label} unit={unit} suffix={unit} width={76} value={v} onTry={(n) => n > 0 && onTry?.(put(n))} onCommit={(n) => n > 0 && onCommit(put(n))} {...more} />
  );
  return (
    <span className="fields">
      <Select
        size="small"
        aria-label="profile"
        popupMatchSelectWidth={false}
        value={named ?? (round !== null ? "round" : "rectangle")}
        options={[{ value: "round", label: "round" }, { value: "rectangle", label: "rectangle" }, ...curves.map((p) => ({ value: p.id ?? "", label: p.name }))]}
        onChange={turnTo}
      />
      {round !== null && (
        <>
          {length("profile radius", round.circle, (circle) => ({ ...round, circle }), true)}
          <span className="field">
            sides
            <NumberField label="profile sides" unit={null} whole width={54} value={round.sides ?? SIDES} onTry={(n) => n >= 3 && onTry?.({ ...round, sides: n })} onCommit={(n) => n >= 3 && onCommit({ ...round, sides: n })} {...more} />
          </span>
        </>
      )}
      {square !== null && [length("profile width", square[0], (n) => ({ rectangle: [n, square[1]] }), true), length("profile height", square[1], (n) => ({ rectangle: [square[0], n] }), false)]}
    </span>
  );
}
