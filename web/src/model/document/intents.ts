import { deepEqual } from "fast-equals";

import type { Board, BuildDocument, Guide, KindInfo, Operation, Part, Pattern, Size, Step } from "../../api/client";
import { isRow, isSet } from "./threeWay";

/**
 * What a person wants done, written against the document as it stands when it is sent: on a conflict it is asked again
 * for the newer document. Which kinds of steps there are is told with it: live ones go elsewhere. Null when it no longer makes
 * sense.
 */
export type Intent = (document: BuildDocument, kinds: Kinds) => Operation[] | null;
export type Kinds = readonly KindInfo[];

/** Several at once, each for the document that the ones before leave alone: they touch different parts, and add at the end. */
export function together(...intents: readonly Intent[]): Intent {
  return (document, kinds) => {
    const patches = intents.map((intent) => intent(document, kinds));
    return patches.some((p) => p === null) ? null : patches.flatMap((p) => p ?? []);
  };
}

function partAt(document: BuildDocument, id: string): { part: Part; path: string } | null {
  const at = document.parts?.findIndex((p) => p.id === id) ?? -1;
  const part = document.parts?.[at];
  return part === undefined ? null : { part, path: `/parts/${at}` };
}

function stepAt(document: BuildDocument, part: string, step: string): { path: string; step: Step; index: number; part: Part } | null {
  const found = partAt(document, part);
  const index = found?.part.steps?.findIndex((s) => s.id === step) ?? -1;
  const at = found?.part.steps?.[index];
  return found === null || at === undefined ? null : { path: `${found.path}/steps/${index}`, step: at, index, part: found.part };
}

function isLive(step: Step, kinds: Kinds): boolean {
  return ("live" in step && step.live === true) || (kinds.find((k) => k.word === step.kind)?.live ?? false);
}

/** How many steps stand above the working mark. */
export function cageEnd(part: Part, kinds: Kinds): number {
  const steps = part.steps ?? [];
  if (part.mark) return steps.findIndex((s) => s.id === part.mark) + 1;
  let end = steps.length;
  while (end > 1 && isLive(steps[end - 1] as Step, kinds)) end -= 1;
  return end;
}

/** The first free name made of a word and a number. */
export function freeName(word: string, taken: readonly (string | null | undefined)[], gap = ""): string {
  let number = 1;
  while (taken.includes(`${word}${gap}${number}`)) number += 1;
  return `${word}${gap}${number}`;
}

export function addStep(part: string, step: Record<string, unknown>): Intent {
  return (document, kinds) => {
    const found = partAt(document, part);
    if (found === null) return null;
    const live = isLive(step as unknown as Step, kinds);
    const at = live ? (found.part.steps?.length ?? 0) : cageEnd(found.part, kinds);
    const patch: Operation[] = [{ op: "add", path: `${found.path}/steps/${at}`, value: step }];
    if (found.part.mark && !live) patch.push({ op: "replace", path: `${found.path}/mark`, value: step["id"] });
    return patch;
  };
}

/** Several edits one after the other at the working mark, named as they come. */
export function addSteps(part: string, steps: readonly Readonly<Record<string, unknown>>[]): Intent {
  return (document, kinds) => {
    const found = partAt(document, part);
    if (found === null) return null;
    const taken = (found.part.steps ?? []).map((s) => s.id);
    const at = cageEnd(found.part, kinds);
    const patch = steps.map((step, i): Operation => {
      const id = freeName(String(step["kind"]), taken);
      taken.push(id);
      return { op: "add", path: `${found.path}/steps/${at + i}`, value: { ...step, id } };
    });
    if (found.part.mark) patch.push({ op: "replace", path: `${found.path}/mark`, value: taken[taken.length - 1] });
    return patch;
  };
}

/** Give a step values; one that is undefined is taken out again. */
export function setStep(part: string, id: string, values: Record<string, unknown>): Intent {
  return (document) => {
    const found = stepAt(document, part, id);
    if (found === null) return null;
    return Object.entries(values).flatMap(([key, value]): Operation[] => {
      const path = `${found.path}/${key}`;
      if (value !== undefined) return [{ op: "add", path, value }];
      return key in found.step ? [{ op: "remove", path }] : [];
    });
  };
}

/** Change what differs between two sets of values of a step and leave the rest as it is by then; of values that are sets themselves,
 * such as offsets by point, and of several numbers in a row, what differs inside. */
