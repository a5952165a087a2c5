import { kinds, open } from "./kit";

import assert from "node:assert/strict";
import { test } from "node:test";

import type { BuildDocument, Operation, Part } from "../src/api/client";
import * as intents from "../src/model/document/intents";
import { merged } from "../src/model/document/threeWay";
import * as members from "../src/model/document/members";

open({});
assert.ok(kinds().length > 0);

const part = (steps: object[], more: object = {}) => ({ id: "p", name: "Case", steps, ...more }) as unknown as Part;
const held = (parts: Part[], more: object = {}) => ({ format: "rhytonic", version: 1, parts, ...more }) as unknown as BuildDocument;
const BOX = { id: "box1", kind: "box", size: [1, 1, 1] };
const BEVEL = { id: "bevel1", kind: "bevel", width: 0.1 };
const SMOOTH = { id: "sub1", kind: "subdivision" };

/** A document after a patch: adds, replaces, removes and moves of plain paths, as the server carries them out. */
function after(document: BuildDocument, patch: Operation[] | null): BuildDocument {
  const out = structuredClone(document) as unknown as Record<string, unknown>;
  const at = (path: string) => {
    const keys = path.split("/").slice(1);
    const last = keys.pop() as string;
    return { where: keys.reduce((o, k) => o[k] as Record<string, unknown>, out), last };
  };
  const put = (path: string, value: unknown, add: boolean) => {
    const { where, last } = at(path);
    if (!Array.isArray(where)) where[last] = value;
    else if (last === "-") where.push(value);
    else where.splice(Number(last), add ? 0 : 1, value);
  };
  const take = (path: string): unknown => {
    const { where, last } = at(path);
    const was = where[last];
    if (Array.isArray(where)) where.splice(Number(last), 1);
    else delete where[last];
    return was;
  };
  for (const o of patch ?? []) {
    if (o.op === "remove") take(o.path);
    else if (o.op === "move") put(o.path, take(o.from as string), true);
    else put(o.path, o.value, o.op === "add");
  }
  return out as unknown as BuildDocument;
}

const ids = (document: BuildDocument) => (document.parts?.[0]?.steps ?? []).map((s) => s.id);
const run = (document: BuildDocument, intent: intents.Intent) => after(document, intent(document, kinds()));

test("a step goes in above the live ones, and a live one at the end", () => {
  const document = held([part([BOX, SMOOTH])]);
  assert.deepEqual(ids(run(document, intents.addStep("p", BEVEL))), ["box1", "bevel1", "sub1"]);
  assert.deepEqual(ids(run(document, intents.addStep("p", { id: "m", kind: "mirror", axis: "x" }))), ["box1", "sub1", "m"]);
});

test("with a working mark a step goes in below it, and the mark moves on", () => {
  const told = run(held([part([BOX, { ...BEVEL, id: "a" }, { ...BEVEL, id: "b" }], { mark: "a" })]), intents.addStep("p", BEVEL));
  assert.deepEqual(ids(told), ["box1", "a", "bevel1", "b"]);
  assert.equal(told.parts?.[0]?.mark, "bevel1");
});

test("what stands in no document any more asks for nothing", () => {
  const document = held([part([BOX])]);
  for (const intent of [
    intents.addStep("gone", BEVEL), intents.setStep("p", "gone", { width: 1 }), intents.setStepNumber("p", "gone", "size", 0, 1, []), members.placeMember("p:gone", { scale: [2, null, null] }),
    members.moveMember("p:gone", null, null), intents.removeStep("p", "gone"), intents.moveStep("p", "gone", 1), intents.duplicateStep("p", "gone"), intents.setMark("gone", null),
    intents.setPart("gone", { hidden: true }), intents.removePart("gone"), intents.keepSet("gone", "s", {}), intents.dropSet("gone", "s"), intents.setBoard("gone", {}),
    intents.moveBoard("gone", 0, 1), intents.removeBoard("gone"), intents.orderBoard("gone", 1), intents.setGuide("gone", {}), intents.removeGuide("gone"), intents.setSize("gone", {}),
    intents.removeSize("gone"), intents.cutBoard("gone", []), members.setMember("g:gone", {}), intents.dissolveGroup("gone"), intents.renameSent("p", "gone", "into", "x"),
  ]) assert.equal(intent(document, kinds()), null);
});

test("values are set, and taken out again where they are given as nothing", () => {
  const document = held([part([BOX, { ...BEVEL, segments: 2 }])]);
  const told = run(document, intents.setStep("p", "bevel1", { width: 3, segments: undefined, roundness: undefined }));
  assert.deepEqual(told.parts?.[0]?.steps?.[1], { id: "bevel1", kind: "bevel", width: 3 });
});

