import { box, kinds, open, seen } from "./kit";

import assert from "node:assert/strict";
import { beforeEach, test } from "node:test";

import { Boards } from "../src/scene/boards/Boards";
import { addStroke, strokes } from "../src/model/shaping/strokes";
import { lastLead } from "../src/model/steps/leads";
import { bentAlong, latticeRound, upright } from "../src/model/shaping/latticeBox";
import { controlLines, controlPoints, type Grid, middleOf, movedPoints } from "../src/model/shaping/latticePoints";
import { PREFS, prefs } from "../src/model/prefs";
import { editor, type ToolSession, type Triple, type Values } from "../src/model/store";
import { shareAt, weightAt } from "../src/model/shaping/softWeights";
import { begin } from "../src/interaction/session/begin";
import { nextAxis, quarterOn } from "../src/panels/tray/RangeFields";
import { BendTool } from "../src/tools/bend";
import { BrushTool } from "../src/tools/brush";
import { EndsTool } from "../src/tools/ends";
import { LatticeTool } from "../src/tools/lattice";
import type { ToolPlace } from "../src/tools/Tool";

const GRID: Grid = { divisions: [2, 1, 1], low: [0, 0, 0], high: [2, 1, 1], offsets: { "2,1,1": [0, 0.5, 0] } };
const BAR = box([-1, -0.1, -0.2], [1, 0.1, 0.2]);
const BOX = [[-1, -0.1, -0.2], [1, 0.1, 0.2]] as const as unknown as readonly [Triple, Triple];

beforeEach(() => prefs.set(PREFS));

function at(tool: string, values: Values): ToolPlace {
  const parts = open({ a: BAR });
  begin(tool, "a", null, "nothing", values, { proposes: false, box: BOX });
  const sight = seen(parts);
  return { session: editor.get().session as ToolSession, view: parts.get("a")!, camera: sight.camera, sight, boards: new Boards(() => undefined) };
}

test("control points stand evenly on the box, with their offsets", () => {
  const points = controlPoints(GRID);
  assert.equal(points.length, 12);
  assert.deepEqual(points.find((p) => p.name === "1,0,1")?.at, [1, 0, 1]);
  assert.deepEqual(points.find((p) => p.name === "2,1,1")?.at, [2, 1.5, 1]);
  assert.equal(controlLines(GRID).length, 2 * 4 + 3 * 2 + 3 * 2);
  assert.deepEqual(middleOf(points.filter((p) => p.name.startsWith("2,"))), [2, 0.75, 0.5]);
});

test("moved control points take those near them along by the weights of soft selection", () => {
  open({ a: BAR });
  const up = (p: Triple): Triple => [p[0], p[1] + 1, p[2]];
  assert.deepEqual(movedPoints(GRID, ["0,0,0"], up), { "2,1,1": [0, 0.5, 0], "0,0,0": [0, 1, 0] });
  assert.deepEqual(movedPoints(GRID, ["2,1,1"], (p) => [p[0], p[1] - 0.5, p[2]]), {});
  prefs.set({ soft: { ...PREFS.soft, on: true, radius: 1.2 } });
  const soft = movedPoints(GRID, ["0,0,0"], up);
  assert.ok(Math.abs(soft["1,0,0"]![1] - weightAt(1 / 1.2, 0.5)) < 1e-6 && soft["2,0,0"] === undefined);
});

test("the weight's share is found again", () => {
  for (const fullness of [0.2, 0.5, 0.9]) for (const weight of [0.25, 0.5, 0.75]) assert.ok(Math.abs(weightAt(shareAt(weight, fullness), fullness) - weight) < 1e-5);
});

test("a lattice is a little larger than what it is laid round; bends and twists go along the longest side", () => {
  open({ a: BAR });
  assert.deepEqual(latticeRound(BOX)["box"], [[-1.04, -0.14, -0.24], [1.04, 0.14, 0.24]]);
  assert.deepEqual(bentAlong(BOX), { along: "x", toward: "+y" });
  assert.deepEqual(bentAlong([[0, 0, 0], [1, 3, 1]]), { along: "y", toward: "+x" });
  assert.deepEqual(upright([[0, 0, 0], [1, 2, 3]]), { axis: "z" });
});

test("a quarter turn goes through the four directions across an axis", () => {
  let way = "+y";
  const seenWays = [0, 1, 2, 3].map(() => (way = quarterOn("x", way)));
  assert.deepEqual(seenWays, ["+z", "-y", "-z", "+y"]);
  assert.deepEqual(["x", "y", "z"].map(nextAxis), ["y", "z", "x"]);
});

