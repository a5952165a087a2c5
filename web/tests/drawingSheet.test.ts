import assert from "node:assert/strict";
import { test } from "node:test";

import { type Framed, guessViews } from "../src/model/brief/sheetViews";

const frame = (x0: number, y0: number, x1: number, y1: number): Framed => ({ a: [x0, y0], b: [x1, y1] });
const FRONT = frame(-16, 3, -2, 13);
const TOP = frame(-16, 18, -2, 26);
const RIGHT = frame(4, 3, 12, 13);
const LEFT = frame(-30, 3, -22, 13);
const BACK = frame(14, 3, 28, 13);

test("views are told by where they stand on the sheet, whatever the order they are framed in", () => {
  assert.deepEqual(guessViews([FRONT, TOP, RIGHT]), ["front", "top", "right"]);
  assert.deepEqual(guessViews([RIGHT, FRONT, TOP]), ["right", "front", "top"]);
  assert.deepEqual(guessViews([TOP, RIGHT, FRONT]), ["top", "right", "front"]);
  assert.deepEqual(guessViews([FRONT, LEFT, TOP]), ["front", "left", "top"]);
  assert.deepEqual(guessViews([FRONT, TOP, RIGHT, BACK]), ["front", "top", "right", "back"]);
});

test("one frame is the front, two beside each other front and right, one over the other front and top", () => {
  assert.deepEqual(guessViews([]), []);
  assert.deepEqual(guessViews([TOP]), ["front"]);
  assert.deepEqual(guessViews([RIGHT, FRONT]), ["right", "front"]);
  assert.deepEqual(guessViews([TOP, FRONT]), ["top", "front"]);
});

test("frames may be drawn from any corner, and no view comes twice", () => {
  const turned: Framed = { a: FRONT.b, b: FRONT.a };
  assert.deepEqual(guessViews([turned, TOP]), ["front", "top"]);
  const views = guessViews([FRONT, TOP, RIGHT, BACK, LEFT]);
  assert.equal(new Set(views).size, views.length);
});
