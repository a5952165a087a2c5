import { answer, api, asMeant, type Fault, own, Refused, type Unit } from "../api/client";
import type { components } from "../api/schema";
import type { Fragment } from "../model/document/fragment";

export type ModelInfo = components["schemas"]["ModelInfo"];
const LARGEST = 100 * 1024 * 1024;
const LARGEST_DRAWING = 20 * 1024 * 1024;

/** Hand a model file to the server; what cannot be read is refused with a reason. */
export async function uploadModel(file: File): Promise<ModelInfo> {
  if (file.size > LARGEST) throw new Error(`the file has ${(file.size / 2 ** 20).toFixed(0)} MB; at most 100 MB are taken`);
  const response = asMeant(await fetch(`/api/models?name=${encodeURIComponent(file.name.slice(0, 200))}`, { method: "POST", body: file, headers: { "Content-Type": "application/octet-stream", ...own() } }));
  if (!response.ok) throw new Refused(response.status, (await response.json()) as Fault);
  return (await response.json()) as ModelInfo;
}

interface Taking {
  readonly name: string;
  readonly unit: Unit;
  readonly up: "y" | "z";
  readonly to: Unit;
  readonly weld: number;
  readonly quads: boolean;
}

/** The file as parts and groups. */
export async function modelParts(sha256: string, query: Taking): Promise<Fragment> {
  return answer(api.GET("/api/models/{sha256}/parts", { params: { path: { sha256 }, query } }));
}

/** An SVG or DXF drawing as parts that are curves; nothing of the file is kept.
 *
 * @param unit of a drawing that tells none */
export async function drawingParts(file: File, to: Unit, unit: Unit | null = null): Promise<Fragment & { readonly notes: readonly string[]; readonly assumed?: Unit | null }> {
  if (file.size > LARGEST_DRAWING) throw new Error(`the file has ${(file.size / 2 ** 20).toFixed(0)} MB; at most 20 MB are taken`);
  const response = asMeant(await fetch(`/api/models/drawing?to=${to}${unit === null ? "" : `&unit=${unit}`}&name=${encodeURIComponent(file.name.slice(-200))}`, { method: "POST", body: file, headers: { "Content-Type": "application/octet-stream", ...own() } }));
  if (!response.ok) throw new Refused(response.status, (await response.json()) as Fault);
  return (await response.json()) as components["schemas"]["TakenModel"] & { notes: string[] };
}
