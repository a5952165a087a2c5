import assert from "node:assert/strict";
import { test } from "node:test";

import { cornersText, cornersTyped } from "../src/model/wrap/corners";
import { joinsOf, letter, middleOf } from "../src/model/wrap/joins";
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

test("stretches of outline that are one on the model are found together, whole and from the longest", () => {
  assert.deepEqual(joinsOf(two(0)), []);
  const [join, ...more] = joinsOf(two(0.1));
  assert.equal(more.length, 0);
  assert.deepEqual([join?.sides, join?.twins], [[1], [7]]);
  // a strip of three rows, cut down the middle: one stretch of three edges, not three
  const points: [number, number, number][] = [];
  for (let row = 0; row <= 3; row++) for (let column = 0; column < 3; column++) points.push([column, row, 0]);
  const faces: number[][] = [];
  for (let row = 0; row < 3; row++) for (let column = 0; column < 2; column++) faces.push([3 * row + column, 3 * row + column + 1, 3 * row + column + 4, 3 * row + column + 3]);
  const strip = meshOf(points, faces);
  const uv = new Float32Array(faces.flatMap((face, f) => face.flatMap((v) => [0.1 * (v % 3) + (f % 2 === 1 ? 0.5 : 0), 0.1 * Math.floor(v / 3)])));
  const joins = joinsOf({ ...strip, uv });
  assert.equal(joins.length, 1);
  assert.equal(joins[0]?.sides.length, 3);
  const [here, there] = [middleOf({ ...strip, uv }, joins[0]?.sides ?? []), middleOf({ ...strip, uv }, joins[0]?.twins ?? [], true)];
  assert.ok(Math.abs((here?.at[1] ?? 0) - 0.15) < 1e-6 && Math.abs((there?.at[1] ?? 0) - 0.15) < 1e-6); // the notches meet
  assert.ok(Math.abs((here?.long ?? 0) - 0.3) < 1e-6);
});

test("stretches are lettered as sheets of a pattern are", () => {
  assert.deepEqual([0, 25, 26, 51, 52, 701, 702].map(letter), ["A", "Z", "AA", "AZ", "BA", "ZZ", "AAA"]);
});

test("corners of a polygon are read as they are told", () => {
  const points = [[2, 2], [8, 2], [5, -9.5]] as const;
  assert.deepEqual(cornersTyped(cornersText(points)), points);
  assert.deepEqual(cornersTyped(" 2 2; 8   2,5 -9.5 ; "), points);
  for (const text of ["", "1 2", "1 2, 3 4", "1 2, 3 4, 5", "1 2, 3 4, 5 x", "1 2, 3 4, 5 6 7", "1 2,, 3 4"]) assert.equal(cornersTyped(text), null);
});
