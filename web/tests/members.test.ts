import { box, kinds, mesh, open, seen, viewOf } from "./kit";

import assert from "node:assert/strict";
import { test } from "node:test";
import { Matrix4, Vector3 } from "three";

import type { BuildDocument, Group, Part } from "../src/api/client";
import { addFragment, fitted } from "../src/model/document/fragment";
import { chosenOf, memberOf, outermost } from "../src/model/document/members";
import { setPick } from "../src/model/picks/picks";
import { matrixAbove, matrixOf, matrixWithin } from "../src/model/places/frames";
import { placementsAfter } from "../src/model/places/placements";
import { hasBorder } from "../src/model/steps/shells";
import { sought, type StockItem } from "../src/model/session/shelf";
import { editor, type ToolSession } from "../src/model/store";
import { ArrayTool } from "../src/tools/array";
import { handle } from "../src/tools/Handle";
import { PlacementHandles } from "../src/tools/placement";
import { Boards } from "../src/scene/boards/Boards";

assert.ok(kinds().length > 0);
const part = (id: string, more: object = {}) => ({ id, name: id, steps: [], ...more }) as unknown as Part;
const group = (id: string, more: object = {}) => ({ id, name: id, ...more }) as Group;
const close = (a: readonly number[], b: readonly number[], near = 1e-6) => a.forEach((x, i) => assert.ok(Math.abs(x - (b[i] as number)) < near, `${a.join(" ")} is not ${b.join(" ")}`));

function hold(parts: Part[], groups: Group[] = [], unit = "m"): void {
  open({});
  editor.set({ build: { ...editor.get().build!, document: { format: "rhytonic", version: 1, unit, parts, groups } as unknown as BuildDocument }, chosen: [], current: parts[0]?.id ?? null });
}

test("what is chosen is the list's choice, else the current part; what is gone is chosen no more", () => {
  hold([part("a"), part("b", { group: "g" })], [group("g")]);
  assert.deepEqual(chosenOf(editor.get()), ["p:a"]);
  editor.set({ chosen: ["g:g", "p:gone", "p:a"] });
  assert.deepEqual(chosenOf(editor.get()), ["g:g", "p:a"]);
  assert.equal(memberOf(editor.get(), "g:g")?.name, "g");
  assert.equal(memberOf(editor.get(), "p:g"), null);
});

test("turning to another part forgets what was chosen; a part that is among it does not", () => {
  hold([part("a"), part("b"), part("c")]);
  editor.set({ chosen: ["p:a", "p:b"] });
  editor.set({ current: "b" });
  assert.deepEqual(editor.get().chosen, ["p:a", "p:b"]);
  editor.set({ current: "c" });
  assert.deepEqual(editor.get().chosen, []);
});

test("what goes along with a chosen group is not moved twice", () => {
  hold([part("a", { group: "in" }), part("b")], [group("out"), group("in", { group: "out" })]);
  assert.deepEqual(outermost(editor.get(), ["p:a", "g:out", "p:b", "g:in"]), ["g:out", "p:b"]);
  assert.deepEqual(outermost(editor.get(), ["g:in", "p:a"]), ["g:in"]);
});

test("a pick on another part is the last pick, though the elements have the same numbers", () => {
  open({ a: box([0, 0, 0], [1, 1, 1]), b: box([2, 0, 0], [3, 1, 1]) });
  setPick("a", "faces", [2]);
  setPick("b", "faces", [2]);
  assert.equal(editor.get().lastPick?.part, "a");
});

test("a change of the build is told by placements, through groups that are turned and scaled", () => {
  const turned = group("g", { placement: { rotate: [0, 90, 0], scale: [2, 2, 2], translate: [1, 0, 0] } });
  hold([part("a", { group: "g", placement: { translate: [0, 3, 0], rotate: [0, 0, 30] } }), part("b", { placement: { scale: [1, 2, 3] } })], [turned]);
  const change = new Matrix4().makeTranslation(0.5, -1, 2).multiply(new Matrix4().makeRotationX(0.4));
  const before = ["a", "b"].map((id) => matrixOf(memberOf(editor.get(), `p:${id}`) as Part, 1, [turned]));
  const told = placementsAfter(["p:a", "p:b"], change);
  ["a", "b"].forEach((id, i) => {
    const now = { ...(memberOf(editor.get(), `p:${id}`) as Part), placement: told[`p:${id}`] } as Part;
    const wanted = change.clone().multiply(before[i] as Matrix4);
    close(matrixOf(now, 1, [turned]).elements as number[], wanted.elements as number[], 1e-4);
  });
  assert.deepEqual(told["p:b"]?.scale, [1, 2, 3]);
  assert.deepEqual(Object.keys(placementsAfter(["p:a"], new Matrix4().makeTranslation(1, 0, 0))["p:a"] ?? {}).sort(), ["rotate", "translate"]); // what was there stays as it was
});

test("axes above a member and within a group are the product of what lies between", () => {
  const groups = [group("in", { group: "out", placement: { translate: [1, 0, 0] } }), group("out", { placement: { rotate: [0, 90, 0] } })];
  const wheel = part("w", { group: "in", placement: { translate: [0, 2, 0] } });
  close(new Vector3().applyMatrix4(matrixAbove(wheel, 1, groups)).toArray(), [0, 0, -1]);
  close(new Vector3().applyMatrix4(matrixWithin(wheel, 1, groups, "out")).toArray(), [1, 2, 0]);
  close(new Vector3().applyMatrix4(matrixWithin(wheel, 1, groups, "in")).toArray(), [0, 2, 0]);
});