test("one number of several is set beside the others, stored or at their defaults", () => {
  const document = held([part([BOX, { id: "t", kind: "transform" }])]);
  const numbers = (d: BuildDocument, i: number, name: string) => (d.parts?.[0]?.steps?.[i] as unknown as Record<string, unknown>)[name];
  assert.deepEqual(numbers(run(document, intents.setStepNumber("p", "box1", "size", 1, 7, [])), 0, "size"), [1, 7, 1]);
  assert.deepEqual(numbers(run(document, intents.setStepNumber("p", "t", "scale", 2, 7, [1, 1, 1])), 1, "scale"), [1, 1, 7]);
});

test("a placement begins where nothing was placed", () => {
  const bare = held([part([BOX])]);
  assert.deepEqual(run(bare, members.placeMember("p:p", { scale: [null, 2, null] })).parts?.[0]?.placement, { scale: [1, 2, 1] });
  assert.deepEqual(run(bare, members.placeMember("p:p", { translate: [1, 2, 3] })).parts?.[0]?.placement, { translate: [1, 2, 3] });
  const placed = held([part([BOX], { placement: { translate: [1, 1, 1] } })], { groups: [{ id: "g", name: "G" }] });
  assert.deepEqual(run(placed, members.placeMember("p:p", { translate: [null, null, 5] })).parts?.[0]?.placement, { translate: [1, 1, 5] });
  assert.deepEqual(run(placed, members.placeMember("p:p", { rotate: [90, null, null] })).parts?.[0]?.placement, { translate: [1, 1, 1], rotate: [90, 0, 0] });
  assert.deepEqual(run(placed, members.placeMember("g:g", { translate: [0, 4, 0] })).groups?.[0]?.placement, { translate: [0, 4, 0] });
});

test("parts and groups are put elsewhere in the list, never a group into itself", () => {
  const named = (d: BuildDocument) => [(d.parts ?? []).map((p) => `${p.id}${p.group ?? ""}`), (d.groups ?? []).map((g) => `${g.id}${g.group ?? ""}`)];
  const three = held([part([BOX]), part([BOX], { id: "q", group: "g" }), part([BOX], { id: "r" })], { groups: [{ id: "g", name: "G" }, { id: "h", name: "H", group: "g" }] });
  assert.deepEqual(named(run(three, members.moveMember("p:r", "g", "p:q"))), [["p", "rg", "qg"], ["g", "hg"]]);
  assert.deepEqual(named(run(three, members.moveMember("p:q", null, null))), [["p", "r", "q"], ["g", "hg"]]);
  assert.deepEqual(named(run(three, members.moveMember("p:p", "h", null))), [["qg", "r", "ph"], ["g", "hg"]]);
  assert.deepEqual(named(run(three, members.moveMember("g:h", null, "g:g"))), [["p", "qg", "r"], ["h", "g"]]);
  assert.equal(members.moveMember("g:g", "h", null)(three, kinds()), null);
  assert.equal(members.moveMember("p:r", null, null)(three, kinds()), null);
});

test("a step that bears the mark hands it to the one above", () => {
  const told = run(held([part([BOX, { ...BEVEL, id: "a" }, { ...BEVEL, id: "b" }], { mark: "b" })]), intents.removeStep("p", "b"));
  assert.deepEqual([ids(told), told.parts?.[0]?.mark], [["box1", "a"], "a"]);
});

test("steps move among each other, never above the base form", () => {
  const document = held([part([BOX, { ...BEVEL, id: "a" }, { ...BEVEL, id: "b" }])]);
  assert.deepEqual(ids(run(document, intents.moveStep("p", "b", -1))), ["box1", "b", "a"]);
  assert.equal(intents.moveStep("p", "a", -1)(document, kinds()), null);
  assert.equal(intents.moveStep("p", "b", 1)(document, kinds()), null);
});

test("a copy of a step stands below it; with a pick of its own it goes where one works", () => {
  const document = held([part([BOX, BEVEL, { ...BEVEL, id: "c" }])]);
  assert.deepEqual(ids(run(document, intents.duplicateStep("p", "bevel1"))), ["box1", "bevel1", "bevel2", "c"]);
  const told = run(document, intents.duplicateStep("p", "bevel1", { edges: "all" }));
  assert.deepEqual(ids(told), ["box1", "bevel1", "c", "bevel2"]);
  assert.deepEqual((told.parts?.[0]?.steps?.[3] as unknown as Record<string, unknown>)["pick"], { edges: "all" });
});

test("the mark is moved, taken off, and left where it stands", () => {
  const document = held([part([BOX, BEVEL], { mark: "box1" })]);
  assert.equal(run(document, intents.setMark("p", "bevel1")).parts?.[0]?.mark, "bevel1");
  assert.ok(!("mark" in (run(document, intents.setMark("p", null)).parts?.[0] as object)));
  assert.equal(intents.setMark("p", "box1")(document, kinds()), null);
});

