import { deepEqual } from "fast-equals";

import { defaultOf } from "../steps/kinds";
import { pickRule } from "../picks/picks";
import { editor, kindOf, type ToolSession, type Triple, type Value, type Values } from "../store";

/** Whether two sets of values say the same. */
export function same(a: Values | null, b: Values): boolean {
  return deepEqual(a, b);
}

/** Whether there is anything to store. */
export function touched(session: ToolSession): boolean {
  if (session.stored === null) return session.proposes || !same(session.initial, session.values);
  return !same(session.stored, session.values);
}

/** A tool that is worked by pointing, before anything was pointed at: there is nothing to show or store. */
export function asksFirst(session: ToolSession): boolean {
  return session.asks !== null && session.values[session.asks] === undefined;
}

/** The step that a session's values stand for, without an id. */
export function asStep(session: ToolSession): Record<string, unknown> {
  const rule = pickRule({ kind: session.pickKind, ids: session.pickIds });
  const on = session.takes === "pick" ? { pick: rule } : session.takes === "through" ? { through: rule[session.pickKind] } : {};
  return { kind: session.tool, ...on, ...trimmed(session), ...session.hover };
}

/** The values worth writing down: what repeats a default is left out. */
function trimmed(session: ToolSession): Values {
  if (session.stored !== null) return session.values;
  const parameters = kindOf(editor.get(), session.tool)?.parameters ?? [];
  const repeats = (key: string, v: Value) => {
    const parameter = parameters.find((p) => p.name === key);
    return parameter !== undefined && !parameter.required && deepEqual(v, defaultOf(parameter));
  };
  return Object.fromEntries(Object.entries(session.values).filter(([key, v]) => !repeats(key, v)));
}

/** The trial as the core is asked for it, null where there is none. */
export function trialNow(): { part: string; step: Record<string, unknown>; replace: string | null } | null {
  const { session } = editor.get();
  if (session === null || asksFirst(session) || !touched(session)) return null;
  return { part: session.part, step: asStep(session), replace: session.stored === null ? null : session.stepId };
}

/** Three numbers of a session's values; zeros where they are not given. */
export function triple(values: Values, key: string): Triple {
  const value = values[key];
  return Array.isArray(value) ? (value as Triple) : [0, 0, 0];
}
