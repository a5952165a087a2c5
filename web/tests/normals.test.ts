import type { MeshData } from "../src/api/packets";
import { shaded } from "../src/scene/normals";

import assert from "node:assert/strict";
import { test } from "node:test";

test("the corners of a large flat face do not lean, however it is cut into triangles", () => {
  // a pentagon in y = 0, fanned from its first corner so that two corners have slivers, and a small leaning triangle at one
  const positions = new Float32Array([0, 0, 0, 4, 0, 0, 4, 0, -3.99, 0.02, 0, -4, 0, 0, -4, -0.5, -0.4, -4]);
  const triangles = new Uint32Array([0, 1, 2, 0, 2, 3, 0, 3, 4, 4, 3, 5]);
  const shape = { triangles, offsets: new Uint32Array([0, 5, 8]), triangleFace: new Uint32Array([0, 0, 0, 1]), faceCount: 2, vertexCount: 6, shadingVertex: new Uint32Array(0), shadingTriangles: new Uint32Array(0) };
  const { normals } = shaded({ shape, positions } as unknown as MeshData);
  for (let v = 0; v < 5; v++) {
    const n = [normals[3 * v]!, normals[3 * v + 1]!, normals[3 * v + 2]!];
    assert.ok(n[1]! / Math.hypot(...n) > 0.99, `corner ${v} leans`);
  }
});
