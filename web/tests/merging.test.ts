import "./kit";

import assert from "node:assert/strict";
import { test } from "node:test";

import { Vector3 } from "three";

import type { BuildDocument, Operation } from "../src/api/client";
import { conflict, withFreeIds } from "../src/model/document/rebase";
import { merged } from "../src/model/document/threeWay";
import { weightAt } from "../src/model/shaping/softWeights";
import { kept } from "../src/scene/kept";

const build = (...ids: string[]) => ({ format: "rhytonic", version: 1, parts: [{ id: "p", name: "Case", steps: ids.map((id) => ({ id, kind: "flip" })) }] }) as unknown as BuildDocument;
const put = (id: string): Operation => ({ op: "add", path: "/parts/0/steps/1", value: { id, kind: "flip" } }) as Operation;

test("what one hand alone changed is what became of it", () => {
  for (const [base, changed] of [[1, 2], [{ a: 1 }, { a: 2, b: 3 }], [[1, 2], [1, 2, 3]]]) {
    assert.deepEqual(merged(base, changed, base), changed);
    assert.deepEqual(merged(base, base, changed), changed);
    assert.deepEqual(merged(base, changed, changed), changed);
  }
  assert.deepEqual(merged({ a: 1, b: 1 }, { a: 2, b: 1 }, { a: 1, b: 3 }), { a: 2, b: 3 });
});

test("a new item whose id is taken by now has another, one that is moved keeps its own", () => {
  const now = build("a", "extrude1");
  const again = withFreeIds(now, [put("extrude1")]);
  assert.equal((again.patch[0]?.value as { id: string }).id, "extrude2");
  assert.deepEqual([...again.ids], [["extrude1", "extrude2"]]);
  const free = withFreeIds(now, [put("extrude7")]);
  assert.equal(free.ids.size, 0);
  const moved = withFreeIds(now, [{ op: "remove", path: "/parts/0/steps/0" } as Operation, put("a")]);
  assert.deepEqual([moved.ids.size, (moved.patch[1]?.value as { id: string }).id], [0, "a"]);
});

test("it is a conflict where both gave one value another, and only there", () => {
  const named = (name: string) => ({ format: "rhytonic", version: 1, parts: [{ id: "p", name, steps: [] }] }) as unknown as BuildDocument;
  const rename = (value: string): Operation[] => [{ op: "replace", path: "/parts/0/name", value } as Operation];
  assert.deepEqual(conflict(named("Post"), rename("Pole"), named("Pile"), rename("Pole")), { name: "name", theirs: "Pile", mine: "Pole" });
  assert.equal(conflict(named("Post"), rename("Pole"), named("Post"), rename("Pole")), null);
  assert.equal(conflict(named("Post"), rename("Pole"), named("Pole"), rename("Pole")), null);
  assert.equal(conflict(named("Post"), null, named("Pile"), null), null);
});

test("what planes leave of a square is the square's share of it, as both cut it", () => {
  const square = [[-1, -1], [1, -1], [1, 1], [-1, 1]].map(([x, y]) => new Vector3(x, y, 0));
  const area = (ring: readonly Vector3[] | null) => Math.abs((ring ?? []).reduce((sum, p, i) => { const q = ring![(i + 1) % ring!.length]!; return sum + p.x * q.y - q.x * p.y; }, 0)) / 2;
  const at = (axis: 0 | 1 | 2, side: 1 | -1, where: number) => ({ axis, side, at: where });
  for (const where of [-0.7, 0, 0.4]) {
    assert.ok(Math.abs(area(kept(square, [at(0, 1, where)])) - 2 * (1 - where)) < 1e-12);
    assert.ok(Math.abs(area(kept(square, [at(0, -1, where), at(1, 1, 0)])) - (1 + where)) < 1e-12);
  }
  assert.equal(kept(square, [at(0, 1, -1)])?.length, 4); // it lies against the plane: all of it, its corners on the plane too
  assert.equal(kept(square, [at(0, 1, 1)]), null);
});

test("soft weights fall from one to nothing, by half at half of the radius where they are neither full nor thin", () => {
  assert.deepEqual([weightAt(0, 0.5), weightAt(1, 0.5), weightAt(0.5, 0.5)], [1, 0, 0.5]);
  assert.ok(Math.abs(weightAt(0.5, 0) - (1 - 0.5 ** 0.25)) < 1e-12 && Math.abs(weightAt(0.5, 1) - (1 - 0.5 ** 4)) < 1e-12);
});
