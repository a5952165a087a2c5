import type { ToolSession } from "../state/store";
import { kindOf, editor } from "../state/store";
import { CutTool } from "./cut";
import { ExtrudeTool } from "./extrude";
import { FormTool } from "./form";
import { LoopTool } from "./loops";
import { NumberTool } from "./number";
import { SliceTool } from "./slice";
import { SlideTool } from "./slide";
import type { Tool } from "./Tool";
import { TransformTool } from "./transform";

const TOOLS: Record<string, Tool> = { extrude: new ExtrudeTool(), transform: new TransformTool(), slice: new SliceTool(), cut: new CutTool(), slide: new SlideTool() };
const NUMBER = new NumberTool();
const LOOPS = new LoopTool();
const FORM = new FormTool();

/** The tool that works a session: its own, or the knob that any kind of step has. */
export function toolOf(session: ToolSession): Tool {
  if (session.tool === "insert_loop" && session.takes === "nothing") return LOOPS;
  if (kindOf(editor.get(), session.tool)?.form) return FORM;
  return TOOLS[session.tool] ?? NUMBER;
}

export type { Tool };
