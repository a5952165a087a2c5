import { box, open, seen } from "./kit";

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
