import { open } from "./kit";
import { server } from "./page";

import assert from "node:assert/strict";
import { beforeEach, test } from "node:test";

import { editor } from "../src/model/store";
import { turned, turnsOf, turning } from "../src/model/places/turns";
import { counted, format, fromShown, lengthText, shown, steady, tidy, toShown } from "../src/model/units";
import { rounded } from "../src/scene/numbers";
import { evaluate } from "../src/sync/expression";

const asked: string[] = [];
/** Reads plain numbers as the core does; what is asked for is kept. */
server.answer = (request) => {
  const text = new URL(request.url).searchParams.get("text") ?? "";
  asked.push(text);
  const value = Number(text.replace(",", "."));
  const fine = Number.isFinite(value);
  return new Response(JSON.stringify(fine ? { value } : { code: "bad_expression", message: "not a length" }), { status: fine ? 200 : 422, headers: { "content-type": "application/json" } });
};

beforeEach(() => {
  open({});
  asked.length = 0;
});

const display = (more: object) => {
  const build = editor.get().build!;
  editor.set({ build: { ...build, document: { ...build.document, unit: "cm", display: more } } as never });
};

test("typed values add, multiply, divide, subtract, or stand for themselves", async () => {
  assert.equal(await evaluate("+2", 5, "cm"), 7);
  assert.equal(await evaluate("+-2", 5, "cm"), 3);
  assert.equal(await evaluate("*1,5", 4, "cm"), 6);
  assert.equal(await evaluate("/2", 5, "cm"), 2.5);
  assert.equal(await evaluate("-3", 5, "cm"), -3);
  assert.equal(await evaluate(" 4 ", 5, "cm"), 4);
  assert.deepEqual(asked, []); // a number by itself is read here
  assert.equal(await evaluate("+1e2", 5, "cm"), 105);
  assert.deepEqual(asked, ["1e2"]); // all else the core reads
});

test("what cannot be read is refused with a sentence", async () => {
  await assert.rejects(evaluate("/0", 5, "cm"), /divide by zero/);
  await assert.rejects(evaluate("*x", 5, "cm"), /is not a number/);
  await assert.rejects(evaluate("*", 5, "cm"), /is not a number/);
  await assert.rejects(evaluate("twelve", 5, "cm"));
});

test("lengths are shown in another unit and come back as they were", () => {
  display({ unit: "in" });
  assert.equal(toShown(2.54), 1);
  assert.equal(fromShown(1), 2.54);
  assert.equal(toShown(2.54 ** 2, 2), 1);
  assert.equal(toShown(7, 0), 7);
  assert.equal(fromShown(toShown(12.3456)), 12.3456);
  assert.equal(lengthText(5.08), "2.00 in");
});

test("decimals, minus signs and thousands", () => {
  display({ digits: 1 });
  assert.equal(tidy(-0.04), "0");
  assert.equal(tidy(-1.26), "−1.3");
  assert.equal(steady(2), "2.0");
  display({});
  assert.equal(steady(2.5), "2.50");
  assert.equal(shown(0.123456), "0.1235");
  assert.equal(format(-0.5), "−0.50");
  assert.equal(counted(1234567), "1 234 567");
});

test("a drag goes in what a pixel can tell", () => {
  display({});
  assert.equal(rounded(0.12346, 0.001, 0.01, false), 12.3);
  assert.equal(rounded(0.12346, 0.001, 0.01, true), 12.35);
});

test("turns about one axis stay exact, others come out as turns about x, y, z", () => {
  assert.deepEqual(turned([0, 0, 30], 2, 15), [0, 0, 45]);
  assert.deepEqual(turned([350, 0, 0], 0, 20), [370, 0, 0]);
  const mixed = turned([0, 0, 90], 0, 90);
  const q = turning(mixed);
  const want = turning([0, 0, 90]).premultiply(turning([90, 0, 0]));
  assert.ok(Math.abs(Math.abs(q.dot(want)) - 1) < 1e-9);
  for (const t of [[10, 20, 30], [-40, 89, 120], [0, 90, 0]] as [number, number, number][]) {
    assert.ok(Math.abs(Math.abs(turning(turnsOf(turning(t))).dot(turning(t))) - 1) < 1e-9);
  }
});
