import { change, undoOrRedo } from "../state/editor";
import { addStep, freeName } from "../state/intents";
import { startWord } from "../state/kinds";
import { PICK_COMMANDS, runPick } from "../state/pickRules";
import { changeKind, pickRule, setPick } from "../state/picks";
import { accept, arm, cancel } from "../state/session";
import { editor, partOf, type ViewName } from "../state/store";

export interface Command {
  readonly id: string;
  readonly title: string;
  /** a key, or `Ctrl+key`; shown as it is */
  readonly keys: readonly string[];
  readonly run: () => void | Promise<void>;
}

/** Which view to look from; the viewport hears it through the store. */
export function look(view: ViewName): void {
  editor.set({ view, through: view !== "perspective" });
}

let frame: () => void = () => undefined;

export function onFrame(run: () => void): void {
  frame = run;
}

/** Delete what is picked, as a step. */
export async function deletePick(): Promise<void> {
  await accept();
  const { pick } = editor.get();
  const part = partOf(editor.get(), pick?.part ?? null);
  if (pick === null || part?.id == null) return;
  const id = freeName("delete", (part.steps ?? []).map((s) => s.id));
  if (await change("Delete", addStep(part.id, { id, kind: "delete", pick: pickRule(pick) }))) setPick(part.id, pick.kind, []);
}

function pickAll(): void {
  const { current, meshes, pickKind } = editor.get();
  const shape = current === null ? undefined : meshes[current]?.mesh.cage.shape;
  if (current === null || shape === undefined) return;
  const count = pickKind === "faces" ? shape.faceCount : pickKind === "vertices" ? shape.vertexCount : shape.edges.length / 2;
  setPick(current, pickKind, Array.from({ length: count }, (_, i) => i));
}

/** Every key there is. Shown in the help sheet; no digit, sign or point may stand here. */
export const COMMANDS: readonly Command[] = [
  { id: "vertices", title: "Pick vertices", keys: ["V"], run: () => changeKind("vertices") },
  { id: "edges", title: "Pick edges", keys: ["E"], run: () => changeKind("edges") },
  { id: "faces", title: "Pick faces", keys: ["F"], run: () => changeKind("faces") },
  { id: "all", title: "Pick everything of the part", keys: ["Ctrl+A"], run: pickAll },
  { id: "extrude", title: "Extrude", keys: ["X"], run: () => arm("extrude") },
  { id: "move", title: "Move", keys: ["M"], run: () => arm("transform", "translate") },
  { id: "turn", title: "Turn", keys: ["T"], run: () => arm("transform", "rotate") },
  { id: "scale", title: "Scale", keys: ["L"], run: () => arm("transform", "scale") },
  { id: "inset", title: "Inset", keys: ["I"], run: () => startWord("inset") },
  { id: "bevel", title: "Bevel", keys: ["B"], run: () => startWord("bevel") },
  { id: "insert_loop", title: "Insert loops", keys: ["D"], run: () => startWord("insert_loop") },
  { id: "slice", title: "Slice: draw a line", keys: ["Y"], run: () => startWord("slice") },
  { id: "cut", title: "Cut: click points on edges and vertices", keys: ["W"], run: () => startWord("cut") },
  ...PICK_COMMANDS.map((c): Command => ({ id: c.id, title: `Pick: ${c.title}`, keys: c.keys, run: () => runPick(c) })),
  { id: "delete", title: "Delete what is picked", keys: ["Delete", "Backspace"], run: deletePick },
  { id: "accept", title: "Accept the tool's values", keys: ["Enter"], run: accept },
  { id: "cancel", title: "Take the tool's values back; lay it down; unpick", keys: ["Escape"], run: escape },
  { id: "undo", title: "Undo", keys: ["Ctrl+Z"], run: () => undoOrRedo("undo") },
  { id: "redo", title: "Redo", keys: ["Ctrl+Shift+Z", "Ctrl+Y"], run: () => undoOrRedo("redo") },
  { id: "frame", title: "Show everything", keys: ["A"], run: () => frame() },
  { id: "cage", title: "Show or hide the cage over the smooth surface", keys: ["C"], run: () => editor.set({ showCage: !editor.get().showCage }) },
  { id: "perspective", title: "3D view", keys: ["P"], run: () => look("perspective") },
  { id: "front", title: "Front view", keys: ["J"], run: () => look("front") },
  { id: "right", title: "Right view", keys: ["R"], run: () => look("right") },
  { id: "top", title: "Top view", keys: ["U"], run: () => look("top") },
];

function escape(): void {
  const { session, pick } = editor.get();
  if (session !== null) cancel();
  else if (pick !== null) setPick(pick.part, pick.kind, []);
}

export function commandFor(event: KeyboardEvent): Command | undefined {
  const key = event.key.length === 1 ? event.key.toUpperCase() : event.key;
  const name = (event.ctrlKey || event.metaKey ? "Ctrl+" : "") + (event.shiftKey && key.length === 1 && event.ctrlKey ? "Shift+" : "") + key;
  return COMMANDS.find((c) => c.keys.includes(name));
}
