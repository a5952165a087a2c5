import { box, open, seen } from "./kit";

import { Vector3 } from "three";

import assert from "node:assert/strict";
import { beforeEach, test } from "node:test";

import { PREFS, prefs } from "../src/model/prefs";
import { editor } from "../src/model/store";
import { setPick } from "../src/model/picks/picks";
import { Boards } from "../src/scene/boards/Boards";
import { snapCoordinate, snapping, SnapTargets, toStep } from "../src/scene/snap";

const boards = () => new Boards(() => undefined);
const CUBE = box([-0.5, -0.5, -0.5], [0.5, 0.5, 0.5]);

beforeEach(() => prefs.set({ ...PREFS, snap: { ...PREFS.snap, on: true, edge: true, face: true } }));

test("the master is inverted while Ctrl is held", () => {
  assert.equal(snapping(false), true);
  assert.equal(snapping(true), false);
});

test("vertices, edge middles and face centres are targets, the front one of those on one spot", () => {
  const parts = open({ a: CUBE });
  const targets = new SnapTargets(parts, boards(), false);
  const { camera } = seen(parts);
  const corner = targets.nearest(153, 52, camera);
  assert.equal(corner?.what, "vertex");
  assert.deepEqual(corner?.at.toArray(), [0.5, 0.5, 0.5]);
  assert.equal(targets.nearest(150, 103, camera)?.what, "edge middle");
  assert.equal(targets.nearest(101, 101, camera)?.what, "face centre");
  assert.equal(targets.nearest(125, 130, camera), null);
});

test("what moves with the drag is no target", () => {
  const parts = open({ a: CUBE });
  setPick("a", "vertices", [7]);
  const targets = new SnapTargets(parts, boards(), true);
  const { camera } = seen(parts);
  assert.deepEqual(targets.nearest(150, 50, camera)?.at.toArray(), [0.5, 0.5, -0.5]); // the one behind it
  setPick("a", "faces", [5]);
  const without = new SnapTargets(parts, boards(), true).nearest(100, 100, camera);
  assert.deepEqual(without?.at.toArray(), [0, 0, -0.5]);
});

test("kinds that are off are no targets; guides are", () => {
  prefs.set({ snap: { ...prefs.get().snap, vertex: false, edge: false, face: false } });
  const parts = open({ a: CUBE });
  const build = editor.get().build!;
  const { camera } = seen(parts);
  assert.equal(new SnapTargets(parts, boards(), false).nearest(150, 50, camera), null);
  editor.set({ build: { ...build, document: { ...build.document, guides: [{ id: "g", name: "Rim", kind: "point", at: [0.5, 0.5, 0] }] } } as never });
  assert.match(new SnapTargets(parts, boards(), false).nearest(150, 50, camera)?.what ?? "", /Rim/);
});

test("coordinates go onto the grid, or onto an axis that is near", () => {
  prefs.set({ gridStep: 0.05 });
  assert.equal(toStep(0.12, 0.05), 0.1);
  assert.ok(Math.abs(snapCoordinate(0.13, 0.001) - 0.15) < 1e-12);
  prefs.set({ snap: { ...prefs.get().snap, grid: false, axes: true } });
  assert.equal(snapCoordinate(0.008, 0.001), 0);
  assert.equal(snapCoordinate(0.08, 0.001), 0.08);
});

test("points of a board's traced outline are targets where the board stands", () => {
  const parts = open({ a: CUBE });
  const build = editor.get().build;
  assert.ok(build !== null);
  const board = { id: "b", picture: "0".repeat(64), name: "Elevation", view: "front" as const, width: 200, at: [0, 0] as [number, number], outline: { width: 100, rings: [[[-10, 5], [12, 5], [0, 15]] as [number, number][]] } };
  editor.set({ build: { ...build, document: { ...build.document, boards: [board] } } });
  const targets = new SnapTargets(parts, boards(), false);
  const { camera } = seen(parts);
  const metres = build.document.unit === "m" ? 1 : 0.01;
  const at = new Vector3(24 * metres, 10 * metres, 0);
  const { x, y } = camera.project(at);
  const found = targets.nearest(x + 2, y - 1, camera);
  assert.equal(found?.what, "outline");
  assert.ok((found?.at.distanceTo(at) ?? 1) < 1e-6);
});
