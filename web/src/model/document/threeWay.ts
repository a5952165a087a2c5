import { deepEqual } from "fast-equals";

/** A value that is a set of values by name. */
export function isSet(value: unknown): value is Readonly<Record<string, unknown>> {
  return typeof value === "object" && value !== null && !Array.isArray(value);
}

/** Several numbers in a row, so many of them. */
export function isRow(value: unknown, count: number): value is readonly number[] {
  return Array.isArray(value) && value.length === count && value.every((n) => typeof n === "number");
}

/** What became of a value in two hands: each hand's changes, down to names and single numbers; where both changed one, mine. */
export function merged(base: unknown, mine: unknown, theirs: unknown): unknown {
  if (deepEqual(mine, base)) return theirs;
  if (deepEqual(theirs, base)) return mine;
  if (isSet(base) && isSet(mine) && isSet(theirs)) {
    const keys = [...new Set([...Object.keys(mine), ...Object.keys(theirs)])];
    return Object.fromEntries(keys.map((key) => [key, merged(base[key], mine[key], theirs[key])]).filter(([, v]) => v !== undefined));
  }
  const count = Array.isArray(mine) ? mine.length : -1;
  return isRow(base, count) && isRow(mine, count) && isRow(theirs, count) ? mine.map((n, i) => (n === base[i] ? (theirs[i] as number) : n)) : mine;
}