test("a fragment gets ids and names that are free, and its needs go along", () => {
  const document = { format: "rhytonic", version: 1, parts: [part("part1", { name: "Leg" })], groups: [group("group1")] } as unknown as BuildDocument;
  const told = fitted(
    {
      groups: [{ id: "g", name: "Bench" }, { id: "h", name: "Frame", group: "g" }],
      parts: [{ id: "x", name: "Leg", group: "h", steps: [{ id: "b", kind: "boolean", part: "y", parts: ["y", "else"] }] }, { id: "y", name: "Leg", of: "x" }],
    },
    document,
  );
  assert.deepEqual(told.groups.map((g) => [g["id"], g["group"]]), [["group2", undefined], ["group3", "group2"]]);
  assert.deepEqual(told.parts.map((p) => [p["id"], p["name"], p["group"], p["of"]]), [["part2", "Leg 1", "group3", undefined], ["part3", "Leg 2", undefined, "part2"]]);
  assert.deepEqual((told.parts[0]?.["steps"] as { part: string; parts: string[] }[])[0], { id: "b", kind: "boolean", part: "part3", parts: ["part3", "else"] });
});

test("a fragment goes into a document in one patch, lists made where there are none", () => {
  const empty = { format: "rhytonic", version: 1 } as unknown as BuildDocument;
  let heard: unknown = null;
  const patch = addFragment({ groups: [], parts: [{ id: "x", name: "Peg" }] }, (own) => (heard = own.parts[0]?.["id"]))(empty, kinds());
  assert.deepEqual(patch, [{ op: "add", path: "/parts", value: [{ id: "part1", name: "Peg" }] }]);
  assert.equal(heard, "part1");
});

test("stock is found by words that begin its name or tags", () => {
  const item = (id: string, name: string, tags: string[]) => ({ id, name, tags, size: [1, 1, 1], own: false }) as unknown as StockItem;
  const shelf = [item("a", "Spoked wheel", ["cart", "wood"]), item("b", "Disc-wheel", ["metal"]), item("c", "Bolt", ["hexagon"])];
  const found = (text: string) => sought(shelf, text).map((i) => i.id);
  assert.deepEqual(found(""), ["a", "b", "c"]);
  assert.deepEqual(found("WHE"), ["a", "b"]);
  assert.deepEqual(found("whe ca"), ["a"]);
  assert.deepEqual(found("heel"), []);
});

test("a mesh is open where an edge has one face", () => {
  assert.ok(!hasBorder(box([0, 0, 0], [1, 1, 1]).shape));
  assert.ok(hasBorder(mesh([[0, 0, 0], [1, 0, 0], [0, 1, 0]], [[0, 1, 2]]).shape));
});

test("whole parts are moved along an arrow, and a collar drags a copy while the part stays", () => {
  const views = open({ a: box([-0.1, -0.1, -0.1], [0.1, 0.1, 0.1]) });
  editor.set({ chosen: ["p:a"], placing: true });
  const { camera } = seen(views);
  const held = new PlacementHandles();
  const boards = new Boards(() => undefined);
  const at = (x: number, y: number) => ({ x, y, fine: false, invert: false });
  const arrow = held.handleAt(camera, at(135, 100));
  assert.deepEqual([arrow?.kind, arrow?.axis], ["move", 0]);
  held.press(views, boards, camera, arrow!, at(135, 100));
  held.drag(camera, at(155, 130));
  close(editor.get().moved?.["p:a"]?.translate as number[], [0.2, 0, 0], 0.011);
  assert.ok(!editor.get().copying);
  held.end();
  assert.equal(editor.get().moved, null);
  const collar = held.handleAt(camera, at(100, -2));
  assert.equal(collar?.kind, "extrude");
  held.press(views, boards, camera, collar!, at(100, -2));
  held.drag(camera, at(100, -32));
  assert.ok(editor.get().copying);
  close(editor.get().moved?.["p:a"]?.translate as number[], [0, 0.3, 0], 0.011);
  held.end();
  editor.set({ placing: false });
});

test("the last copy of an array stands where its steps lead, and dragging it spaces the others", () => {
  const views = open({ a: box([-0.1, -0.1, -0.1], [0.1, 0.1, 0.1]) });
  const sight = seen(views);
  const session = { tool: "array", part: "a", values: { count: 4, step: [0.2, 0, 0] }, spots: [[0, 0, 0]], stepId: "array1", dragging: false } as unknown as ToolSession;
  const place = { session, view: viewOf(box([-0.1, -0.1, -0.1], [0.1, 0.1, 0.1])), camera: sight.camera, sight, boards: new Boards(() => undefined) };
  const tool = new ArrayTool();
  const at = (x: number, y: number) => ({ x, y, fine: false, invert: false });
  assert.equal(tool.handleAt(place, at(160, 100))?.kind, "end");
  tool.press(place, handle("end"), at(160, 100));
  close(tool.drag(place, at(190, 70))["step"] as number[], [0.3, 0.1, 0], 0.011);
  const span = { ...place, session: { ...session, values: { count: 3, span: [0.6, 0, 0] } } as unknown as ToolSession };
  tool.press(span, handle("end"), at(160, 100));
  close(tool.drag(span, at(170, 100))["span"] as number[], [0.7, 0, 0], 0.011);
  const side = { ...place, camera: seen(views, "right").camera };
  assert.equal(tool.handleAt(side, at(100, 100))?.kind, "knob"); // the last stands behind the first there
});