export function changeStep(part: string, id: string, before: Readonly<Record<string, unknown>>, after: Readonly<Record<string, unknown>>): Intent {
  const differing = (path: string, held: Readonly<Record<string, unknown>>, was: Readonly<Record<string, unknown>>, now: Readonly<Record<string, unknown>>, deep: boolean): Operation[] =>
    [...new Set([...Object.keys(was), ...Object.keys(now)])].flatMap((key): Operation[] => {
      if (deepEqual(was[key], now[key])) return [];
      const at = `${path}/${key}`;
      if (now[key] === undefined) return key in held ? [{ op: "remove", path: at }] : [];
      const [a, b, c] = [was[key], now[key], held[key]];
      const count = Array.isArray(b) ? b.length : -1;
      if (isRow(a, count) && isRow(b, count) && isRow(c, count)) return b.flatMap((n, i): Operation[] => (n === a[i] ? [] : [{ op: "replace", path: `${at}/${i}`, value: n }]));
      return deep && isSet(a) && isSet(b) && typeof c === "object" && c !== null ? differing(at, c as Readonly<Record<string, unknown>>, a, b, false) : [{ op: "add", path: at, value: b }];
    });
  return (document) => {
    const found = stepAt(document, part, id);
    return found === null ? null : differing(found.path, found.step as unknown as Record<string, unknown>, before, after, true);
  };
}

/** Give one value of a set of values; the others stay as they are by then. */
export function setStepWithin(part: string, id: string, within: string, name: string, value: unknown): Intent {
  return (document) => {
    const found = stepAt(document, part, id);
    const held = found === null ? null : ((found.step as unknown as Record<string, object | null>)[within] ?? {});
    return found === null ? null : [{ op: "add", path: `${found.path}/${within}`, value: { ...held, [name]: value } }];
  };
}

/** Where one island of a pack is held, told by its face; null lets it go. Others' places stay as they are by then. */
export function setHeldPlace(part: string, id: string, face: string, place: object | null): Intent {
  return (document) => {
    const found = stepAt(document, part, id);
    const places = (found?.step as { readonly places?: readonly { readonly face: string }[] | null } | undefined)?.places ?? [];
    const at = places.findIndex((p) => p.face === face);
    if (found === null || at < 0) return null;
    const path = `${found.path}/places`;
    if (place !== null) return [{ op: "replace", path: `${path}/${at}`, value: place }];
    return [{ op: "remove", path: places.length > 1 ? `${path}/${at}` : path }];
  };
}

/** A patch that sets one number of a list, which may so far stand at its defaults. */
function setItem(held: unknown, path: string, index: number, value: number, defaults: readonly number[]): Operation {
  return Array.isArray(held)
    ? { op: "replace", path: `${path}/${index}`, value }
    : { op: "add", path, value: defaults.map((d, i) => (i === index ? value : d)) };
}

/** One number of several, so that two edited one after the other never overwrite each other. */
export function setStepNumber(part: string, id: string, name: string, index: number, value: number, defaults: readonly number[]): Intent {
  return (document) => {
    const found = stepAt(document, part, id);
    if (found === null) return null;
    return [setItem((found.step as unknown as Record<string, unknown>)[name], `${found.path}/${name}`, index, value, defaults)];
  };
}

export function removeStep(part: string, id: string): Intent {
  return (document) => {
    const found = stepAt(document, part, id);
    if (found === null) return null;
    const patch: Operation[] = [{ op: "remove", path: found.path }];
    if (found.part.mark === id) {
      const above = found.part.steps?.[found.index - 1];
      const mark = found.path.replace(/steps\/\d+$/, "mark");
      patch.unshift(above?.id ? { op: "replace", path: mark, value: above.id } : { op: "remove", path: mark });
    }
    return patch;
  };
}

export function moveStep(part: string, id: string, by: -1 | 1): Intent {
  return (document) => {
    const found = stepAt(document, part, id);
    const to = (found?.index ?? 0) + by;
    if (found === null || to < 1 || to >= (found.part.steps?.length ?? 0)) return null;
    return [{ op: "move", from: found.path, path: found.path.replace(/\d+$/, String(to)) }];
  };
}

export function duplicateStep(part: string, id: string, pick?: Record<string, unknown>): Intent {
  return (document, kinds) => {
    const found = stepAt(document, part, id);
    if (found === null) return null;
    const taken = (found.part.steps ?? []).map((s) => s.id);
    const copy = { ...found.step, id: freeName(found.step.kind, taken), ...(pick ? { pick } : {}) };
    if (pick) return addStep(part, copy)(document, kinds);
    return [{ op: "add", path: found.path.replace(/\d+$/, String(found.index + 1)), value: copy }];
  };
}

