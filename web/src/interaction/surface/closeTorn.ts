import type { Part, Step } from "../../api/client";
import { addStep, freeName, together } from "../../model/document/intents";
import { roundLength } from "../../model/steps/kinds";
import { middle } from "../../model/places/frames";
import { hasBorder, shellBelow } from "../../model/steps/shells";
import { editor, partsOf } from "../../model/store";
import { change, tell } from "../../sync/build";
import { accept } from "../session/storing";

/** A part and those that begin with what one of its steps sends out. */
function torn(part: string, step: string): Part[] {
  const begins = (first: Step | undefined) => {
    const told = first as unknown as Record<string, unknown> | undefined;
    return told?.["part"] === part && told["step"] === step;
  };
  return partsOf(editor.get()).filter((p) => p.id === part || begins(p.steps?.[0]));
}

/** Close what a step tore apart, all sides of it at once: the holes filled, or the faces given thickness. They stay recipes. */
export async function closeTorn(part: string, step: string, how: "fill" | "shell"): Promise<void> {
  await accept();
  const { meshes } = editor.get();
  const all = torn(part, step);
  const host = all.find((p) => p.id === part);
  const below = host === undefined ? null : shellBelow(host);
  // what a live shell below gives thickness is closed by it: a face over its hole, or a second shell, would act against that
  const open = all.filter((p) => {
    const mesh = meshes[p.id ?? ""]?.mesh.cage;
    return mesh !== undefined && hasBorder(mesh.shape) && shellBelow(p) === null;
  });
  if (open.length === 0) {
    tell(below === null ? "They are closed already" : "The live shell below gives them thickness already");
    return;
  }
  const size = Math.max(...open.map((p) => middle(meshes[p.id ?? ""]?.mesh.cage, null).size));
  const steps = open.map((p) => {
    const id = freeName(how, (p.steps ?? []).map((s) => s.id));
    return addStep(p.id ?? "", how === "fill" ? { id, kind: "fill", pick: { edges: { border: true } }, style: "ngon" } : { id, kind: "shell", thickness: below?.thickness ?? -roundLength(size / 50), ...(below?.rim === false ? { rim: false } : {}) });
  });
  const several = open.length > 1;
  await change(how === "fill" ? (several ? "Fill both" : "Fill") : several ? "Thicken both" : "Thicken", together(...steps));
}
