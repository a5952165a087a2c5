import type { BuildDocument, Group, Operation, Part } from "../../api/client";
import type { Intent } from "./intents";
import { groupsAround } from "./parts";
import { editor, type EditorState, groupsOf, partsOf } from "../store";

/** A part or a group among the parts of a build, by `p:` or `g:` and its id. */
export type Key = string;
export type Member = Part | Group;
export type Placement = NonNullable<Part["placement"]>;

export function partKey(part: Part): Key {
  return `p:${part.id}`;
}

export function groupKey(group: Group): Key {
  return `g:${group.id}`;
}

export function memberOf(state: EditorState, key: Key | null): Member | null {
  const id = key?.slice(2);
  if (key === null) return null;
  return (key.startsWith("p:") ? partsOf(state).find((p) => p.id === id) : groupsOf(state).find((g) => g.id === id)) ?? null;
}

/** What is worked on as a whole: what is chosen in the list, else the current part. */
export function chosenOf(state: EditorState): readonly Key[] {
  const there = state.chosen.filter((key) => memberOf(state, key) !== null);
  if (there.length > 0) return there;
  return state.current === null ? [] : [`p:${state.current}`];
}

/** The same without those that go along with a chosen group anyway. */
export function outermost(state: EditorState, keys: readonly Key[]): Key[] {
  const groups = groupsOf(state);
  return keys.filter((key) => {
    const member = memberOf(state, key);
    return member !== null && !groupsAround(member, groups).some((g) => keys.includes(groupKey(g)));
  });
}

/** Values of a part or group. */
export function setMember(key: Key, values: Record<string, unknown>): Intent {
  return (document) => {
    const [list, name] = key.startsWith("p:") ? ([document.parts, "parts"] as const) : ([document.groups, "groups"] as const);
    const at = (list ?? []).findIndex((m) => m.id === key.slice(2));
    return at < 0 ? null : Object.entries(values).map(([k, value]): Operation => ({ op: "add", path: `/${name}/${at}/${k}`, value }));
  };
}

const EMPTY = { translate: [0, 0, 0], rotate: [0, 0, 0], scale: [1, 1, 1] } as const;

/** One number of a placement, or all of one row. */
export function placeMember(key: Key, values: { readonly [K in keyof Placement]?: readonly (number | null)[] }): Intent {
  return (document) => {
    const [list, name] = key.startsWith("p:") ? ([document.parts, "parts"] as const) : ([document.groups, "groups"] as const);
    const at = (list ?? []).findIndex((m) => m.id === key.slice(2));
    const held = list?.[at]?.placement;
    if (at < 0) return null;
    const rows = Object.entries(values).map(([row, given]) => {
      const now = (held?.[row as keyof Placement] ?? EMPTY[row as keyof typeof EMPTY]) as readonly number[];
      return [row, now.map((v, i) => given?.[i] ?? v)] as const;
    });
    const path = `/${name}/${at}/placement`;
    if (held == null) return [{ op: "add", path, value: Object.fromEntries(rows) }];
    return rows.map(([row, value]) => ({ op: "add", path: `${path}/${row}`, value }));
  };
}

/** Put parts or groups elsewhere in the list: into a group or out of all, before another one or last. */
export function moveMember(key: Key, group: string | null, before: Key | null): Intent {
  return (document) => {
    const isPart = key.startsWith("p:");
    const list: readonly Member[] = (isPart ? document.parts : document.groups) ?? [];
    const member = list.find((m) => m.id === key.slice(2));
    if (member === undefined || before === key) return null;
    if (!isPart) {
      for (let at = group; at !== null; at = document.groups?.find((g) => g.id === at)?.group ?? null) if (at === member.id) return null;
    }
    const { group: was, ...rest } = member;
    const moved = group === null ? rest : { ...rest, group };
    const others = list.filter((m) => m !== member);
    const at = before === null ? others.length : others.findIndex((m) => m.id === before.slice(2));
    if ((was ?? null) === group && list.indexOf(member) === (at < 0 ? others.length : at)) return null;
    return [{ op: "add", path: isPart ? "/parts" : "/groups", value: at < 0 ? [...others, moved] : [...others.slice(0, at), moved, ...others.slice(at)] }];
  };
}

/** One intent, then another against what it left. */
export function after(first: Intent, then: Intent): Intent {
  return (document, kinds) => {
    const patch = first(document, kinds);
    const rest = patch === null ? null : then(patched(document, patch), kinds);
    return patch === null || rest === null ? null : [...patch, ...rest];
  };
}

/** The document with lists of parts and groups as a patch of whole lists left them. */
function patched(document: BuildDocument, patch: readonly Operation[]): BuildDocument {
  return patch.reduce((d, op) => (op.path === "/parts" || op.path === "/groups" ? { ...d, [op.path.slice(1)]: op.value } : d), document);
}

editor.subscribe((state, before) => {
  // another part was turned to elsewhere: what was chosen in the list is chosen no more
  if (state.current !== before.current && state.chosen.length > 0 && !state.chosen.includes(`p:${state.current}`)) editor.set({ chosen: [] });
});
