import { Select } from "antd";
import { useMemo } from "react";

import type { ParameterValue } from "../../api/client";
import { isCurve, othersFor } from "../../model/document/parts";
import { partsOf, useEditor } from "../../model/store";

interface Props {
  readonly part: string;
  readonly parameter: ParameterValue;
  readonly value: unknown;
  readonly onChange: (value: string | readonly string[]) => void;
  readonly width?: number;
  /** only parts that end as curves */
  readonly curves?: boolean;
}

/** Other parts of the build by name: those that do not need this one themselves. */
export function PartSelect({ part, parameter, value, onChange, width = 150, curves = false }: Props) {
  const build = useEditor((s) => s.build);
  const kinds = useEditor((s) => s.kinds);
  const offered = useMemo(() => othersFor({ build, kinds }, part).filter((p) => !curves || isCurve(p, build?.document.parts ?? [], kinds)).map((p) => ({ value: p.id ?? "", label: p.name })), [build, kinds, part, curves]);
  const parts = useEditor(partsOf);
  const held = (Array.isArray(value) ? value : value == null ? [] : [value]).map((v) => parts.find((p) => p.id === v || p.name === v)?.id ?? String(v));
  const common = { size: "small", "aria-label": parameter.title, style: { width }, popupMatchSelectWidth: false, options: offered, showSearch: { optionFilterProp: "label" } } as const;
  if (parameter.quantity === "part") return <Select {...common} placeholder="choose" value={held[0] ?? null} onChange={(v: string | null) => v !== null && onChange(v)} />;
  return <Select {...common} mode="multiple" maxTagCount={1} placeholder="choose" value={held} onChange={(v: string[]) => v.length > 0 && onChange(v)} />;
}
