const ON_THE_SQUARE = new Set(["uv_transform"]);
/** A portion of the square: its lower left, its width and its height. */
const PORTION = ["u", "v", "w", "h"];

/** What a step calls each of several numbers of one value. */
export function letterOf(kind: string, count: number, index: number): string {
  const letters = kind === "pack" ? PORTION : count === 2 ? (ON_THE_SQUARE.has(kind) ? ["u", "v"] : ["x", "z"]) : ["x", "y", "z"];
  return letters[index] ?? "";
}
