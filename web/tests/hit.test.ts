import { box, open, seen, viewOf } from "./kit";

import assert from "node:assert/strict";
import { test } from "node:test";

import { Matrix4, Vector3 } from "three";

import { hitAt, isSeen, nearestPoint } from "../src/scene/hit";

const HALF = [-0.5, -0.5, -0.5];
const ONE = [0.5, 0.5, 0.5];

test("a click takes the face in front, and the one behind at a second click", () => {
  const sight = seen(open({ a: box(HALF, ONE) }));
  assert.deepEqual(hitAt(100, 100, "faces", sight, 0, false), { part: "a", kind: "faces", element: 5, stacked: 2 });
  assert.equal(hitAt(100, 100, "faces", sight, 1, false)?.element, 4);
  assert.equal(hitAt(100, 100, "faces", sight, 2, false)?.element, 5);
  assert.equal(hitAt(10, 10, "faces", sight, 0, false), null);
});

test("vertices and edges are taken within reach, and only those that are seen", () => {
  const sight = seen(open({ a: box(HALF, ONE) }));
  const corner = hitAt(150 + 6, 50, "vertices", sight, 0, false);
  assert.equal(corner?.element, 7);
  assert.equal(hitAt(150 + 12, 50, "vertices", sight, 0, false), null);
  const edge = hitAt(150, 100, "edges", sight, 0, false);
  const [a, b] = [0, 1].map((k) => sight.parts.get("a")!.mesh!.cage.shape.edges[2 * edge!.element + k]);
  assert.deepEqual([a, b], [5, 7]);
});

test("automatically a vertex comes before an edge, an edge before a face", () => {
  const sight = seen(open({ a: box(HALF, ONE) }));
  assert.equal(hitAt(150, 50, "auto", sight, 0, false)?.kind, "vertices");
  assert.equal(hitAt(150, 100, "auto", sight, 0, false)?.kind, "edges");
  assert.equal(hitAt(120, 100, "auto", sight, 0, false)?.kind, "faces");
});

test("through a view also finds what lies behind; of what is seen only, clicks that go on find it", () => {
  const parts = open({ a: box(HALF, ONE) });
  const back = hitAt(150, 50, "vertices", seen(parts, "front", true), 1, false);
  assert.equal(back?.element, 6);
  assert.equal(hitAt(150, 50, "vertices", seen(parts, "front", false), 0, false)?.element, 7);
  assert.equal(hitAt(150, 50, "vertices", seen(parts, "front", false), 1, false)?.element, 6);
});

test("ghosted and hidden parts are not hit, and placement counts", () => {
  const parts = open({ a: box(HALF, ONE), b: box(HALF, ONE) });
  parts.set("b", viewOf(box(HALF, ONE), new Matrix4().makeTranslation(0, 0, 2)));
  assert.equal(hitAt(100, 100, "faces", seen(parts), 0, false)?.part, "b");
  parts.get("b")!.ghosted = true;
  assert.equal(hitAt(100, 100, "faces", seen(parts), 0, false)?.part, "a");
  parts.get("a")!.group.visible = false;
  assert.equal(hitAt(100, 100, "faces", seen(parts), 0, false), null);
});

test("what a section cuts away is not hit", () => {
  const parts = open({ a: box(HALF, ONE) });
  const sight = { ...seen(parts), section: { axis: 2, at: 0, below: false } as const };
  assert.equal(hitAt(100, 100, "faces", sight, 0, false)?.element, 4);
});

test("a point is seen unless something stands before it", () => {
  const sight = seen(open({ a: box(HALF, ONE) }));
  assert.equal(isSeen(new Vector3(0, 0, 0.5), sight), true);
  assert.equal(isSeen(new Vector3(0, 0, -0.5), sight), false);
  assert.equal(isSeen(new Vector3(0.8, 0, -0.5), sight), true);
});

test("the nearest point of a cage is a vertex within reach, else a share of an edge", () => {
  const parts = open({ a: box(HALF, ONE) });
  const view = parts.get("a")!;
  const sight = seen(parts);
  assert.deepEqual(nearestPoint(150, 51, view.mesh!.cage, view, sight), { vertex: 7 });
  const on = nearestPoint(150, 75, view.mesh!.cage, view, sight);
  assert.ok(on !== null && "edge" in on);
  assert.ok(Math.abs(Math.abs(on.share - 0.5) - 0.25) < 1e-3);
});
