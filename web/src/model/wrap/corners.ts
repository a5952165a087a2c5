/** Corners as they are typed: pairs of numbers, a comma between corners. */
export function cornersText(points: readonly (readonly [number, number])[]): string {
  return points.map(([x, y]) => `${x} ${y}`).join(", ");
}

/** The corners a text tells; null where it tells none: fewer than three, one number alone, or what is no number. A comma or
 * a semicolon ends a corner, blanks stand between its two numbers. */
export function cornersTyped(text: string): readonly (readonly [number, number])[] | null {
  const pairs = text.trim().replace(/[,;]\s*$/, "").split(/[,;]/).map((pair) => pair.trim().split(/\s+/).map((n) => (n === "" ? NaN : Number(n))));
  const good = pairs.length >= 3 && pairs.length <= 2000 && pairs.every((pair) => pair.length === 2 && pair.every(Number.isFinite));
  return good ? (pairs as unknown as readonly (readonly [number, number])[]) : null;
}
