import { sentence, type Unit } from "../../api/client";
import { useDropped } from "../../model/session/dropped";
import { addFragment } from "../../model/document/fragment";
import { editor, unitOf } from "../../model/store";
import { change, tell } from "../../sync/build";
import { drawingParts } from "../../sync/models";
import { accept } from "../session/storing";
import { frame } from "../viewing";

/** The outlines of a drawing come in as curves, at the size the file says; where it tells no unit, that is asked for first. Whether
 * they came in. */
export async function takeDrawing(file: File, unit: Unit | null = null): Promise<boolean> {
  try {
    const fragment = await drawingParts(file, unitOf(editor.get()), unit);
    if (unit === null && fragment.assumed != null) {
      useDropped.setState({ drawing: { file, assumed: fragment.assumed } });
      return false;
    }
    await accept();
    let first: string | null = null;
    if (await change(`Take in ${file.name}`, addFragment(fragment, (own) => (first = String(own.parts[0]?.["id"] ?? ""))))) {
      editor.set({ current: first, pick: null, openStep: null });
      setTimeout(frame, 100); // once they are there
      if (fragment.notes.length > 0) tell(fragment.notes.join("; "));
      return true;
    }
  } catch (error) {
    tell(sentence(error));
  }
  return false;
}