test("a control point is clicked, in a flat view with all that stand behind it", () => {
  const place = at("lattice", { divisions: [1, 1, 1], box: [[-1, -0.1, -0.2], [1, 0.1, 0.2]] as never });
  const tool = new LatticeTool();
  const p = place.camera.project(place.view.group.position.clone().set(1, 0.1, 0.2));
  const under = tool.under(place, { ...p, fine: false, invert: false });
  assert.deepEqual(under.toSorted(), place.camera.isFlat ? ["1,1,0", "1,1,1"] : ["1,1,1"]);
  assert.deepEqual(tool.under(place, { x: p.x + 60, y: p.y + 60, fine: false, invert: false }), []);
  editor.set({ gridPick: under });
  const hit = tool.handleAt(place, { ...p, fine: false, invert: false });
  assert.equal(hit?.kind, "free");
  tool.press(place, hit!, { ...p, fine: false, invert: false });
  const moved = tool.drag({ ...place, session: { ...place.session, dragging: true } }, { x: p.x + 10, y: p.y, fine: false, invert: false });
  const offsets = moved["offsets"] as unknown as Record<string, Triple>;
  assert.deepEqual(Object.keys(offsets).toSorted(), under.toSorted());
  assert.ok(Object.values(offsets).every((o) => o[0] > 0));
});

test("an end of the bent line is dragged to where the pointer is", () => {
  const place = at("bend", { along: "x", toward: "+y", angle: 30, hold: "from" });
  const tool = new BendTool();
  const bent = (angle: number) => {
    const turn = (angle * Math.PI) / 180;
    const radius = 2 / turn;
    return place.camera.project(place.view.group.position.clone().set(-1 + radius * Math.sin(turn), radius * (1 - Math.cos(turn)), 0));
  };
  const pointer = (angle: number) => ({ ...bent(angle), fine: false, invert: false });
  const hit = tool.handleAt(place, pointer(30));
  assert.deepEqual([hit?.kind, hit?.side], ["end", 1]);
  tool.press(place, hit!);
  assert.deepEqual(tool.drag(place, pointer(75)), { angle: 75 });
  assert.deepEqual(tool.drag(place, { ...pointer(41.5), fine: true }), { angle: 41.5 });
  const begins = place.camera.project(place.view.group.position.clone().set(-1, 0, 0));
  assert.equal(tool.handleAt(place, { ...begins, fine: false, invert: false })?.kind, "from"); // what stays does not bend
});

test("a corner of the end that moves tells a twist, a taper, a stretch", () => {
  for (const [tool, values, name, wanted] of [
    ["twist", { axis: "x", angle: 0 }, "angle", 45],
    ["taper", { axis: "x", scale: 1, hold: "from" }, "scale", 0.5],
    ["stretch", { axis: "x", factor: 1, keep_volume: false }, "factor", 1.5],
  ] as const) {
    const place = at(tool, values);
    const ends = new EndsTool();
    const corner = { twist: [1, 0.1 * Math.SQRT1_2 - 0.2 * Math.SQRT1_2, 0.1 * Math.SQRT1_2 + 0.2 * Math.SQRT1_2], taper: [1, 0.05, 0.1], stretch: [2, 0.1, 0.2] }[tool] as Triple;
    const p = place.camera.project(place.view.group.position.clone().set(...corner));
    const value = ends.drag(place, { ...p, fine: true, invert: false })[name];
    // seen flat, a turn is told by its height alone
    assert.ok(tool === "twist" ? Math.abs(Number(value)) > 0 : Math.abs(Number(value) - wanted) < 0.02, `${tool}: ${String(value)}`);
  }
});

test("a stroke lies on the surface, and strokes of one setting gather in one step", () => {
  const place = at("brush", { tool: "inflate", radius: 0.1, strength: 0.5, fullness: 0.5, mirror: "none", hold: true });
  const tool = new BrushTool();
  const p = place.camera.project(place.view.group.position.clone().set(0, 0, 0.2));
  assert.equal(tool.begin(place, { x: 3, y: 3, fine: false, invert: false }), null);
  const begun = tool.begin(place, { ...p, fine: false, invert: false, pressure: 0.5 })!["strokes"] as unknown as { points: number[][] }[];
  assert.equal(begun[0]!.points.length, 1);
  assert.ok(Math.abs(begun[0]!.points[0]![2]! - 0.2) < 1e-6 && begun[0]!.points[0]![3] === 0.5);
  assert.equal(tool.go(place, { ...p, x: p.x + 0.2, fine: false, invert: false }), null); // too near to the last
  const session = { ...place.session, values: { ...place.session.values, strokes: strokes({ points: [[0, 0, 0, 1]] }) } };
  const { build } = editor.get();
  const document = structuredClone(build!.document);
  const [first] = addStroke(session)(document, kinds())!;
  assert.equal(first?.path, "/parts/0/steps/1");
  document.parts![0]!.steps!.push({ id: "brush1", kind: "brush", tool: "inflate", radius: 0.1, strokes: [{ points: [[0, 0, 0, 1]] }] } as never);
  assert.equal(addStroke(session)(document, kinds())![0]?.path, "/parts/0/steps/1/strokes/-");
  const other = { ...session, values: { ...session.values, radius: 0.2 } };
  assert.equal(addStroke(other)(document, kinds())![0]?.path, "/parts/0/steps/2");
});

test("what can be followed is the last step that does something to space", () => {
  assert.ok(kinds().some((k) => k.word === "follow"));
  assert.equal(lastLead([{ id: "a", kind: "box" }, { id: "b", kind: "bend" }, { id: "c", kind: "twist" }, { id: "d", kind: "bevel" }]), "c");
  assert.equal(lastLead([{ id: "a", kind: "box" }]), null);
});
