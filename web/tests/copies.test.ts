import { box, kinds, open } from "./kit";

import assert from "node:assert/strict";
import { test } from "node:test";
import { Matrix4, Vector3 } from "three";

import type { BuildDocument, Group, Part } from "../src/api/client";
import { addCopies, copiesOf } from "../src/model/places/copies";
import { after, moveMember, setMember } from "../src/model/document/members";
import { planeBetween, type Plane } from "../src/model/places/mirroring";
import { matrixOf } from "../src/model/places/frames";
import { stayingPut } from "../src/model/places/placements";
import { editor, type Triple } from "../src/model/store";
import { Boards } from "../src/scene/boards/Boards";
import { SnapTargets } from "../src/scene/snap";
import { PREFS, prefs } from "../src/model/prefs";
import { seen } from "./kit";

const CUBE = box([-0.5, -0.5, -0.5], [0.5, 0.5, 0.5]);
const GROUP: Group = { id: "g", name: "Fence", placement: { translate: [100, 0, 0], rotate: [0, 90, 0], scale: [1, 1, 1] } };

/** A build of these parts and groups, in centimetres. */
function build(parts: readonly object[], groups: readonly Group[]): BuildDocument {
  open(Object.fromEntries(parts.map((p) => [(p as Part).id ?? "", CUBE])));
  const state = editor.get();
  const document = { ...state.build!.document, unit: "cm" as const, parts: parts as Part[], groups: [...groups] };
  editor.set({ build: { ...state.build!, document } });
  return document;
}

const near = (a: Matrix4, b: Matrix4) => a.elements.forEach((v, i) => assert.ok(Math.abs(v - b.elements[i]!) < 1e-7, `${a.elements.join(" ")} is not ${b.elements.join(" ")}`));

test("a group is copied with all that is in it, steps naming the copies of what came along", () => {
  const parts = [
    { id: "a", name: "Post 1", group: "in", colour: "#c9a24b", steps: [{ id: "b", kind: "box", size: [1, 1, 1] }] },
    { id: "b", name: "Rail", group: "g", steps: [{ id: "b", kind: "box", size: [1, 1, 1] }, { id: "c", kind: "boolean", parts: ["a", "z"] }, { id: "r", kind: "array", count: 2, along: { part: "a" } }] },
    { id: "z", name: "Bolt", steps: [{ id: "b", kind: "box", size: [1, 1, 1] }] },
  ];
  const document = build(parts, [GROUP, { id: "in", name: "Inner", group: "g" }]);
  const made = copiesOf(editor.get(), ["g:g"], "plain", () => ({ placement: { translate: [5, 0, 0] } }) as Partial<Group & Part>);
  assert.deepEqual(made.groups.map((g) => [g.id, g.name, g.group]), [["group1", "Fence 2", undefined], ["group2", "Inner 2", "group1"]]);
  assert.deepEqual(made.groups[0]!.placement, { translate: [5, 0, 0] });
  assert.deepEqual(made.parts.map((p) => [p.id, p.name, p.group]), [["part1", "Post 2", "group2"], ["part2", "Rail 2", "group1"]]);
  assert.deepEqual(made.parts[1]!.steps!.slice(1), [{ id: "c", kind: "boolean", parts: ["part1", "z"] }, { id: "r", kind: "array", count: 2, along: { part: "part1" } }]);
  assert.deepEqual(made.keys, ["g:group1"]);
  assert.deepEqual(addCopies(made)(document, kinds())?.map((op) => op.path), ["/groups/-", "/groups/-", "/parts/-", "/parts/-"]);
  const linked = copiesOf(editor.get(), ["g:g", "p:b"], "linked");
  assert.equal(linked.parts[0]?.colour, "#c9a24b");
  assert.deepEqual(linked.parts.map((p) => [p.of, p.steps]), [["a", undefined], ["b", undefined]]); // what is in a chosen group goes along
});

