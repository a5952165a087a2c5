/** What a step calls each of several numbers of one value. */
export function letterOf(kind: string, count: number, index: number): string {
  if (count === 2) return (ON_THE_SQUARE.has(kind) ? ["u", "v"] : ["x", "z"])[index] ?? "";
  return ["x", "y", "z"][index] ?? "";
}

const ON_THE_SQUARE = new Set(["uv_transform"]);
