import "./page";

import assert from "node:assert/strict";
import { test } from "node:test";
import { encode } from "@msgpack/msgpack";

import { ShapeStore } from "../src/api/packets";
import { digitsOf } from "../src/model/units";
import * as units from "../src/model/units";
import { open } from "./kit";
import { editor } from "../src/model/store";

const bytes = (a: ArrayBufferView) => new Uint8Array(a.buffer, a.byteOffset, a.byteLength);
const ONCE = ["offsets", "corners", "triangles", "triangle_face", "edges", "vertex_cage", "edge_cage", "shading_vertex", "shading_triangles"] as const;

/** One triangle as the server sends it; without its connectivity once that is known. */
function triangle(digest: string, height: number, known = false) {
  const shape = {
    offsets: bytes(new Uint32Array([0, 3])), corners: bytes(new Uint32Array([0, 1, 2])), triangles: bytes(new Uint32Array([0, 1, 2])), triangle_face: bytes(new Uint32Array([0])),
    edges: bytes(new Uint32Array([0, 1, 0, 2, 1, 2])), vertex_cage: null, edge_cage: bytes(new Int32Array([-1, 2, 0])), shading_vertex: null, shading_triangles: null,
  };
  return {
    digest, vertex_count: 3, face_count: 1, positions: bytes(new Float32Array([0, 0, 0, 1, 0, 0, 0, height, 0])), vertex_ids: null, face_ids: bytes(new BigUint64Array([7n])), uv: bytes(new Float32Array([0, 0, 1, 0, 0, height])),
    ...(known ? Object.fromEntries(ONCE.map((k) => [k, null])) : shape),
  };
}

function packet(cage: object, more: object = {}): ArrayBuffer {
  const whole = { cage, surface: null, triangles: 1, faces_before: 4, faces_after: 1, notes: ["note"], merges: 2, soft: null, others: {}, ...more };
  const out = encode(whole);
  return out.buffer.slice(out.byteOffset, out.byteOffset + out.byteLength) as ArrayBuffer;
}

test("what travels once is kept by its digest", () => {
  const store = new ShapeStore();
  const first = store.read(packet(triangle("a", 1)));
  assert.deepEqual([...first.cage.shape.edges], [0, 1, 0, 2, 1, 2]);
  assert.deepEqual([...first.cage.shape.edgeCage], [-1, 2, 0]);
  assert.deepEqual([first.cage.vertexIds, first.cage.faceIds?.[0]], [null, 7n]);
  assert.deepEqual([first.facesBefore, first.facesAfter, first.notes, first.merges], [4, 1, ["note"], 2]);
  assert.deepEqual(store.have(), ["a"]);
  const second = store.read(packet(triangle("a", 5, true)));
  assert.equal(second.cage.shape, first.cage.shape);
  assert.equal(second.cage.positions[7], 5);
});

test("connectivity that did not come along is an error, not an empty mesh", () => {
  assert.throws(() => new ShapeStore().read(packet(triangle("a", 1, true))), /connectivity/);
});

test("other parts and soft weights come with a trial", () => {
  const soft = { vertex: bytes(new Uint32Array([2])), weight: bytes(new Float32Array([0.5])) };
  const told = new ShapeStore().read(packet(triangle("a", 1), { soft, surface: triangle("b", 2), others: { p2: { cage: triangle("c", 3), surface: triangle("b", 4, true), triangles: 9 } } }));
  assert.deepEqual([[...(told.soft?.vertex ?? [])], [...(told.soft?.weight ?? [])]], [[2], [0.5]]);
  assert.equal(told.others["p2"]?.triangles, 9);
  assert.equal(told.others["p2"]?.surface?.shape, told.surface?.shape); // sent once, in the same answer
});

test("shapes not asked for lately are forgotten first", () => {
  const store = new ShapeStore();
  for (let i = 0; i < 24; i++) store.read(packet(triangle(`s${i}`, 1)));
  store.read(packet(triangle("s0", 1, true)));
  store.read(packet(triangle("new", 1)));
  assert.ok(store.have().includes("s0") && store.have().includes("new") && !store.have().includes("s1"));
  assert.equal(store.have().length, 24);
});

test("numbers are shown in the unit a person likes and stored in the build's", () => {
  open({});
  const build = editor.get().build!;
  editor.set({ build: { ...build, document: { ...build.document, unit: "cm", display: { unit: "in", digits: 2 } } } });
  assert.equal(units.toShown(2.54), 1);
  assert.equal(units.toShown(2.54 ** 2, 2), 1);
  assert.equal(units.fromShown(3), 7.62);
  assert.equal(units.toShown(90, 0), 90);
  assert.equal(digitsOf(editor.get()), 2);
  assert.equal(units.lengthText(-2.54), "−1.00 in");
  assert.equal(units.numberText(5.08, "length"), "2");
  assert.equal(units.numberText(5.08, "ratio"), "5.08");
  assert.equal(units.counted(1234567), "1 234 567");
});
