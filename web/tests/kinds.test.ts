import { box, kinds, open } from "./kit";

import assert from "node:assert/strict";
import { test } from "node:test";

import type { KindInfo, Step } from "../src/api/client";
import { baseForms, drawnForms, firstValues, formValues, isBlock, isFlat, isRound, keepsNumbers, knobOf, offered, roundLength } from "../src/model/steps/kinds";
import { editor, type ToolSession } from "../src/model/store";
import { summary } from "../src/model/steps/summary";
import { lookOf, MANIFEST, rankOf } from "../src/tools/manifest";

const of = (word: string) => kinds().find((k) => k.word === word) as KindInfo;
const near = (a: Record<string, unknown>, b: Record<string, unknown>) => assert.deepEqual(JSON.parse(JSON.stringify(a), (_, v) => (typeof v === "number" ? Number(v.toPrecision(9)) : v)), b);

test("forms are as large as they are drawn", () => {
  near(formValues(of("box"), [2, 3, 4]), { size: [2, 3, 4] });
  near(formValues(of("plane"), [2, 0, 4]), { size: [2, 4] });
  near(formValues(of("cylinder"), [2, 3, 4]), { radius: 1, height: 3 });
  near(formValues(of("tube"), [2, 3, 4]), { radius: 1, inner_radius: 0.8, height: 3 });
  near(formValues(of("sphere"), [2, 9, 4]), { radius: 1 });
  near(formValues(of("quad_sphere"), [6, 9, 4]), { radius: 2 });
  near(formValues(of("torus"), [4, 1, 4]), { radius: 1.5, tube_radius: 0.5 });
  near(formValues(of("torus"), [4, 8, 4]), { radius: 1.1, tube_radius: 0.9 }); // a hole is left
});

test("curves are begun by typing, paths by drawing", () => {
  const words = baseForms(kinds()).filter((k) => k.curve === "begins").map((k) => k.word);
  assert.deepEqual(words, ["rectangle", "circle", "arc"]);
});

test("what a form is follows from where its numbers reach", () => {
  assert.deepEqual(drawnForms(kinds()).filter((k) => isRound(k)).map((k) => k.word), ["cylinder", "tube", "sphere", "quad_sphere", "torus", "circle"]);
  assert.deepEqual(drawnForms(kinds()).filter((k) => isFlat(k)).map((k) => k.word), ["plane", "sphere", "quad_sphere", "rectangle", "circle"]);
  assert.deepEqual(drawnForms(kinds()).filter((k) => isBlock(k)).map((k) => k.word), ["box"]);
});

/** What is pointed at in the build, or called as what it comes from, is proposed where a tool is armed. */
const NAMED = new Set(["part", "parts", "name", "file", "board"]);

test("every kind proposes a value for all it asks for", () => {
  open({ a: box([0, 0, 0], [1, 1, 1]) });
  for (const kind of kinds()) {
    const values = firstValues(kind, 1);
    for (const p of kind.parameters) {
      if (p.required && p.quantity !== "other" && !NAMED.has(p.quantity) && !(kind.word in MANIFEST && lookOf(kind.word).points !== undefined)) assert.ok(values[p.name] !== undefined, `${kind.word} ${p.name}`);
    }
  }
});

test("proposals go by size, in round numbers of the unit", () => {
  open({});
  assert.equal(roundLength(0.0123), 0.01);
  assert.equal(roundLength(0.6), 0.5);
  assert.equal(roundLength(8), 10);
  assert.equal(roundLength(-0.04), -0.05);
  assert.equal(roundLength(0), 0);
  assert.deepEqual(offered(of("duplicate"), 2), { translate: [2, 0, 0] });
  assert.deepEqual(firstValues(of("extrude"), 1), { depth: 0 });
  assert.deepEqual(firstValues(of("transform"), 1), { translate: [0, 0, 0], rotate: [0, 0, 0], scale: [1, 1, 1] });
  assert.equal(firstValues(of("bevel"), 1)["segments"], 1);
});

test("the knob is the kind's own, else the first number it asks for", () => {
  open({});
  assert.equal(knobOf("extrude")?.parameter.name, "depth");
  assert.equal(knobOf("extrude")?.along, "normal");
  assert.equal(knobOf("inset")?.parameter.name, "width");
  assert.equal(knobOf("weld")?.parameter.name, "distance");
  assert.equal(knobOf("flip"), null);
  assert.equal(knobOf("nothing of the kind"), null);
});

test("a pick keeps its numbers through kinds that say so", () => {
  open({});
  const session = (tool: string) => ({ tool }) as ToolSession;
  assert.ok(keepsNumbers(session("inset")));
  assert.ok(!keepsNumbers(session("bevel")));
  assert.ok(!keepsNumbers(null));
  assert.deepEqual(editor.get().kinds.filter((k) => k.keeps_pick).map((k) => k.word).sort(), ["bead", "bend", "brush", "crease", "even_out", "extrude", "flatten", "follow", "hard", "inset", "lattice", "noise", "pack", "project", "relax", "round_out", "seam", "slide", "straighten_uv", "stretch", "taper", "transform", "twist", "unwrap", "uv_transform"]);
});

test("a closed line tells a step in a few numbers, or in words", () => {
  open({});
  const told = (step: object) => summary(step as Step, of((step as { kind: string }).kind));
  assert.equal(told({ kind: "box", size: [18, 26, 18], segments: [2, 1, 1] }), "18 × 26 × 18");
  assert.equal(told({ kind: "bevel", width: 0.4, segments: 2 }), "0.4, segments 2");
  assert.equal(told({ kind: "bevel", width: 0.4 }), "0.4");
  assert.equal(told({ kind: "subdivision" }), "levels 1");
  assert.equal(told({ kind: "slide", amount: 0.25 }), "amount 0.25");
  assert.equal(told({ kind: "mirror", axis: "x" }), "across x = 0");
  assert.equal(told({ kind: "mirror", axis: "y", at: 2 }), "across y = 2");
  assert.equal(told({ kind: "flip" }), "");
});

test("looks are given for kinds that exist, and nothing has to be given", () => {
  const words = new Set(kinds().map((k) => k.word));
  for (const word of Object.keys(MANIFEST)) assert.ok(words.has(word), word);
  assert.deepEqual(lookOf("unheard of"), {});
  assert.ok(rankOf("unheard of") > rankOf("weld"));
});
