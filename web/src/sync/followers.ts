import { fetchPacked } from "../api/packets";
import { chosenOf, type Key } from "../model/document/members";
import { groupsAround, neededBy } from "../model/document/parts";
import { editor, type EditorState, groupsOf, partsOf } from "../model/store";
import { shapes } from "./build";

/** While parts are moved as a whole, those that follow them are asked for: one request in flight, the newest place waits. */
let flying = false;

/** Whether any part that is moved is needed by another. */
function isFollowed(state: EditorState, keys: readonly Key[]): boolean {
  const { build, kinds } = state;
  if (build === null) return false;
  const groups = groupsOf(state);
  const carried = partsOf(state).filter((p) => keys.includes(`p:${p.id}`) || groupsAround(p, groups).some((g) => keys.includes(`g:${g.id}`)));
  return carried.some((p) => neededBy(p.id ?? "", build.document, kinds).length > 0);
}

async function fly(): Promise<void> {
  flying = true;
  let shown: unknown = null;
  for (let { build, moved } = editor.get(); build !== null && moved !== null && moved !== shown; { build, moved } = editor.get()) {
    shown = moved;
    try {
      const bytes = await fetchPacked(`/api/builds/${build.id}/placed`, { revision: build.revision, placements: moved, have: shapes.have() });
      const trailing = shapes.readOthers(bytes);
      if (editor.get().moved !== null) editor.set({ trailing });
    } catch {
      break; // what cannot be is told where it is stored
    }
  }
  flying = false;
}

editor.subscribe((state, before) => {
  if (state.moved === before.moved || state.moved === null || state.copying || flying) return;
  if (isFollowed(state, chosenOf(state))) void fly();
});
