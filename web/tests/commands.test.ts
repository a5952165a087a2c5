import { open } from "./kit";

import assert from "node:assert/strict";
import { beforeEach, test } from "node:test";

import { commandFor, commandOf, commands, keyName, keyOf, keysOf } from "../src/interaction/keys/commands";
import { PREFS, prefs } from "../src/model/prefs";
import { editor } from "../src/model/store";

const press = (key: string, more: Partial<Record<"ctrlKey" | "metaKey" | "shiftKey", boolean>> = {}) => ({ key, ctrlKey: false, metaKey: false, shiftKey: false, ...more }) as KeyboardEvent;

beforeEach(() => {
  prefs.set(PREFS);
  open({});
});

test("no key stands for two commands, and no digit, sign or point for any", () => {
  const all = commands().flatMap((c) => keysOf(c));
  assert.equal(new Set(all).size, all.length);
  assert.ok(all.every((k) => !/^[0-9.,+\-*/]$/.test(k)));
  assert.equal(new Set(commands().map((c) => c.id)).size, commands().length);
});

test("a pressed key is written as the table writes it", () => {
  assert.equal(keyName(press("x")), "X");
  assert.equal(keyName(press("X", { shiftKey: true })), "Shift+X");
  assert.equal(keyName(press("z", { metaKey: true })), "Ctrl+Z");
  assert.equal(keyName(press("?", { shiftKey: true })), "?");
  assert.equal(keyName(press("ArrowLeft")), "ArrowLeft");
});

test("a person's own key stands in place of the first; none is none", () => {
  assert.equal(commandFor(press("x"))?.id, "extrude");
  prefs.set({ keys: { extrude: "Ctrl+E", inset: "" } });
  assert.equal(commandFor(press("x")), undefined);
  assert.equal(commandFor(press("e", { ctrlKey: true }))?.id, "extrude");
  assert.equal(keyOf("extrude"), "Ctrl E");
  assert.equal(keyOf("inset"), "");
  assert.equal(keyOf("unheard of"), "");
});

test("kinds bring their commands: keys from the manifest, a hand-drawn form for each form", () => {
  assert.equal(commandOf("bevel")?.title, "Bevel");
  assert.equal(commandOf("cut")?.title, "Cut: click points on edges and vertices");
  assert.equal(commandOf("draw-quad_sphere")?.title, "Draw a quad sphere by hand");
  const before = commands().length;
  editor.set({ kinds: editor.get().kinds.filter((k) => k.word !== "bevel" && k.word !== "torus") });
  assert.equal(commandOf("bevel"), undefined);
  assert.equal(commands().length, before - 2);
});
