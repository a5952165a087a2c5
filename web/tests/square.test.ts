import assert from "node:assert/strict";
import { test } from "node:test";

import { boxOf, edgeAt, faceAt, grainOf, sidesOf, vertexAt, wholeIslands } from "../src/model/wrap/square";
import { mesh as meshOf } from "./kit";

/** Two squares beside each other, standing upright, laid out as they stand; the second apart from the first by `gap`. */
function two(gap: number) {
  const mesh = meshOf([[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0], [2, 0, 0], [2, 1, 0]], [[0, 1, 2, 3], [1, 4, 5, 2]]);
  const right = 0.4 + gap;
  return { ...mesh, uv: new Float32Array([0, 0, 0.4, 0, 0.4, 0.4, 0, 0.4, right, 0, right + 0.4, 0, right + 0.4, 0.4, right, 0.4]) };
}

test("sides within pieces are told from outlines by where both faces lie", () => {
  assert.deepEqual([sidesOf(two(0)).inner.length, sidesOf(two(0)).rim.length], [1, 6]);
  assert.deepEqual([sidesOf(two(0.1)).inner.length, sidesOf(two(0.1)).rim.length], [0, 8]);
});

test("what lies under a place is found", () => {
  const mesh = two(0.1);
  assert.equal(faceAt(mesh, [0.2, 0.2]), 0);
  assert.equal(faceAt(mesh, [0.6, 0.2]), 1);
  assert.equal(faceAt(mesh, [0.45, 0.2]), null);
  assert.equal(vertexAt(mesh, [0.01, 0.39], 0.05), 3);
  assert.equal(vertexAt(mesh, [0.2, 0.2], 0.05), null);
  const edge = edgeAt(mesh, [0.2, 0.01], 0.05) ?? -1;
  assert.deepEqual([...mesh.shape.edges.subarray(2 * edge, 2 * edge + 2)].sort(), [0, 1]);
  assert.equal(edgeAt(mesh, [0.2, 0.2], 0.05), null);
});

test("pieces are whole, have a box, and tell which way is up", () => {
  const mesh = two(0.1);
  assert.deepEqual(wholeIslands([0, 0, 1, -1], [1]), [0, 1]);
  assert.deepEqual(boxOf(mesh, [0])?.map((p) => p.map((v) => Number(v.toFixed(6)))), [[0, 0], [0.4, 0.4]]);
  assert.deepEqual(grainOf(mesh, [0, 1]).map((v) => Number(v.toFixed(6))), [0, 1]);
  const turned = { ...mesh, uv: mesh.uv.map((_, i) => (i % 2 === 0 ? -(mesh.uv[i + 1] as number) : (mesh.uv[i - 1] as number))) };
  assert.deepEqual(grainOf(turned, [0]).map((v) => Number(v.toFixed(6))), [-1, 0]);
});
