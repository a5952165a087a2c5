import { box, open } from "./kit";

import assert from "node:assert/strict";
import { test } from "node:test";

import { Vector3 } from "three";

import { cutLines, isCutAway } from "../src/scene/section";
import { alongLine, niceStep } from "../src/scene/numbers";

test("a section takes one side away, or the other", () => {
  const above = { axis: 1, at: 0.2, below: false } as const;
  assert.equal(isCutAway(new Vector3(0, 0.3, 0), above), true);
  assert.equal(isCutAway(new Vector3(0, 0.1, 0), above), false);
  assert.equal(isCutAway(new Vector3(0, 0.2, 0), above), false);
  assert.equal(isCutAway(new Vector3(0, 0.1, 0), { ...above, below: true }), true);
  assert.equal(isCutAway(new Vector3(0, 9, 0), null), false);
});

test("its outline runs once round a box, at its height", () => {
  const parts = open({ a: box([0, 0, 0], [2, 1, 3]) });
  const view = parts.get("a")!;
  const lines = cutLines(view.mesh!.cage, view, { axis: 1, at: 0.25, below: false });
  assert.ok(lines.every((p) => Math.abs(p.y - 0.25) < 1e-6));
  let length = 0;
  for (let i = 0; i < lines.length; i += 2) length += lines[i]!.distanceTo(lines[i + 1]!);
  assert.ok(Math.abs(length - 10) < 1e-5);
});

test("steps are 1, 2 or 5 times a power of ten", () => {
  assert.deepEqual([0.011, 0.02, 0.03, 0.07, 1, 1.1].map(niceStep).map((v) => Number(v.toPrecision(6))), [0.02, 0.02, 0.05, 0.1, 1, 2]);
});

test("along a line is where a ray passes nearest, in the line's own lengths", () => {
  const along = (direction: Vector3) => alongLine(new Vector3(), direction, new Vector3(3, 5, 10), new Vector3(0, 0, -1));
  assert.equal(along(new Vector3(1, 0, 0)), 3);
  assert.equal(along(new Vector3(0, 2, 0)), 2.5);
  assert.equal(along(new Vector3(0, 0, 1)), 0); // end on, nothing can be told
});
