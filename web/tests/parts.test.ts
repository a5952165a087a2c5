import { box, kinds, mesh, open } from "./kit";

import assert from "node:assert/strict";
import { test } from "node:test";
import { Vector3 } from "three";

import type { BuildDocument, Group, Part } from "../src/api/client";
import { dissolveGroup, renameSent } from "../src/model/document/intents";
import { isSet, neededBy, othersFor, partTree } from "../src/model/document/parts";
import { matrixOf } from "../src/model/places/frames";
import { shellCount } from "../src/model/steps/shells";
import { editor } from "../src/model/store";

const part = (id: string, more: object = {}) => ({ id, name: id.toUpperCase(), steps: [{ id: "box1", kind: "box", size: [1, 1, 1] }], ...more }) as unknown as Part;
const group = (id: string, more: object = {}) => ({ id, name: id, ...more }) as Group;
const held = (parts: Part[], groups: Group[] = []) => ({ format: "rhytonic", version: 1, parts, groups }) as unknown as BuildDocument;
const close = (v: Vector3, to: number[]) => v.toArray().forEach((x, i) => assert.ok(Math.abs(x - to[i]!) < 1e-12, `${v.toArray().join(" ")} is not ${to.join(" ")}`));

test("a part stands by its joint, its placement, then its groups from the inmost out, as the core has it", () => {
  const groups = [group("axle", { group: "cart", placement: { translate: [2, 0, 0] } }), group("cart", { placement: { rotate: [0, 90, 0], translate: [0, 5, 0] } })];
  close(new Vector3().applyMatrix4(matrixOf(part("wheel", { group: "axle", placement: { translate: [1, 0, 0] } }), 1, groups)), [0, 5, -3]);
  const door = part("door", { placement: { translate: [0, 0, 4] }, joint: { kind: "turn", at: [-0.5, 0, 0], axis: [0, 2, 0], to: 120, now: 90 } });
  close(new Vector3(0.5, 0, 0).applyMatrix4(matrixOf(door, 1, [])), [-0.5, 0, 3]);
  const drawer = part("drawer", { joint: { kind: "slide", axis: [0, 0, 2], to: 50, now: 30 } });
  close(new Vector3().applyMatrix4(matrixOf(drawer, 0.01, [])), [0, 0, 0.3]);
});

test("what a group is, its members are, at any depth", () => {
  const groups = [group("a", { group: "b" }), group("b", { hidden: true })];
  assert.ok(isSet(part("p", { group: "a" }), groups, "hidden"));
  assert.ok(!isSet(part("p", { group: "a" }), groups, "locked"));
});

test("the list shows groups with their members under them, and folded ones alone", () => {
  const groups = [group("a"), group("b", { group: "a" })];
  const parts = [part("free"), part("in", { group: "b" }), part("too", { group: "a" })];
  const told = (folded: string[]) => partTree(parts, groups, new Set(folded)).map((r) => `${r.depth}${"group" in r ? r.group.id : r.part.id}`);
  assert.deepEqual(told([]), ["0a", "1b", "2in", "1too", "0free"]);
  assert.deepEqual(told(["a"]), ["0a", "0free"]);
});

test("a part is offered neither itself nor what needs it, by steps or as a copy", () => {
  const cut = part("cut", { steps: [{ id: "box1", kind: "box" }, { id: "b", kind: "boolean", parts: ["peg"] }] });
  const copy = part("copy", { of: "cut", steps: [] });
  const document = held([cut, part("peg"), copy, part("free")]);
  open({});
  editor.set({ build: { ...editor.get().build!, document } });
  assert.deepEqual(othersFor(editor.get(), "peg").map((p) => p.id), ["free"]);
  assert.deepEqual(othersFor(editor.get(), "cut").map((p) => p.id), ["peg", "free"]);
  assert.deepEqual(neededBy("peg", document, kinds()).map((p) => p.id), ["cut"]);
  assert.deepEqual(neededBy("cut", document, kinds()).map((p) => p.id), ["copy"]);
});

test("shells connect through edges, not through points", () => {
  assert.equal(shellCount(box([0, 0, 0], [1, 1, 1]).shape), 1);
  const bowtie = [[0, 0, 0], [1, 0, 0], [0, 1, 0], [-1, 0, 0], [0, -1, 0]];
  assert.equal(shellCount(mesh(bowtie, [[0, 1, 2], [0, 3, 4]]).shape), 2);
  assert.equal(shellCount(mesh(bowtie, [[0, 1, 2], [0, 2, 3], [0, 3, 4]]).shape), 1);
});

test("a group is dissolved within the document", () => {
  const document = held([part("p", { group: "a" }), part("q")], [group("a", { group: "b" }), group("b")]);
  assert.deepEqual(dissolveGroup("a")(document, kinds()), [{ op: "add", path: "/parts/0/group", value: "b" }, { op: "remove", path: "/groups/0" }]);
  assert.deepEqual(dissolveGroup("b")(document, kinds()), [{ op: "remove", path: "/groups/0/group" }, { op: "remove", path: "/groups/1" }]);
});

test("what is sent out goes by the name its step tells", () => {
  const from = { id: "from_part1", kind: "from_part", part: "chest", step: "lift" };
  const chest = part("chest", { steps: [{ id: "box1", kind: "box" }, { id: "lift", kind: "split_off", into: "Lid" }] });
  const document = held([chest, part("lid", { steps: [from] }), part("other", { steps: [{ ...from, step: "else" }] })]);
  assert.deepEqual(renameSent("chest", "lift", "into", "Cover")(document, kinds()), [
    { op: "add", path: "/parts/0/steps/1/into", value: "Cover" },
    { op: "replace", path: "/parts/1/name", value: "Cover" },
  ]);
});
