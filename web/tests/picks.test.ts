import { box, kinds, open } from "./kit";

import assert from "node:assert/strict";
import { test } from "node:test";

import type { BuildDocument, Operation } from "../src/api/client";
import { addStep, asTold, cageEnd, duplicateStep, freeName, keepSet, moveStep, removeStep, setBoard, setMark, setStep, setStepNumber } from "../src/model/document/intents";
import { changeKind, find, idsOf, pickRule, renewPick, restorePick, setPick, verticesOf } from "../src/model/picks/picks";
import { asStep, asksFirst, touched, trialNow } from "../src/model/session/toolStep";
import { editor, type ToolSession } from "../src/model/store";

const CUBE = box([0, 0, 0], [1, 1, 1]);

test("elements are named by stable ids and found again by them", () => {
  assert.deepEqual(idsOf(CUBE, "faces", [2]), ["00000000000000ca"]);
  const [edge] = idsOf(CUBE, "edges", [0]);
  assert.deepEqual(find(CUBE, "edges", [edge!.split("-").reverse().join("-")]), [0]);
  assert.deepEqual(find(CUBE, "vertices", idsOf(CUBE, "vertices", [3, 5])), [3, 5]);
  assert.deepEqual(find(CUBE, "faces", ["00000000000000ff"]), []);
});

test("a change of kind takes the pick along", () => {
  open({ a: CUBE });
  setPick("a", "faces", [3]);
  changeKind("vertices");
  assert.deepEqual(editor.get().pick?.elements, [2, 3, 6, 7]);
  changeKind("edges");
  assert.equal(editor.get().pick?.elements.length, 4);
  changeKind("faces");
  assert.deepEqual(editor.get().pick?.elements, [3]);
  assert.equal(editor.get().lastPick?.kind, "edges");
});

test("picks survive a new mesh by ids, or by numbers while a tool keeps them; undo hands them back", () => {
  open({ a: CUBE });
  setPick("a", "faces", [1, 4]);
  const held = editor.get().pick!;
  renewPick("a", false);
  assert.deepEqual(editor.get().pick?.elements, [1, 4]);
  setPick("a", "faces", []);
  assert.equal(editor.get().pick, null);
  restorePick(held);
  assert.deepEqual(editor.get().pick?.elements, [1, 4]);
  assert.deepEqual(verticesOf(CUBE, "edges", [0]).length, 2);
});

const steps = (...more: object[]) => [{ id: "box1", kind: "box", size: [1, 1, 1] }, ...more];
const doc = (part: object) => ({ format: "rhytonic", version: 1, parts: [{ id: "a", name: "A", ...part }] }) as unknown as BuildDocument;

test("new edits go in above live steps, live ones at the end, and the mark follows", () => {
  open({});
  const mirrored = doc({ steps: steps({ id: "m", kind: "mirror", axis: "x" }) });
  assert.equal(cageEnd(mirrored.parts![0]!, kinds()), 1);
  assert.deepEqual(addStep("a", { id: "e", kind: "extrude" })(mirrored, kinds()), [{ op: "add", path: "/parts/0/steps/1", value: { id: "e", kind: "extrude" } }]);
  assert.equal(addStep("a", { id: "s", kind: "subdivision" })(mirrored, kinds())![0]!.path, "/parts/0/steps/2");
  const marked = doc({ mark: "box1", steps: steps({ id: "x", kind: "extrude" }) });
  assert.deepEqual(addStep("a", { id: "e", kind: "inset" })(marked, kinds())!.map((o: Operation) => o.path), ["/parts/0/steps/1", "/parts/0/mark"]);
  assert.deepEqual(removeStep("a", "box1")(marked, kinds())![0], { op: "remove", path: "/parts/0/mark" });
});

test("intents are told against the document as it stands, or say that they make no sense", () => {
  const d = doc({ steps: steps({ id: "x", kind: "extrude", depth: 2 }, { id: "y", kind: "inset", width: 1 }) });
  assert.equal(setStep("a", "gone", { depth: 1 })(d, kinds()), null);
  assert.equal(addStep("gone", { id: "e", kind: "inset" })(d, kinds()), null);
  assert.deepEqual(setStep("a", "x", { depth: undefined, scale: 2 })(d, kinds()), [{ op: "remove", path: "/parts/0/steps/1/depth" }, { op: "add", path: "/parts/0/steps/1/scale", value: 2 }]);
  assert.deepEqual(setStepNumber("a", "box1", "size", 1, 5, [1, 1, 1])(d, kinds()), [{ op: "replace", path: "/parts/0/steps/0/size/1", value: 5 }]);
  assert.deepEqual(setStepNumber("a", "x", "direction", 0, 5, [0, 1, 0])(d, kinds()), [{ op: "add", path: "/parts/0/steps/1/direction", value: [5, 1, 0] }]);
  assert.deepEqual(moveStep("a", "x", 1)(d, kinds()), [{ op: "move", from: "/parts/0/steps/1", path: "/parts/0/steps/2" }]);
  assert.equal(moveStep("a", "x", -1)(d, kinds()), null);
  assert.equal((duplicateStep("a", "x")(d, kinds())![0]!.value as { id: string }).id, "extrude1");
  assert.equal(setMark("a", null)(d, kinds()), null);
  assert.equal(setBoard("gone", { opacity: 1 })(d, kinds()), null);
  assert.deepEqual(keepSet("a", "rim", { faces: "all" })(d, kinds()), [{ op: "add", path: "/parts/0/sets", value: [{ name: "rim", pick: { faces: "all" } }] }]);
  assert.equal(freeName("part", ["part1", "part3"]), "part2");
});

test("what the core worked out for a build does not go into another", () => {
  const d = doc({ steps: steps() });
  const told = asTold([{ op: "add", path: "/x", value: 1 }], d);
  assert.deepEqual(told(structuredClone(d), kinds()), [{ op: "add", path: "/x", value: 1 }]);
  assert.equal(told(doc({ steps: steps({ id: "x", kind: "flip" }) }), kinds()), null);
});

const session = (more: Partial<ToolSession>) => ({ tool: "bevel", part: "a", pickKind: "edges", pickIds: ["1-2"], takes: "pick", values: { width: 1, segments: 1 }, initial: { width: 1, segments: 1 }, stored: null, asks: null, proposes: true, hover: null, stepId: "bevel1", ...more }) as ToolSession;

test("a session's step leaves out what repeats a default, unless it is stored already", () => {
  open({ a: CUBE });
  assert.deepEqual(asStep(session({})), { kind: "bevel", pick: { edges: { ids: ["1-2"] } }, width: 1 });
  assert.deepEqual(asStep(session({ stored: { width: 1 } })), { kind: "bevel", pick: { edges: { ids: ["1-2"] } }, width: 1, segments: 1 });
  assert.deepEqual(pickRule({ kind: "faces", ids: ["a"] }), { faces: { ids: ["a"] } });
});

test("what proposes is worth storing at once, others once touched; what has to be pointed at first is not", () => {
  assert.ok(touched(session({})));
  assert.ok(!touched(session({ proposes: false })));
  assert.ok(touched(session({ proposes: false, values: { width: 2 } })));
  assert.ok(!touched(session({ stored: { width: 1, segments: 1 } })));
  assert.ok(asksFirst(session({ asks: "through" })));
  assert.ok(!asksFirst(session({ asks: "width" })));
  open({ a: CUBE });
  assert.equal(trialNow(), null);
  editor.set({ session: session({}) });
  assert.equal(trialNow()?.part, "a");
  editor.set({ session: session({ asks: "point" }) });
  assert.equal(trialNow(), null);
});
