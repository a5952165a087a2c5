import type { BuildDocument, Operation } from "../../api/client";
import { freeName, type Intent } from "./intents";

/** Parts and groups as documents hold them, with ids of their own. */
export interface Fragment {
  readonly groups: readonly Record<string, unknown>[];
  readonly parts: readonly Record<string, unknown>[];
}

/** What a fragment becomes in a document: ids and names that are free there, needs among its own parts going along. */
export function fitted(fragment: Fragment, document: BuildDocument): Fragment {
  const groupIds = document.groups?.map((g) => g.id) ?? [];
  const partIds = document.parts?.map((p) => p.id ?? "") ?? [];
  const names = document.parts?.map((p) => p.name) ?? [];
  const groups = new Map<unknown, string>();
  const parts = new Map<unknown, string>();
  for (const g of fragment.groups) {
    groups.set(g["id"], freeName("group", groupIds));
    groupIds.push(groups.get(g["id"]) as string);
  }
  for (const p of fragment.parts) {
    parts.set(p["id"], freeName("part", partIds));
    partIds.push(parts.get(p["id"]) as string);
  }
  const called = document.groups?.map((g) => g.name) ?? [];
  const named = (name: string, names: string[]): string => {
    const free = names.includes(name) ? freeName(name.replace(/ \d+$/, ""), [name, ...names], " ") : name;
    names.push(free);
    return free;
  };
  const inside = (member: Record<string, unknown>) => (member["group"] === undefined ? {} : { group: groups.get(member["group"]) ?? member["group"] });
  const others = (value: unknown): unknown => (Array.isArray(value) ? value.map(others) : (parts.get(value) ?? value));
  const step = (s: Record<string, unknown>) => ({ ...s, ...("part" in s ? { part: others(s["part"]) } : {}), ...("parts" in s ? { parts: others(s["parts"]) } : {}) });
  return {
    groups: fragment.groups.map((g) => ({ ...g, id: groups.get(g["id"]), name: named(String(g["name"]), called), ...inside(g) })),
    parts: fragment.parts.map((p) => ({
      ...p,
      id: parts.get(p["id"]),
      name: named(String(p["name"]), names),
      ...inside(p),
      ...(p["of"] === undefined ? {} : { of: others(p["of"]) }),
      ...(Array.isArray(p["steps"]) ? { steps: (p["steps"] as Record<string, unknown>[]).map(step) } : {}),
    })),
  };
}

/** Put a fragment into the build; `told` hears which ids it got. */
export function addFragment(fragment: Fragment, told: (fitted: Fragment) => void = () => undefined): Intent {
  return (document) => {
    const own = fitted(fragment, document);
    told(own);
    const patch: Operation[] = [];
    if (own.groups.length > 0) patch.push({ op: "add", path: "/groups", value: [...(document.groups ?? []), ...own.groups] });
    if (document.parts === undefined) patch.push({ op: "add", path: "/parts", value: own.parts });
    else for (const part of own.parts) patch.push({ op: "add", path: "/parts/-", value: part });
    return patch;
  };
}
