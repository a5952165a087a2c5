import { sentence } from "../../api/client";
import { setStep } from "../../model/document/intents";
import { editor, METRES, partOf, unitOf } from "../../model/store";
import { change, tell } from "../../sync/build";
import { upload } from "../../sync/pictures";
import { begin } from "../session/begin";
import { accept } from "../session/storing";
import { tryValues } from "../session/trial";
import { holdWhatGoesOut } from "./hold";

/** Two millimetres, in the build's unit: what a relief begins with. */
const FIRST = 0.002;

/** Begin a relief of a pattern or a picture on the picked faces, else on the whole part. */
export async function raise(source: { readonly pattern: string } | { readonly picture: string }): Promise<void> {
  await accept();
  const { pick, current, meshes } = editor.get();
  const on = pick?.kind === "faces" ? pick : null;
  const part = on?.part ?? current;
  if (part === null) return;
  if (meshes[part]?.mesh.cage.uv == null) return tell("it is raised where it lies on the texture square; unwrap the part or project it first");
  const height = Number((FIRST / METRES[unitOf(editor.get())]).toPrecision(2));
  begin("relief", part, on, on === null ? "nothing" : "pick", { ...source, height, middle: 0, levels: 4 }, { proposes: true });
  tryValues({}, false);
}

/** A relief asked for by its name: of the first pattern there is. */
export async function raiseFirst(): Promise<void> {
  const first = editor.get().build?.document.patterns?.[0];
  if (first !== undefined) return raise({ pattern: first.id });
  editor.set({ station: "wrap" });
  tell("a relief raises a pattern: make one here in Wrap, by + Pattern, or drop a painted picture on the square");
}

/** A picture dropped on the square: raised, or in place of the picture of the relief that is open. */
export async function raisePicture(file: File): Promise<void> {
  await accept();
  const { current, openStep } = editor.get();
  const part = partOf(editor.get(), current);
  if (part?.id == null) return;
  try {
    const { sha256 } = await upload(file);
    const open = part.steps?.find((s) => s.id === openStep);
    if (open?.kind === "relief" && "picture" in open && open.picture != null) await change("Picture of the relief", setStep(part.id, open.id ?? "", { picture: sha256, painted: undefined }));
    else {
      await holdWhatGoesOut(part.id); // it was painted on what lies here now
      await raise({ picture: sha256 });
    }
  } catch (error) {
    tell(sentence(error));
  }
}
