import type { Group, KindInfo, Operation, Part } from "../../api/client";
import { addPart, freeName, type Intent, together } from "../document/intents";
import { groupKey, type Key, memberOf, outermost, partKey } from "../document/members";
import { acrossAxis, acrossPlane, type Axis, type Plane } from "./mirroring";
import { ownMirrored } from "./ownMirrored";
import { renamedIn } from "../document/parts";
import { type EditorState, groupsOf, partsOf, unitOf } from "../store";

export type Copying = "plain" | "linked" | Axis | `own ${Axis}` | Plane;

function axisOf(how: Axis | `own ${Axis}`): Axis {
  return how.slice(-1) as Axis;
}

type Reflected = Pick<Part, "placement" | "pivot" | "joint">;

/** Where a copy stands: where its original does, or across a plane. */
function standing(state: EditorState, member: Part | Group, how: Copying): Reflected {
  if (how === "plain" || how === "linked") {
    const { placement, pivot, joint } = member;
    return Object.fromEntries(Object.entries({ placement, pivot, joint }).filter(([, v]) => v != null));
  }
  return typeof how === "string" ? acrossAxis(member, axisOf(how)) : acrossPlane(member, how, unitOf(state), groupsOf(state));
}

/** A part that is a copy of another: with a recipe of its own, linked, or reflected across a plane: linked, and by a recipe of its
 * own where that can be. */
export function copyOf(state: EditorState, part: Part, own: { id: string; name: string }, how: Copying): Part {
  if (how === "plain") return { ...part, ...own };
  const beside = Object.fromEntries(Object.entries({ group: part.group, colour: part.colour }).filter(([, v]) => v != null));
  const placed = { ...own, ...beside, ...standing(state, part, how) };
  if (how === "linked") return { ...placed, of: part.of ?? part.id, ...(part.mirrored == null ? {} : { mirrored: part.mirrored }) } as Part;
  const axis = typeof how === "string" ? axisOf(how) : "x";
  const steps = typeof how === "string" && how.startsWith("own") && state.build !== null ? ownMirrored(part, axis, state.build.document, state.kinds) : null;
  return { ...placed, ...(steps === null ? { of: part.id, mirrored: axis } : { steps }) } as Part;
}

export interface Copies {
  readonly parts: readonly Part[];
  readonly groups: readonly Group[];
  /** what stands for what was to be copied */
  readonly keys: readonly Key[];
}

/** Copies of parts and of groups with all that is in them; names are told on. `more` puts each that was asked for elsewhere. */
export function copiesOf(state: EditorState, of: readonly Key[], how: Copying, more: (key: Key) => Partial<Part & Group> = () => ({})): Copies {
  const [parts, groups, keys]: [Part[], Group[], Key[]] = [[], [], []];
  const [partIds, groupIds] = [partsOf(state).map((p) => p.id ?? ""), groupsOf(state).map((g) => g.id)];
  const [partNames, groupNames] = [partsOf(state).map((p) => p.name), groupsOf(state).map((g) => g.name)];
  const copied = new Map<string, string>();
  const fresh = (name: string, names: string[], ids: string[], word: string) => {
    const stem = name.replace(/ \d+$/, "");
    const own = { id: freeName(word, ids), name: freeName(stem, [stem, `${stem} 1`, ...names], " ") };
    ids.push(own.id);
    names.push(own.name);
    return own;
  };
  // within a group that is reflected as a whole, members are reflected in the same plane of their own axes
  const inner: Copying = typeof how === "object" ? "x" : how;
  const copyPart = (part: Part, as: Copying, values: Partial<Part>) => {
    const made = { ...copyOf(state, part, fresh(part.name, partNames, partIds, "part"), as), ...values };
    copied.set(part.id ?? "", made.id ?? "");
    parts.push(made);
    return partKey(made);
  };
  const copyGroup = (group: Group, as: Copying, values: Partial<Group>): Key => {
    const made: Group = { ...group, ...fresh(group.name, groupNames, groupIds, "group"), ...standing(state, group, as), ...values };
    groups.push(made);
    for (const g of groupsOf(state)) if (g.group === group.id) copyGroup(g, inner, { group: made.id });
    for (const p of partsOf(state)) if (p.group === group.id) copyPart(p, inner, { group: made.id });
    return groupKey(made);
  };
  for (const key of outermost(state, of)) {
    const member = memberOf(state, key);
    if (member === null) continue;
    keys.push(key.startsWith("p:") ? copyPart(member as Part, how, more(key)) : copyGroup(member as Group, how, more(key)));
  }
  return { parts: parts.map((p) => withOwn(p, copied, state.kinds)), groups, keys };
}

/** Steps of a copy name the copies of what was copied along with it. */
function withOwn(part: Part, copied: ReadonlyMap<string, string>, kinds: readonly KindInfo[]): Part {
  if (part.steps == null) return part;
  return { ...part, steps: part.steps.map((s) => renamedIn(s, kinds.find((k) => k.word === s.kind), (id) => copied.get(id) ?? id)) };
}

/** Put copies into the build. */
export function addCopies({ parts, groups }: Copies): Intent {
  const addGroups: Intent = (document) => groups.map((group, i): Operation => (document.groups || i > 0 ? { op: "add", path: "/groups/-", value: group } : { op: "add", path: "/groups", value: [group] }));
  return together(addGroups, ...parts.map((p) => addPart(p as unknown as Record<string, unknown>)));
}