test("lists begin with their first member", () => {
  const bare = held([]);
  delete (bare as { parts?: unknown }).parts;
  assert.equal(run(bare, intents.addPart({ name: "A" })).parts?.length, 1);
  assert.equal(run(run(bare, intents.addBoard({ id: "b" } as never)), intents.addBoard({ id: "c" } as never)).boards?.length, 2);
  assert.equal(run(bare, intents.addGuide({ id: "g" } as never)).guides?.length, 1);
  assert.equal(run(bare, intents.addSize({ id: "s" } as never)).sizes?.length, 1);
});

test("a set of one name gives way to the next", () => {
  const first = run(held([part([BOX])]), intents.keepSet("p", "rim", { faces: "all" }));
  const second = run(first, intents.keepSet("p", "rim", { edges: "all" }));
  assert.deepEqual(second.parts?.[0]?.sets, [{ name: "rim", pick: { edges: "all" } }]);
  assert.deepEqual(run(second, intents.dropSet("p", "rim")).parts?.[0]?.sets, []);
});

test("boards are moved, ordered and cut up under ids of their own", () => {
  const boards = [{ id: "board1", at: [1, 2] }, { id: "b" }];
  const document = held([], { boards });
  assert.deepEqual(run(document, intents.moveBoard("board1", 1, 5)).boards?.[0]?.at, [1, 5]);
  assert.deepEqual(run(document, intents.moveBoard("b", 0, 5)).boards?.[1]?.at, [5, 0]);
  assert.deepEqual(run(document, intents.orderBoard("board1", 1)).boards?.map((b) => b.id), ["b", "board1"]);
  assert.equal(intents.orderBoard("b", 1)(document, kinds()), null);
  const cut = run(document, intents.cutBoard("b", [{ view: "front" }, { view: "top" }] as never));
  assert.deepEqual(cut.boards?.map((b) => b.id), ["board1", "board2", "board3"]);
  assert.ok(!("view" in (run(held([], { boards: [{ id: "x", view: "top" }] }), intents.setBoard("x", { view: undefined })).boards?.[0] as object)));
});

test("several wishes are one patch, or none where one of them has become senseless", () => {
  const document = held([part([BOX]), { ...part([BOX]), id: "q" }]);
  const both = intents.together(intents.addStep("p", BEVEL), intents.setPart("q", { ghosted: true }));
  const told = run(document, both);
  assert.deepEqual([ids(told), told.parts?.[1]?.ghosted], [["box1", "bevel1"], true]);
  assert.equal(intents.together(intents.addStep("p", BEVEL), intents.setPart("gone", {}))(document, kinds()), null);
});

test("a patch the core worked out holds only for the parts it was worked out for", () => {
  const document = held([part([BOX])]);
  const patch: Operation[] = [{ op: "add", path: "/name", value: "x" }];
  assert.deepEqual(intents.asTold(patch, document)(structuredClone(document), kinds()), patch);
  assert.equal(intents.asTold(patch, document)(held([]), kinds()), null);
});

test("display settings stand beside those there are", () => {
  const told = run(held([], { display: { unit: "mm" } }), intents.setDisplay({ digits: 2 }));
  assert.deepEqual(told.display, { unit: "mm", digits: 2 });
});

test("what differs between two sets of values is changed, and the rest stays as it is by then", () => {
  const lattice = { id: "l", kind: "lattice", divisions: [2, 2, 2], offsets: { "0,0,0": [0, 1, 0], "1,0,0": [9, 9, 9] } };
  const document = held([part([BOX, lattice], {})]);
  const before = { divisions: [2, 2, 2], basis: "bernstein", offsets: { "0,0,0": [0, 1, 0], "2,0,0": [0, 0, 1] } };
  const now = { divisions: [2, 2, 2], basis: "bspline", offsets: { "0,0,0": [0, 2, 0] } };
  const patch = intents.changeStep("p", "l", before, now)(document, kinds());
  const changed = after(document, patch).parts![0]!.steps![1] as unknown as typeof lattice & { basis: string };
  assert.deepEqual(changed.offsets, { "0,0,0": [0, 2, 0], "1,0,0": [9, 9, 9] }); // what another window moved stays
  assert.equal(changed.basis, "bspline");
  assert.deepEqual(intents.changeStep("p", "l", { basis: "bspline" }, {})(document, kinds()), []);
  assert.equal(intents.changeStep("p", "gone", before, now)(document, kinds()), null);
});

test("changes of two hands come together, down to a number of a point", () => {
  const base = { offsets: { a: [0, 1, 0], b: [1, 1, 1] }, basis: "bernstein", divisions: [2, 2, 2] };
  const mine = { offsets: { a: [0, 1, 2], b: [1, 1, 1] }, basis: "bernstein", divisions: [2, 2, 2] };
  const theirs = { offsets: { a: [3, 1, 0], c: [4, 4, 4] }, basis: "bspline", divisions: [2, 2, 2] };
  assert.deepEqual(merged(base, mine, theirs), { offsets: { a: [3, 1, 2], c: [4, 4, 4] }, basis: "bspline", divisions: [2, 2, 2] });
  assert.deepEqual(merged([1, 2], [1, 2, 3], [2, 2]), [1, 2, 3]);
});
