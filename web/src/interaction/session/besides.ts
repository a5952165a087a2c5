import { addPart, addStep, freeName, type Intent, setPart } from "../../model/document/intents";
import { othersOf } from "../../model/steps/kinds";
import { shellCount } from "../../model/steps/shells";
import { editor, kindOf, partOf, partsOf, type ToolSession } from "../../model/store";
import { lookOf } from "../../tools/manifest";

/** What is stored together with a step the first time: parts it takes step back, parts it sends faces into are made, and parts
 * chosen with it follow. */
export function besides(session: ToolSession): Intent[] {
  return [...session.riders.map((id) => following(session, id)), ...affected(session)];
}

/** A step of another part that follows the one of a session. */
function following(session: ToolSession, id: string): Intent {
  const steps = partOf(editor.get(), id)?.steps ?? [];
  return addStep(id, { id: freeName("follow", steps.map((s) => s.id)), kind: "follow", part: session.part, step: session.stepId, ...(session.ridesAs === "rigid" ? { as: "rigid" } : {}) });
}

function affected(session: ToolSession): Intent[] {
  const kind = kindOf(editor.get(), session.tool);
  const others = othersOf(kind);
  const flag = lookOf(session.tool).others?.(session.values);
  if (others !== null && flag !== undefined) {
    const value = session.values[others.name];
    return (Array.isArray(value) ? value : [value]).map((id) => setPart(String(id), { [flag]: true }));
  }
  const into = session.values[kind?.parameters.find((p) => p.quantity === "name")?.name ?? ""];
  return typeof into === "string" ? sentOut(session, into) : [];
}

/** Parts that begin with what a step sends out: one with all of the picked faces, or one for each shell but the first. */
function sentOut(session: ToolSession, into: string): Intent[] {
  const state = editor.get();
  const part = partOf(state, session.part);
  const cage = state.meshes[session.part]?.mesh.cage;
  if (part === null || cage === undefined) return [];
  const shells = session.takes === "pick" ? [null] : Array.from({ length: Math.max(shellCount(cage.shape) - 1, 0) }, (_, i) => i + 1);
  const taken = partsOf(state).map((p) => p.id);
  const { group, placement, joint, pivot } = part;
  const beside = Object.fromEntries(Object.entries({ group, placement, joint, pivot }).filter(([, v]) => v != null));
  return shells.map((shell) => {
    const id = freeName("part", taken);
    taken.push(id);
    const first = { id: "from_part1", kind: "from_part", part: session.part, step: session.stepId, ...(shell === null ? {} : { shell }) };
    return addPart({ name: shell === null ? into : `${into} ${shell}`, id, ...beside, steps: [first] });
  });
}