/** Call what a step sends out otherwise: the part that it is goes by the new name too. */
export function renameSent(part: string, id: string, name: string, value: string): Intent {
  return (document, kinds) => {
    const step = setStep(part, id, { [name]: value })(document, kinds);
    const to = (document.parts ?? []).flatMap((p, i) => {
      const first = p.steps?.[0] as unknown as Record<string, unknown> | undefined;
      return first?.["kind"] === "from_part" && first["part"] === part && first["step"] === id ? [{ i, shell: first["shell"] }] : [];
    });
    return step === null ? null : [...step, ...to.map(({ i, shell }): Operation => ({ op: "replace", path: `/parts/${i}/name`, value: shell == null ? value : `${value} ${shell as number}` }))];
  };
}

/** Stand the working mark below a step; null puts it back where it is by default. */
export function setMark(part: string, id: string | null): Intent {
  return (document) => {
    const found = partAt(document, part);
    if (found === null || (found.part.mark ?? null) === id) return null;
    return id === null ? [{ op: "remove", path: `${found.path}/mark` }] : [{ op: "add", path: `${found.path}/mark`, value: id }];
  };
}

export function addPart(part: Record<string, unknown>): Intent {
  return (document) => [
    document.parts ? { op: "add", path: "/parts/-", value: part } : { op: "add", path: "/parts", value: [part] },
  ];
}

export function setPart(id: string, values: Record<string, unknown>): Intent {
  return (document) => {
    const found = partAt(document, id);
    return found === null ? null : Object.entries(values).map(([key, value]) => ({ op: "add", path: `${found.path}/${key}`, value }));
  };
}

/** Keep a pick of a part under a name; one of the same name gives way. */
export function keepSet(id: string, name: string, pick: Record<string, unknown>): Intent {
  return (document) => {
    const found = partAt(document, id);
    if (found === null) return null;
    const kept = (found.part.sets ?? []).filter((s) => s.name !== name);
    return [{ op: "add", path: `${found.path}/sets`, value: [...kept, { name, pick }] }];
  };
}

export function dropSet(id: string, name: string): Intent {
  return (document) => {
    const found = partAt(document, id);
    if (found === null) return null;
    return [{ op: "add", path: `${found.path}/sets`, value: (found.part.sets ?? []).filter((s) => s.name !== name) }];
  };
}

export function removePart(id: string): Intent {
  return (document) => {
    const found = partAt(document, id);
    return found === null ? null : [{ op: "remove", path: found.path }];
  };
}

/** Take a group away; what is in it goes to the group it was in. */
export function dissolveGroup(id: string): Intent {
  return (document) => {
    const groups = document.groups ?? [];
    const at = groups.findIndex((g) => g.id === id);
    const outer = groups[at]?.group ?? null;
    if (at < 0) return null;
    const moved = (path: string): Operation => (outer === null ? { op: "remove", path } : { op: "add", path, value: outer });
    return [
      ...(document.parts ?? []).flatMap((p, i) => (p.group === id ? [moved(`/parts/${i}/group`)] : [])),
      ...groups.flatMap((g, i) => (g.group === id ? [moved(`/groups/${i}/group`)] : [])),
      { op: "remove", path: `/groups/${at}` },
    ];
  };
}

export function rename(name: string): Intent {
  return () => [{ op: "add", path: "/name", value: name }];
}

export function addBoard(board: Board): Intent {
  return (document) => [
    document.boards?.length ? { op: "add", path: "/boards/-", value: board } : { op: "add", path: "/boards", value: [board] },
  ];
}

function boardAt(document: BuildDocument, id: string): string | null {
  const at = document.boards?.findIndex((b) => b.id === id) ?? -1;
  return at < 0 ? null : `/boards/${at}`;
}

/** Values that are undefined are taken out again. */
export function setBoard(id: string, values: { [K in keyof Board]?: Board[K] | undefined }): Intent {
  return (document) => {
    const path = boardAt(document, id);
    const held = document.boards?.find((b) => b.id === id) as Record<string, unknown> | undefined;
    if (path === null || held === undefined) return null;
    return Object.entries(values).flatMap(([key, value]): Operation[] => {
      if (value !== undefined) return [{ op: "add", path: `${path}/${key}`, value }];
      return key in held ? [{ op: "remove", path: `${path}/${key}` }] : [];
    });
  };
}

