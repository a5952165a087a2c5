import { box, mesh, open, partMesh, seen } from "./kit";

import assert from "node:assert/strict";
import { test } from "node:test";

import { Area, sweep } from "../src/scene/sweep";

const CUBE = box([-0.5, -0.5, -0.5], [0.5, 0.5, 0.5]);

test("an area holds points by the even-odd rule and meets segments that cross it", () => {
  const area = Area.box(10, 10, 30, 20);
  assert.equal(area.holds(20, 15), true);
  assert.equal(area.holds(31, 15), false);
  assert.equal(area.meets(0, 15, 40, 15), true);
  assert.equal(area.meets(0, 0, 40, 5), false);
  const notched = new Area([[0, 0], [40, 0], [40, 40], [20, 10], [0, 40]]);
  assert.equal(notched.holds(20, 30), false);
  assert.equal(notched.holds(5, 20), true);
});

test("a box takes what lies inside it, or all it touches", () => {
  const sight = seen(open({ a: CUBE }));
  const right = Area.box(120, 30, 170, 170); // over the right half of the front face
  assert.deepEqual(sweep(right, "faces", sight, true), []);
  assert.deepEqual(sweep(right, "faces", sight, false), [5]);
  assert.deepEqual(sweep(right, "vertices", sight, true), [5, 7]);
  const all = Area.box(10, 10, 190, 190);
  assert.deepEqual(sweep(all, "faces", sight, true), [5]);
});

test("through takes what lies behind too", () => {
  const sight = seen(open({ a: CUBE }), "front", true);
  assert.deepEqual(sweep(Area.box(120, 30, 170, 170), "vertices", sight, true), [4, 5, 6, 7]);
  assert.deepEqual(sweep(Area.box(10, 10, 190, 190), "faces", sight, true), [0, 1, 2, 3, 4, 5]);
});

test("only the current part is swept", () => {
  const parts = open({ a: CUBE, b: box([-0.9, -0.9, 0], [-0.7, -0.7, 0.2]) });
  assert.deepEqual(sweep(Area.box(0, 0, 200, 200), "vertices", seen(parts, "front", true), true), [0, 1, 2, 3, 4, 5, 6, 7]);
});

/** A box from −0.3 to 0.5 whose half beyond x = 0 a live mirror cuts off, and that half's image. */
function cutInHalf() {
  const cage = box([-0.3, -0.5, -0.5], [0.5, 0.5, 0.5]);
  const points = [-0.5, 0, 0.5].flatMap((x) => [-0.5, 0.5].flatMap((y) => [-0.5, 0.5].map((z) => [x, y, z])));
  const round = [[0, 4, 5, 1], [2, 3, 7, 6], [0, 2, 6, 4], [1, 5, 7, 3]];
  const flat = mesh(points, [[0, 1, 3, 2], [8, 10, 11, 9], ...round, ...round.map((f) => f.map((v) => v + 4))]);
  const of = [1, 1, 2, 3, 4, 5, 2, 3, 4, 5];
  const shape = { ...flat.shape, triangleFace: flat.shape.triangleFace.map((f) => of[f]!), vertexCage: new Int32Array([4, 5, 6, 7, -1, -1, -1, -1, 4, 5, 6, 7]), edgeCage: new Int32Array(flat.shape.edges.length / 2).fill(-1) };
  const parts = open({ a: cage });
  parts.get("a")?.show({ ...partMesh(cage), surface: { ...flat, shape } });
  return parts;
}

const HALVED = [{ axis: 0, at: 0, side: 1 }] as const;
const both = (sight: ReturnType<typeof seen>) => ({ ...sight, look: { ...sight.look, showing: "both" as const } });

test("what a mirror leaves of the elements that it cuts is swept, and no wall that is seen edge-on", () => {
  const sight = both(seen(cutInHalf()));
  assert.deepEqual(sweep(Area.box(95, 60, 160, 160), "faces", sight, true, HALVED), [], "the front lies inside in part");
  assert.deepEqual(sweep(Area.box(95, 60, 160, 160), "faces", sight, false, HALVED), [5]);
  assert.deepEqual(sweep(Area.box(140, 40, 160, 160), "faces", sight, false, HALVED), [5], "the wall at the right is seen edge-on");
  assert.deepEqual(sweep(Area.box(140, 40, 160, 160), "faces", { ...sight, through: true }, true, HALVED), [1], "through, it is taken");
  assert.deepEqual(sweep(Area.box(95, 30, 160, 170), "faces", sight, true, HALVED), [5], "the half that stays lies inside");
  assert.deepEqual(sweep(Area.box(40, 30, 90, 170), "faces", sight, false, HALVED), [5], "its image is touched");
  assert.deepEqual(sweep(Area.box(40, 30, 105, 170), "faces", sight, true, HALVED), [5], "its image lies inside");
});

test("an edge that a mirror cuts is swept by what is left of it", () => {
  const sight = both(seen(cutInHalf()));
  const tops = sweep(Area.box(95, 40, 160, 60), "edges", sight, true, HALVED);
  assert.equal(tops.length, 1);
  assert.deepEqual(sweep(Area.box(95, 40, 145, 60), "edges", sight, true, HALVED), []);
});
