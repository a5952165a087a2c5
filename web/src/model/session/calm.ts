import { create } from "zustand";

import { editor, type EditorState } from "../store";

/** While a drag goes on, panels hear of it so often, in milliseconds: what hands look at then is drawn over the views. */
const EVERY = 120;

/**
 * The editor's state for panels: the same as it stands, except that a drag does not make them render at every move. The last
 * of its moves is never left out.
 */
export const useCalm = create<EditorState>()(() => editor.get());

let later: ReturnType<typeof setTimeout> | null = null;

function pass(): void {
  if (later !== null) clearTimeout(later);
  later = null;
  useCalm.setState(editor.get(), true);
}

editor.subscribe((state, before) => {
  const drags = state.session?.dragging === true && before.session?.dragging === true && state.session.tool === before.session.tool;
  const draws = state.drawing !== before.drawing && state.drawing !== null && state.drawing.stage === before.drawing?.stage;
  if (drags || draws) later ??= setTimeout(pass, EVERY);
  else pass();
});
