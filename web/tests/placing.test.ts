import { open } from "./kit";

import assert from "node:assert/strict";
import { test } from "node:test";
import { Matrix4, Quaternion, Vector3 } from "three";

import type { Board, Part } from "../src/api/client";
import { type Copying, copyOf } from "../src/model/places/copies";
import { matrixOf } from "../src/model/places/frames";
import * as plane from "../src/model/places/boardPlane";
import { editor, type Triple } from "../src/model/store";
import { turned, turning, turnsOf } from "../src/model/places/turns";

open({});

const near = (a: Vector3, b: Vector3, within = 1e-9) => assert.ok(a.distanceTo(b) < within, `${a.toArray().join(" ")} is not ${b.toArray().join(" ")}`);
/** Numbers that are neither round nor alike, the same in every run. */
function* strange(seed: number): Generator<number, never> {
  for (let x = seed; ; ) {
    x = (x * 1103515245 + 12345) % 2147483648;
    yield x / 2147483648;
  }
}
const some = strange(7);
const number = (low: number, high: number) => low + (high - low) * (some.next().value as number);
const three = (low: number, high: number): Triple => [number(low, high), number(low, high), number(low, high)];
const PART = { id: "p", name: "Leg", pivot: [1, 2, 3], steps: [{ id: "box1", kind: "box", size: [1, 1, 1] }] };
const copied = (part: object, how: Copying) => copyOf(editor.get(), part as Part, { id: "q", name: "Leg 2" }, how) as unknown as Part;

for (const axis of ["x", "y", "z"] as const) {
  test(`a copy mirrored across ${axis} is the part's mirror image, wherever it stands, swings or is stretched`, () => {
    const flip = new Vector3(1, 1, 1).setComponent("xyz".indexOf(axis), -1);
    const across = new Matrix4().makeScale(flip.x, flip.y, flip.z);
    for (let i = 0; i < 40; i++) {
      const joint = i % 3 === 0 ? {} : { joint: { kind: i % 3 === 1 ? "turn" : "slide", at: three(-2, 2), axis: three(0.1, 1), from: -200, to: 200, now: number(-180, 180) } };
      const part = { ...PART, placement: { translate: three(-9, 9), rotate: three(-360, 360), scale: three(0.2, 3) }, ...joint };
      const copy = copied(part, axis);
      assert.equal(copy.mirrored, axis);
      const p = new Vector3(...three(-1, 1));
      const image = p.clone().applyMatrix4(matrixOf(part as unknown as Part, 1, [])).applyMatrix4(across);
      near(p.clone().applyMatrix4(across).applyMatrix4(matrixOf(copy, 1, [])), image, 1e-7);
    }
  });
}

test("a linked copy stands where its source does and has no steps of its own; a plain one has them all", () => {
  const part = { ...PART, placement: { translate: [1, 0, 0] }, group: "g" };
  const linked = copied(part, "linked");
  assert.deepEqual({ ...linked }, { id: "q", name: "Leg 2", group: "g", placement: { translate: [1, 0, 0] }, pivot: [1, 2, 3], of: "p" });
  assert.deepEqual(copied(part, "plain"), { ...part, id: "q", name: "Leg 2" });
  assert.equal(copied({ ...linked, id: "q" }, "linked").of, "p"); // a copy of a copy follows the same part
});

test("turns and rotations are each other's inverse", () => {
  for (let i = 0; i < 60; i++) {
    const q = turning(i % 7 === 0 ? [number(-180, 180), 90, number(-180, 180)] : three(-180, 180));
    const again = turning(turnsOf(q));
    assert.ok(Math.abs(Math.abs(q.dot(again)) - 1) < 1e-9);
  }
});

test("a further turn comes after those there are, and is exact about the last axis", () => {
  assert.deepEqual(turned([10, 0, 0], 0, 15), [25, 0, 0]);
  assert.deepEqual(turned([10, 20, 0], 1, 400), [10, 420, 0]);
  const q = turning(turned([10, 20, 30], 0, 40));
  const wanted = new Quaternion().setFromAxisAngle(new Vector3(1, 0, 0), (40 * Math.PI) / 180).multiply(turning([10, 20, 30]));
  assert.ok(Math.abs(Math.abs(q.dot(wanted)) - 1) < 1e-9);
});

const board = (more: object): Board => ({ id: "b", picture: "p", width: 30, ...more }) as unknown as Board;

test("places of a board and of its plane are each other's inverse", () => {
  for (let i = 0; i < 30; i++) {
    const b = board({ at: [number(-9, 9), number(-9, 9)], turn: number(-180, 180), mirrored: i % 2 === 0 });
    const at: plane.Place = [number(-9, 9), number(-9, 9)];
    const back = plane.fromPlane(b, plane.toPlane(b, at));
    assert.ok(Math.hypot(back[0] - at[0], back[1] - at[1]) < 1e-9);
  }
});

test("a board stands in its view's plane: across to the right and up as that view sees", () => {
  near(plane.inBuild(board({ view: "front", at: [1, 2] }), [3, 4], 0.01), new Vector3(0.04, 0.06, 0));
  near(plane.inBuild(board({ view: "right", at: [1, 2] }), [3, 4], 0.01), new Vector3(0, 0.06, -0.04));
  near(plane.inBuild(board({ view: "top", at: [1, 2] }), [3, 4], 0.01), new Vector3(0.04, 0, -0.06));
  near(plane.inBuild(board({ view: "front", mirrored: true }), [3, 4], 1), new Vector3(-3, 4, 0));
  near(plane.inBuild(board({ view: "front", turn: 90 }), [3, 4], 1), new Vector3(-4, 3, 0));
  near(plane.inBuild(board({ view: "free", place: { translate: [0, 0, 5], rotate: [90, 0, 0] } }), [3, 4], 1), new Vector3(3, 0, 9));
});

test("a board scaled about a place keeps that place", () => {
  const b = board({ at: [2, 1] });
  const scaled = { ...b, ...plane.scaledAbout(b, [5, 4], 2) } as Board;
  assert.equal(scaled.width, 60);
  // what lay at the place lies there still: twice as far from the board's own middle
  const was = plane.fromPlane(b, [5, 4]);
  assert.deepEqual(plane.toPlane(scaled, [was[0] * 2, was[1] * 2]), [5, 4]);
});

test("corners follow the crop", () => {
  assert.deepEqual(plane.cornersOf(board({}), 2), [[-15, 0], [15, 0], [15, 60], [-15, 60]]);
  assert.deepEqual(plane.cornersOf(board({ crop: [0.5, 0, 1, 0.5] }), 2), [[0, 0], [15, 0], [15, 30], [0, 30]]);
});
