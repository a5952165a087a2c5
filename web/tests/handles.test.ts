import { open, seen } from "./kit";

import assert from "node:assert/strict";
import { test } from "node:test";

import { Vector3 } from "three";

import { fieldOf, handle, sameHandle } from "../src/tools/Handle";
import { handleAt, type Stand } from "../src/tools/handles";

const STAND: Stand = { origin: new Vector3(), axes: [new Vector3(1, 0, 0), new Vector3(0, 1, 0), new Vector3(0, 0, 1)], makes: "geometry", whole: true };
const { camera } = seen(open({}));
const at = (x: number, y: number, stand = STAND) => {
  const found = handleAt(stand, camera, { x, y, fine: false, invert: false });
  return found === null ? null : `${found.kind} ${"xyz"[found.axis]}`;
};

test("each handle of the set is found where it stands", () => {
  assert.equal(at(100, 100), "free x");
  assert.equal(at(100 + 70, 100), "move x");
  assert.equal(at(100, 100 - 70), "move y");
  assert.equal(at(100 + 22, 100 - 22), "plane z");
  assert.equal(at(100 + 54, 100 + 4), "stretch x");
  assert.equal(at(100 - 32, 100 + 32), "even x");
  assert.equal(at(100 + 102 - 3, 100), "extrude x");
  assert.equal(at(100 - 46, 100 + 46), "inset x");
  assert.equal(at(100 - 64, 100 - 64), "turn z");
  assert.equal(at(100 + 34, 100 - 34), "spread z");
  assert.equal(at(100 + 60, 100 - 50), null);
});

test("an axis that points at the eye has no handles, and a single vertex nothing to turn", () => {
  const kinds = new Set<string | null>();
  for (let x = 0; x < 200; x += 2) for (let y = 0; y < 200; y += 2) kinds.add(at(x, y));
  for (const none of ["move z", "stretch z", "extrude z", "plane x", "turn y"]) assert.ok(!kinds.has(none), none);
  const point = { ...STAND, whole: false, makes: null };
  assert.equal(at(100 - 64, 100 - 64, point), null);
  assert.equal(at(100 + 54, 100 + 4, point), "move x");
  assert.equal(at(100 + 99, 100, point), null);
});

test("handles are values: the same when they say the same, and each changes one triple", () => {
  assert.ok(sameHandle(handle("move", 1), handle("move", 1)));
  assert.ok(!sameHandle(handle("move", 1), handle("move", 2)));
  assert.ok(!sameHandle(handle("end", 0, 1), handle("end", 0, -1)));
  assert.ok(!sameHandle(null, handle("free")));
  assert.deepEqual(["free", "move", "plane", "turn", "stretch", "spread", "even", "rim", "extrude"].map((k) => fieldOf(handle(k as "free"))), ["translate", "translate", "translate", "rotate", "scale", "scale", "scale", null, null]);
});