/** The same to several boards. */
export function setBoards(values: readonly (readonly [string, Parameters<typeof setBoard>[1]])[]): Intent {
  return (document, kinds) => values.flatMap(([id, of]) => setBoard(id, of)(document, kinds) ?? []);
}

export function moveBoard(id: string, index: 0 | 1, value: number): Intent {
  return (document) => {
    const path = boardAt(document, id);
    const at = document.boards?.find((b) => b.id === id)?.at;
    return path === null ? null : [setItem(at, `${path}/at`, index, value, [0, 0])];
  };
}

export function removeBoard(id: string): Intent {
  return (document) => {
    const path = boardAt(document, id);
    return path === null ? null : [{ op: "remove", path }];
  };
}

/** What stands later stands in front. */
export function orderBoard(id: string, by: -1 | 1): Intent {
  return (document) => {
    const at = document.boards?.findIndex((b) => b.id === id) ?? -1;
    const to = at + by;
    if (at < 0 || to < 0 || to >= (document.boards?.length ?? 0)) return null;
    return [{ op: "move", from: `/boards/${at}`, path: `/boards/${to}` }];
  };
}

type Listed = "guides" | "sizes" | "patterns";

function addTo(list: Listed, value: Guide | Size | Pattern): Intent {
  return (document) => [{ op: "add", path: `/${list}`, value: [...(document[list] ?? []), value] }];
}

function setIn(list: Listed, id: string, values: Record<string, unknown>): Intent {
  return (document) => {
    const at = document[list]?.findIndex((x) => x.id === id) ?? -1;
    const held = document[list]?.[at] as Record<string, unknown> | undefined;
    if (held === undefined) return null;
    return Object.entries(values).flatMap(([key, value]): Operation[] => {
      const path = `/${list}/${at}/${key}`;
      if (value !== undefined) return [{ op: "add", path, value }];
      return key in held ? [{ op: "remove", path }] : [];
    });
  };
}

function removeFrom(list: Listed, id: string): Intent {
  return (document) => {
    const at = document[list]?.findIndex((x) => x.id === id) ?? -1;
    return at < 0 ? null : [{ op: "remove", path: `/${list}/${at}` }];
  };
}

export function addGuide(guide: Guide): Intent {
  return addTo("guides", guide);
}

export function setGuide(id: string, values: Partial<Guide>): Intent {
  return setIn("guides", id, values);
}

export function removeGuide(id: string): Intent {
  return removeFrom("guides", id);
}

export function addSize(size: Size): Intent {
  return addTo("sizes", size);
}

/** Values that are undefined are taken out again. */
export function setSize(id: string, values: { [K in keyof Size]?: Size[K] | undefined }): Intent {
  return setIn("sizes", id, values);
}

export function removeSize(id: string): Intent {
  return removeFrom("sizes", id);
}

export function addPattern(pattern: Pattern): Intent {
  return addTo("patterns", pattern);
}

export function setPattern(id: string, values: { [K in keyof Pattern]?: Pattern[K] | undefined }): Intent {
  return setIn("patterns", id, values);
}

export function removePattern(id: string): Intent {
  return removeFrom("patterns", id);
}

/** Triangles that all that is handed over may have; null for no bound. */
export function setBudget(triangles: number | null): Intent {
  return (document) => (triangles !== null ? [{ op: "add", path: "/budget", value: triangles }] : document.budget == null ? [] : [{ op: "remove", path: "/budget" }]);
}

/** How lengths are shown; what is stored stays. */
export function setDisplay(values: NonNullable<BuildDocument["display"]>): Intent {
  return (document) => [{ op: "add", path: "/display", value: { ...(document.display ?? {}), ...values } }];
}

/** Operations the core worked out for a build as it stood; where its parts are others by now, they make no sense. */
export function asTold(patch: readonly Operation[], stood: BuildDocument): Intent {
  return (document) => (deepEqual(document.parts, stood.parts) ? [...patch] : null);
}

/** A board gives way to several, each under an id of its own. */
export function cutBoard(id: string, pieces: readonly Omit<Board, "id">[]): Intent {
  return (document) => {
    const boards = document.boards ?? [];
    const at = boards.findIndex((b) => b.id === id);
    if (at < 0) return null;
    const taken = boards.map((b) => b.id);
    const made = pieces.map((p) => {
      const own = freeName("board", taken);
      taken.push(own);
      return { ...p, id: own } as Board;
    });
    return [{ op: "add", path: "/boards", value: [...boards.slice(0, at), ...made, ...boards.slice(at + 1)] }];
  };
}
