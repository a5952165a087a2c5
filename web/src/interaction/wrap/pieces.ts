import { setPick } from "../../model/picks/picks";
import { editor, type Values } from "../../model/store";
import { useLaid } from "../../model/wrap/layout";
import { densityOf, facesAt, wholeIslands } from "../../model/wrap/square";
import { tell } from "../../sync/build";
import { begin } from "../session/begin";
import { accept } from "../session/storing";
import { tryValues } from "../session/trial";

/** Pieces where they are: what moving them begins with. */
export const AT_REST: Values = { move: [0, 0], turn: 0, scale: [1, 1], flip: "none", about: "island" };

/** Take the picked pieces in hand with other values than those at rest; whole pieces, and at least two where they are to agree. */
async function takePieces(values: (part: string, faces: readonly number[]) => Values): Promise<void> {
  await accept();
  const { pick, meshes } = editor.get();
  const { layout, part } = useLaid.getState();
  const island = layout?.island ?? [];
  const faces = pick?.kind === "faces" && pick.part === part ? wholeIslands(island, pick.elements) : [];
  if (pick === null || new Set(faces.map((f) => island[f])).size < 2) return tell("pick faces of two or more pieces first, on the square or in a view; Shift adds");
  if (meshes[pick.part]?.mesh.cage.uv == null) return;
  if (faces.join() !== pick.elements.join()) setPick(pick.part, "faces", faces);
  const whole = editor.get().pick;
  if (whole === null) return;
  begin("uv_transform", whole.part, whole, "pick", AT_REST, { proposes: true });
  tryValues(values(whole.part, faces), false);
}

export type Alignment = "left" | "centre" | "right" | "bottom" | "middle" | "top";

/** Set the boxes of the picked pieces in line. */
export const align = (to: Alignment): Promise<void> => takePieces(() => ({ align: to }));

/** Give the picked pieces one density: what they have on the whole, so that they take as much room as before. */
export const evenOut = (): Promise<void> =>
  takePieces((part, faces): Values => {
    const mesh = editor.get().meshes[part]?.mesh.cage;
    const pixels = useLaid.getState().layout?.figures?.resolution ?? 2048;
    return mesh === undefined ? {} : { density: Number(((densityOf(mesh, faces) * pixels) / 100).toPrecision(4)) };
  });

/** Lay the pieces of what is picked out anew, round what is picked: that stays where it lies. */
export async function unwrapRound(): Promise<void> {
  await accept();
  const { pick, meshes } = editor.get();
  const { layout, part } = useLaid.getState();
  const mesh = pick === null ? undefined : meshes[pick.part]?.mesh.cage;
  if (pick === null || mesh === undefined || pick.part !== part || mesh.uv === null) return tell("pick what is to stay, on the square or in a view: vertices, edges or faces of pieces that are laid out");
  const faces = wholeIslands(layout?.island ?? [], facesAt(mesh.shape, pick.kind, pick.elements));
  if (faces.length === 0) return tell("what is picked has no place on the square yet; unwrap the part first");
  const pins = { [pick.kind]: { ids: [...pick.ids] } };
  setPick(pick.part, "faces", faces);
  const whole = editor.get().pick;
  if (whole === null) return;
  begin("unwrap", whole.part, whole, "pick", { method: "isometric", iterations: 10, pins }, { proposes: true });
  tryValues({}, false);
}
