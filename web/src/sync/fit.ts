import { decode } from "@msgpack/msgpack";

import { Refused, type Size, type SizeInfo } from "../api/client";
import { fetchPacked } from "../api/packets";
import { type BoardFit, useBrief } from "../model/brief/boardFit";
import { trialNow } from "../model/session/toolStep";
import { boardsOf, editor, type EditorState } from "../model/store";

/** In a drag, the brief is asked for no more often than so, in milliseconds: the preview comes first. */
const EVERY = 140;

let flying = false;
let wanted = false;

function words(bytes: Uint8Array): ArrayBuffer {
  return bytes.slice().buffer as ArrayBuffer;
}

interface Wire {
  sizes: SizeInfo[];
  boards: { id: string; iou: number; mean: number; worst: number; worst_at: [number, number] | null; beyond: string[]; points: Uint8Array; near: Uint8Array; off: Uint8Array; ring: Uint8Array }[];
  overall: number | null;
}

/** Ask how the build does against its brief; one request in flight, the newest state waits. */
function refresh(): void {
  wanted = true;
  if (!flying) void fly();
}

async function fly(): Promise<void> {
  flying = true;
  while (wanted) {
    wanted = false;
    const { build } = editor.get();
    const { more } = useBrief.getState();
    if (build === null) break;
    const boards = boardsOf(editor.get()).some((b) => (b.outline?.rings.length ?? 0) > 0);
    const sizes = (build.document.sizes?.length ?? 0) > 0;
    if (!boards && !sizes && more.length === 0) {
      useBrief.setState({ sizes: {}, boards: {}, overall: null, tried: [], trial: false });
      break;
    }
    const trial = trialNow();
    const began = performance.now();
    try {
      const bytes = await fetchPacked(`/api/builds/${build.id}/brief`, { revision: build.revision, boards, sizes, more, trial: trial === null ? null : { revision: build.revision, ...trial } });
      if (editor.get().build?.id !== build.id) continue;
      take(decode(new Uint8Array(bytes)) as Wire, more.length, trial !== null);
    } catch (error) {
      // a trial that cannot be is told by its preview; another revision is asked again
      if (error instanceof Refused && error.status === 409) wanted = wanted || editor.get().build?.revision !== build.revision;
    }
    const took = performance.now() - began;
    const left = Math.max(EVERY, 2 * took) - took; // the preview of a drag has the better part of the time
    if (wanted && left > 0) await new Promise((r) => setTimeout(r, left));
  }
  flying = false;
}

function take(wire: Wire, more: number, trial: boolean): void {
  const own = wire.sizes.slice(0, wire.sizes.length - more);
  const boards = wire.boards.map((b): BoardFit => ({
    id: b.id, iou: b.iou, mean: b.mean, worst: b.worst, worstAt: b.worst_at, beyond: b.beyond,
    points: new Float32Array(words(b.points)), near: new Float32Array(words(b.near)), off: new Float32Array(words(b.off)), ring: new Uint32Array(words(b.ring)),
  }));
  useBrief.setState({
    sizes: Object.fromEntries(own.map((s) => [s.id, s])),
    boards: Object.fromEntries(boards.map((b) => [b.id, b])),
    overall: wire.overall,
    tried: wire.sizes.slice(wire.sizes.length - more),
    trial,
  });
}

/** Tell sizes that are not the build's, as a form asks for them. */
export function trySizes(sizes: readonly Size[]): void {
  useBrief.setState({ more: sizes, ...(sizes.length === 0 ? { tried: [] } : {}) });
  refresh();
}

editor.subscribe((state: EditorState, before: EditorState) => {
  if (state.build !== null && state.build.id === before.build?.id && state.build !== before.build) {
    const known = new Set(before.build.parts.map((p) => p.id));
    const came = state.build.parts.map((p) => p.id).filter((id) => !known.has(id));
    if (came.length > 0 && known.size > 0) useBrief.setState({ added: [...useBrief.getState().added, ...came] });
  }
  if (state.build !== before.build || state.session?.values !== before.session?.values || (state.session === null) !== (before.session === null)) refresh();
});

