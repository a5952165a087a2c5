import { Matrix4, Quaternion, Vector3 } from "three";

import type { KindInfo } from "../../api/client";
import { footprint, type Plane, planeOf, setDrawing } from "../../model/drawing/plane";
import { addPart, freeName } from "../../model/document/intents";
import { formValues, isBlock, isFlat } from "../../model/steps/kinds";
import { axesOf, matrixOf } from "../../model/places/frames";
import { editor, groupsOf, kindOf, METRES, partOf, partsOf, type Triple, unitOf, type Value, type Values } from "../../model/store";
import { turnsOf } from "../../model/places/turns";
import { change, storedAs, tell } from "../../sync/build";
import { accept } from "../session/storing";

/** Begin drawing a form: in the plane of the view that is pressed, or on the picked face. */
export async function startDrawing(form: string): Promise<void> {
  await accept();
  const { pick, meshes } = editor.get();
  const part = partOf(editor.get(), pick?.part ?? null);
  let plane: Plane | null = null;
  if (pick !== null && pick.kind === "faces" && part !== null) {
    const mesh = meshes[pick.part]?.mesh.cage;
    const matrix = matrixOf(part, METRES[unitOf(editor.get())], groupsOf(editor.get()));
    const [x, y, z] = axesOf("normal", part, mesh, pick).map((a) => new Vector3(...a).transformDirection(matrix)) as [Vector3, Vector3, Vector3];
    const at = new Vector3(...faceMiddle(pick.part, pick.elements)).applyMatrix4(matrix);
    plane = { origin: at.toArray() as Triple, across: x.toArray() as Triple, up: y.toArray() as Triple, out: z.toArray() as Triple };
  }
  editor.set({ path: null, drawing: { form, stage: "wait", plane, view: null, from: [0, 0], to: [0, 0], height: 0 } });
}

function faceMiddle(part: string, faces: readonly number[]): Triple {
  const mesh = editor.get().meshes[part]?.mesh.cage;
  const out = new Vector3();
  if (mesh === undefined) return [0, 0, 0];
  let count = 0;
  for (const f of faces) {
    for (let c = mesh.shape.offsets[f] as number; c < (mesh.shape.offsets[f + 1] as number); c++, count++) {
      out.add(new Vector3().fromArray(mesh.positions, (mesh.shape.corners[c] as number) * 3));
    }
  }
  return out.multiplyScalar(1 / Math.max(count, 1)).toArray() as Triple;
}

/** The footprint is drawn: on to the height, or finished where there is none. */
export async function footprintDone(): Promise<void> {
  const { drawing } = editor.get();
  if (drawing === null) return;
  const [w, d] = footprint(drawing);
  if (w < 1e-6 || d < 1e-6) {
    setDrawing({ stage: "wait", ...(drawing.view === null ? {} : { plane: null, view: null }) });
    return;
  }
  const kind = kindOf(editor.get(), drawing.form);
  if (kind !== null && isFlat(kind)) await finishDrawing();
  else setDrawing({ stage: "height", height: Math.min(w, d) });
}

/** Type one size of the footprint; it grows from the corner it was begun at. */
export function setFootprint(index: 0 | 1, metres: number): void {
  const { drawing } = editor.get();
  if (drawing === null) return;
  const to: [number, number] = [drawing.to[0], drawing.to[1]];
  to[index] = (drawing.from[index] as number) + ((to[index] as number) < (drawing.from[index] as number) ? -1 : 1) * Math.abs(metres);
  setDrawing({ to, stage: drawing.stage === "wait" ? "height" : drawing.stage, plane: drawing.plane ?? planeOf(null), height: drawing.height || Math.abs(metres) });
}

/** A form's parameters in the build's unit, without the noise of pointing. */
function parameters(kind: KindInfo, size: Triple, metres: number): Values {
  const tidy = (v: Value): Value => (Array.isArray(v) ? v.map((x) => tidy(x as number) as number) : typeof v === "number" ? Number((v / metres).toPrecision(9)) : v);
  return Object.fromEntries(Object.entries(formValues(kind, size)).map(([k, v]) => [k, tidy(v)]));
}

function aligned(v: Vector3): boolean {
  return v.toArray().filter((c) => Math.abs(c) > 1e-9).length === 1;
}

/** Make the part that is drawn: its base on the plane, its axis out of it. A box along the axes is not turned. */
export async function finishDrawing(): Promise<void> {
  const { drawing } = editor.get();
  const plane = drawing?.plane ?? null;
  const kind = kindOf(editor.get(), drawing?.form ?? "");
  if (drawing === null || plane === null || kind === null) return;
  const [w, deep] = footprint(drawing);
  const flat = isFlat(kind);
  if (w < 1e-6 || deep < 1e-6 || (!flat && Math.abs(drawing.height) < 1e-6)) {
    tell("Draw a footprint and a height first, or type them");
    return;
  }
  const metres = METRES[unitOf(editor.get())];
  const [across, up, out] = [plane.across, plane.up, plane.out].map((v) => new Vector3(...v)) as [Vector3, Vector3, Vector3];
  const base = new Vector3(...plane.origin)
    .addScaledVector(across, (drawing.from[0] + drawing.to[0]) / 2)
    .addScaledVector(up, (drawing.from[1] + drawing.to[1]) / 2);
  if (!flat && drawing.height < 0) base.addScaledVector(out, drawing.height);
  let size: Triple = [w, Math.abs(drawing.height), deep];
  let own: Values = {};
  let rotate: Triple = [0, 0, 0];
  if (kind.curve === "begins" && [across, up, out].every(aligned)) {
    // an outline lies in a plane of the axes by itself, its first axis across, or up where that plane is seen from the side
    const k = out.toArray().findIndex((v) => Math.abs(v) > 0.5);
    own = { plane: (["yz", "xz", "xy"] as const)[k] as string };
    if (k === 0) size = [deep, 0, w];
  } else if (kind.curve === "begins") {
    own = { plane: "xz" };
    rotate = turnsOf(new Quaternion().setFromRotationMatrix(new Matrix4().makeBasis(across, out, new Vector3().crossVectors(across, out))));
  } else if (isBlock(kind) && [across, up, out].every(aligned)) {
    const span = across.clone().multiplyScalar(w).add(up.clone().multiplyScalar(deep)).add(out.clone().multiplyScalar(Math.abs(drawing.height)));
    size = span.toArray().map(Math.abs) as Triple;
    base.addScaledVector(out, Math.abs(drawing.height) / 2);
    base.y -= size[1] / 2;
  } else {
    rotate = turnsOf(new Quaternion().setFromRotationMatrix(new Matrix4().makeBasis(across, out, new Vector3().crossVectors(across, out))));
  }
  const form = drawing.form;
  const { title } = kind;
  const parts = partsOf(editor.get());
  const id = freeName("part", parts.map((p) => p.id));
  const name = freeName(title, parts.map((p) => p.name), " ");
  const translate = base.toArray().map((v) => Number((v / metres).toFixed(6)) + 0);
  const placement = { ...(translate.some((v) => v !== 0) ? { translate } : {}), ...(rotate.some((v) => v !== 0) ? { rotate } : {}) };
  const part = { name, id, ...(Object.keys(placement).length > 0 ? { placement } : {}), steps: [{ id: `${form}1`, kind: form, ...parameters(kind, size, metres), ...own }] };
  editor.set({ drawing: null });
  if (await change(`New ${title.toLowerCase()}`, addPart(part))) editor.set({ current: storedAs(id), pick: null, openStep: null });
}
