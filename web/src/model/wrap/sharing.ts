import type { Part } from "../../api/client";

function hasPortion(part: Part): boolean {
  return part.steps?.some((s) => s.kind === "pack" && s.enabled !== false && s.area != null) ?? false;
}

/** The ids of a part and of those it shares the square with: parts that were packed into portions of one. */
export function sharing(part: Part, parts: readonly Part[]): readonly string[] {
  return hasPortion(part) ? parts.filter(hasPortion).map((p) => p.id ?? "") : [part.id ?? ""];
}
