import { editor, kindOf, type ToolSession } from "../model/store";
import { FormTool } from "./form";
import { lookOf } from "./manifest";
import { NumberTool } from "./number";
import type { Tool } from "./Tool";

const NUMBER = new NumberTool();
const FORM = new FormTool();

/** The tool that works a session: its own, or the knob that any kind of step has. */
export function toolOf(session: ToolSession): Tool {
  const look = lookOf(session.tool);
  if (session.asks !== null && look.points !== undefined) return look.points.tool;
  if (kindOf(editor.get(), session.tool)?.form) return FORM;
  return look.tool ?? NUMBER;
}
