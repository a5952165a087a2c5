import { answer, api, type Operation, sentence, type Size } from "../../api/client";
import { asTold, setSize } from "../../model/document/intents";
import { pickRule } from "../../model/picks/picks";
import { editor, type Triple } from "../../model/store";
import { change, tell } from "../../sync/build";
import { proposeMove } from "../session/arming";
import { accept } from "../session/storing";

/** Make a size what is wanted by what drives it. */
export async function driveSize(size: Size, want: number): Promise<boolean> {
  await accept();
  const { build } = editor.get();
  if (build === null || size.driver == null) return false;
  try {
    const found = await answer(api.POST("/api/builds/{build_id}/drive", { params: { path: { build_id: build.id } }, body: { revision: build.revision, size: size as never, want, driver: size.driver as never } }));
    const patch = [...(found.patch as Operation[])];
    const at = build.document.sizes?.findIndex((s) => s.id === size.id) ?? -1;
    if (at >= 0 && size.want !== want) patch.push({ op: "add", path: `/sizes/${at}/want`, value: want });
    return await change(found.label, asTold(patch, build.document));
  } catch (error) {
    tell(sentence(error));
    return false;
  }
}

/** A wanted value typed: with a driver the model follows, else it is only written down. */
export async function wantSize(size: Size, want: number): Promise<void> {
  await change(`${size.name}: wanted`, setSize(size.id, { want }), `size/${size.id}/want`);
}

/** Propose the move of the picked vertices that fits a board best. */
export async function suggestNudge(board: string): Promise<void> {
  await accept();
  const { build, pick } = editor.get();
  if (build === null) return;
  if (pick === null) {
    tell("Pick vertices on the outline first; the suggestion is for them");
    return;
  }
  try {
    const found = await answer(api.POST("/api/builds/{build_id}/nudge", { params: { path: { build_id: build.id } }, body: { revision: build.revision, part: pick.part, pick: pickRule(pick) as never, board } }));
    await proposeMove(found.translate as Triple);
    tell("This move fits best: Enter or Accept takes it, Esc leaves all as it was");
  } catch (error) {
    tell(sentence(error));
  }
}
