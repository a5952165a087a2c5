import { deepEqual } from "fast-equals";

import type { BuildDocument, Operation } from "../../api/client";
import { freeName } from "./intents";

const ITEM = /^(.*)\/(\d+|-)$/;

/** What a path of a JSON Patch (RFC 6901) leads to; undefined where there is nothing. */
export function at(document: unknown, path: string): unknown {
  let held: unknown = document;
  for (const key of path.split("/").slice(1)) {
    if (typeof held !== "object" || held === null) return undefined;
    held = (held as Record<string, unknown>)[key.replaceAll("~1", "/").replaceAll("~0", "~")];
  }
  return held;
}

/** Everywhere in a value, an id by its new one. */
function renamed<T>(value: T, ids: ReadonlyMap<string, string>): T {
  if (typeof value === "string") return (ids.get(value) ?? value) as T;
  if (Array.isArray(value)) return value.map((v: unknown) => renamed(v, ids)) as T;
  if (typeof value !== "object" || value === null) return value;
  return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, k === "pick" || k === "through" ? v : renamed<unknown>(v, ids)])) as T;
}

/** A patch whose new items have ids that are free by now, and which were given another. */
export function withFreeIds(document: BuildDocument, patch: readonly Operation[]): { patch: Operation[]; ids: ReadonlyMap<string, string> } {
  const ids = new Map<string, string>();
  for (const op of patch) {
    const list = op.op === "add" ? ITEM.exec(op.path)?.[1] : undefined;
    const id = (op.value as { id?: unknown } | null | undefined)?.id;
    const held = list === undefined ? undefined : at(document, list);
    if (typeof id !== "string" || !Array.isArray(held)) continue;
    const taken = new Set([...held.map((h: { id?: string }) => h.id ?? ""), ...ids.values()]);
    const moved = patch.some((o) => o.op === "remove" && ITEM.exec(o.path)?.[1] === list);
    if (taken.has(id) && !moved) ids.set(id, freeName(id.replace(/\d+$/, ""), [...taken]));
  }
  return { patch: ids.size === 0 ? [...patch] : patch.map((op) => ({ ...op, value: renamed(op.value, ids) })), ids };
}

/** What both sides gave another value: its name, what it is there, and what it would be here; null where there is none. */
export function conflict(before: BuildDocument, mine: readonly Operation[] | null, now: BuildDocument, again: readonly Operation[] | null): { name: string; theirs: unknown; mine: unknown } | null {
  for (const [i, op] of (mine ?? []).entries()) {
    const other = again?.[i];
    if (other === undefined || (op.op !== "replace" && (op.op !== "add" || ITEM.test(op.path)))) continue;
    const [was, is] = [at(before, op.path), at(now, other.path)];
    if (!deepEqual(was, is) && !deepEqual(is, other.value)) return { name: op.path.split("/").findLast((key) => !/^\d*$/.test(key)) ?? "", theirs: is, mine: other.value };
  }
  return null;
}