for (const how of ["x", "y", "z", { point: [0.2, 0.1, 0] as Triple, normal: [1, 2, -0.5] as Triple }] as const) {
  test(`a mirrored group is the image of the group, across ${JSON.stringify(how)}`, () => {
    const joint = { kind: "turn" as const, at: [1, 2, 3] as Triple, axis: [0, 1, 0.2] as Triple, from: 0, to: 90, now: 30 };
    const parts = [{ id: "a", name: "Post", group: "g", placement: { translate: [7, 8, 9], rotate: [10, 20, 30] }, joint, steps: [] }];
    build(parts, [GROUP]);
    const made = copiesOf(editor.get(), ["g:g"], how);
    const plane: Plane = typeof how === "string" ? { point: [0, 0, 0], normal: ["x", "y", "z"].map((a) => Number(a === how)) as Triple } : how;
    const n = new Vector3(...plane.normal).normalize();
    const reflect = (p: Vector3) => p.clone().addScaledVector(n, -2 * n.dot(p.clone().sub(new Vector3(...plane.point))));
    const copy = made.parts[0] as Part;
    const flip = new Vector3(1, 1, 1).setComponent("xyz".indexOf(copy.mirrored as string), -1);
    const [from, to] = [matrixOf(parts[0] as unknown as Part, 0.01, [GROUP]), matrixOf(copy, 0.01, made.groups)];
    for (const p of [new Vector3(0, 0, 0), new Vector3(1, 2, 3), new Vector3(-1, 0.5, 0)]) {
      const [is, wanted] = [p.clone().multiply(flip).applyMatrix4(to), reflect(p.clone().applyMatrix4(from))];
      assert.ok(is.distanceTo(wanted) < 1e-6, `${is.toArray().join(" ")} is not ${wanted.toArray().join(" ")}`);
    }
  });
}

test("the plane between a half and its mirrored copy is told in the half's own axes", () => {
  const half = { id: "a", name: "Half", placement: { translate: [30, 0, 5], rotate: [0, 90, 0] }, steps: [] } as unknown as Part;
  build([half], []);
  const across = (normal: Triple) => copiesOf(editor.get(), ["p:a"], { point: [0.1, 0, 0], normal }).parts[0] as Part;
  const found = planeBetween(half, across([1, 0, 0]), "cm", []);
  assert.equal(found?.axis, "z");
  assert.ok(Math.abs(found.at - -0.2) < 1e-9); // 30 cm to the left of it lies its own z, turned a quarter
  assert.equal(planeBetween(half, across([1, 1, 0]), "cm", []), null);
  assert.equal(planeBetween(half, { ...half, id: "b", mirrored: "x" }, "cm", [])?.at, 0);
});

test("what goes into a placed group, or out of it, stays where it stands", () => {
  const part = { id: "a", name: "Post", placement: { translate: [7, 8, 9], rotate: [10, 20, 30] }, steps: [] } as unknown as Part;
  const document = build([part], [GROUP]);
  const put = stayingPut(editor.get(), "p:a", "g");
  near(matrixOf({ ...part, group: "g", placement: put! }, 0.01, [GROUP]), matrixOf(part, 0.01, []));
  assert.equal(stayingPut(editor.get(), "p:a", null), null);
  const patch = after(moveMember("p:a", "g", null), setMember("p:a", { placement: put }))(document, kinds());
  assert.deepEqual(patch?.map((op) => op.path), ["/parts", "/parts/0/placement"]);
  build([part], [{ id: "g", name: "Plain" }]);
  assert.equal(stayingPut(editor.get(), "p:a", "g"), null);
});

test("points of what is dragged are brought onto targets, the nearest pair first", () => {
  prefs.set({ ...PREFS, snap: { ...PREFS.snap, on: true } });
  const parts = open({ a: CUBE });
  const { camera } = seen(parts);
  const targets = new SnapTargets(parts, new Boards(() => undefined), false);
  const own = [new Vector3(2, 2, 0.5), new Vector3(3, 2, 0.5)];
  const met = targets.nearestOf(own, new Vector3(-1.49, -1.48, 0), camera);
  assert.deepEqual(met?.own.toArray(), [2, 2, 0.5]);
  assert.deepEqual(met?.target.at.toArray().slice(0, 2), [0.5, 0.5]);
  assert.equal(targets.nearestOf(own, new Vector3(), camera), null);
});
