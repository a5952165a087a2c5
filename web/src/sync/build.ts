import { answer, answerBuild, api, type Build, Refused, sentence } from "../api/client";
import { fetchPacked, type PartMesh, ShapeStore } from "../api/packets";
import { Previewer } from "../api/previewer";
import type { Intent } from "../model/document/intents";
import { keepsNumbers } from "../model/steps/kinds";
import { renewPick, restorePick, setPick } from "../model/picks/picks";
import { beginOn, gridIn } from "../model/prefs";
import { editor, type PickKind, PLAIN, type Triple } from "../model/store";
import { shownUnit } from "../model/units";
import { ChangeQueue } from "./changes";
import { inspect } from "./inspection";

/** What would help, to be done by a press on it. */
export interface Way {
  readonly title: string;
  readonly go: () => void;
}

let tellPerson: (message: string, way?: Way) => void = () => undefined;

/** Where refusals and news are shown. */
export function onMessage(tell: (message: string, way?: Way) => void): void {
  tellPerson = tell;
}

export function tell(message: string, way?: Way): void {
  tellPerson(message, way);
}

/** Connectivities that came along once. */
export const shapes = new ShapeStore();
const changes = new ChangeQueue((build) => void take(build), tell);

let shownNext: number | null = null;

/** When the trial that the next frame shows was asked for; null where it shows none anew. */
export function askedAt(): number | null {
  const at = shownNext;
  shownNext = null;
  return at;
}

export const previewer = new Previewer(shapes, (heard) => {
  if ("mesh" in heard) {
    shownNext = heard.asked;
    editor.set({ preview: heard.mesh, previewError: null, takesLong: false, soft: heard.mesh.soft });
  }
  else if (!(heard.error instanceof Refused && heard.error.status === 409)) editor.set({ previewError: sentence(heard.error), takesLong: heard.error instanceof Refused && heard.error.fault.code === "takes_long" });
});

let taking: Promise<void> = Promise.resolve();

/** The build this window is about; answers about another come too late. */
let openId: string | null = null;

/** Show a build as the server told it, and fetch the meshes that changed. */
export function take(build: Build): Promise<void> {
  const held = editor.get();
  if (build.id !== openId || (held.build !== null && held.build.revision > build.revision)) return taking;
  const current = build.parts.some((p) => p.id === held.current) ? held.current : (build.parts[0]?.id ?? null);
  const pick = held.pick !== null && build.parts.some((p) => p.id === held.pick?.part) ? held.pick : null;
  editor.set({ build, current, pick, lit: null });
  taking = fetchMeshes(build);
  return taking;
}

async function fetchMeshes(build: Build): Promise<void> {
  const held = editor.get().meshes;
  const wanted = build.parts.filter((p) => held[p.id]?.key !== p.key);
  const got = await Promise.all(
    wanted.map(async (p): Promise<[string, { key: string; mesh: PartMesh }] | null> => {
      try {
        const bytes = await fetchPacked(`/api/builds/${build.id}/parts/${encodeURIComponent(p.id)}/mesh?key=${p.key.slice(0, 16)}`);
        return [p.id, { key: p.key, mesh: shapes.read(bytes) }];
      } catch (error) {
        tell(sentence(error));
        return null;
      }
    }),
  );
  const now = editor.get().build;
  if (now?.id !== build.id || now.revision !== build.revision) return;
  const meshes = Object.fromEntries(Object.entries(editor.get().meshes).filter(([id]) => build.parts.some((p) => p.id === id)));
  for (const entry of got) if (entry !== null) meshes[entry[0]] = entry[1];
  const session = editor.get().session;
  editor.set({ meshes, ...(session?.dragging ? {} : { preview: null }) });
  for (const part of wanted) renewPick(part.id, session?.part === part.id && keepsNumbers(session));
  void inspect();
}

let opening: Promise<void> = Promise.resolve();

/** Show a build; what is done meanwhile waits until it is there. */
export function openBuild(id: string): Promise<void> {
  const fetched = fetchBuild(id);
  opening = fetched.catch(() => undefined);
  return fetched;
}

/** Leave the build at work; what is on its way to be stored still is. */
export function closeBuild(): void {
  begin(null);
}

function begin(id: string | null): void {
  openId = id;
  unstored = null;
  previewer.cancel();
  editor.set(PLAIN);
  beginOn(id);
}

async function fetchBuild(id: string): Promise<void> {
  begin(id);
  const [build, kinds] = await Promise.all([
    answerBuild(api.GET("/api/builds/{build_id}", { params: { path: { build_id: id } } })),
    answer(api.GET("/api/kinds")),
  ]);
  if (openId !== id) return;
  editor.set({ kinds: kinds.kinds });
  await take(build);
  gridIn(shownUnit(editor.get()));
}

/** Store a change; false when it was refused (the person has been told). */
export async function change(label: string, intent: Intent, group: string | null = null): Promise<boolean> {
  try {
    await opening;
    await changes.send(label, intent, group);
    await taking;
    unstored = null;
    return true;
  } catch {
    unstored = { label, at: performance.now() };
    return false;
  }
}

/** What was refused last: whoever takes it back means that, not what was stored before it. */
let unstored: { readonly label: string; readonly at: number } | null = null;
/** So long, in milliseconds, an undo means what was just refused. */
const MEANT = 8000;

/** Whether an undo means what was just refused; the person is told. Asked once, the next undo means what was stored. */
function meansUnstored(next: string): boolean {
  const refused = unstored;
  unstored = null;
  if (refused === null || performance.now() - refused.at > MEANT) return false;
  tell(`“${refused.label}” was not stored, so there is nothing of it to take back; once more takes back “${next}”`);
  return true;
}

/** The id of a step or part that was just stored; another than it was to have where that was taken in another window. */
export function storedAs(id: string): string {
  return changes.renamed.get(id) ?? id;
}

/** Take in what another window has left, once nothing of this one is on its way. */
export async function catchUp(revision: number | null): Promise<boolean> {
  await settled();
  const held = editor.get().build;
  if (held === null || (revision !== null && held.revision >= revision)) return false;
  if (revision === null) {
    const now = await answer(api.GET("/api/builds/{build_id}/revision", { params: { path: { build_id: held.id } } }));
    return now.revision > held.revision && catchUp(now.revision);
  }
  const build = await answerBuild(api.GET("/api/builds/{build_id}", { params: { path: { build_id: held.id } } }));
  if (editor.get().build?.id !== build.id || (editor.get().build?.revision ?? 0) >= build.revision) return false;
  await take(build);
  return true;
}

/** Once no change is on its way, or the server is away and the change waits with us. */
function settled(): Promise<void> {
  if (editor.get().save.kind !== "saving") return Promise.resolve();
  return new Promise((resolve) => {
    const off = editor.subscribe((state) => {
      if (state.save.kind === "saving") return;
      off();
      resolve();
    });
  });
}

export async function undoOrRedo(which: "undo" | "redo"): Promise<void> {
  await settled(); // what is on its way is what undo takes back
  const build = editor.get().build;
  const next = which === "undo" ? build?.undo : build?.redo;
  if (build === null || next == null) return;
  if (which === "undo" && meansUnstored(next)) return;
  editor.set({ session: null, preview: null, previewError: null });
  previewer.cancel();
  try {
    const after = await changes.send(which, which);
    await taking;
    restorePick(after.pick);
  } catch {
    // told by the queue
  }
}

/** A step that left nothing of what was picked: what stands in its place is picked, such as the pieces of faces that were cut. */
export async function followPick(part: string, step: string): Promise<void> {
  const { build, pick, current } = editor.get();
  if (pick !== null || current !== part || build === null) return;
  try {
    const got = await answer(api.GET("/api/builds/{build_id}/picked", { params: { path: { build_id: build.id }, query: { part, step, revision: build.revision } } }));
    const now = editor.get();
    if (got.kind !== null && got.elements.length > 0 && now.build?.revision === build.revision && now.pick === null) setPick(part, got.kind as PickKind, got.elements);
  } catch {
    // a pick that does not come back can be made again
  }
}

let lighting = 0;

/** Light up what a step picked, as far as the cage still has it; null puts the light out. */
export async function light(part: string, step: string | null): Promise<void> {
  const mine = ++lighting;
  const build = editor.get().build;
  if (step === null || build === null) {
    editor.set({ lit: null });
    return;
  }
  try {
    const got = await answer(
      api.GET("/api/builds/{build_id}/picked", { params: { path: { build_id: build.id }, query: { part, step, revision: build.revision } } }),
    );
    const lost = (got.lost ?? []) as Triple[][];
    if (mine === lighting && (got.kind !== null || lost.length > 0) && editor.get().build?.revision === build.revision) editor.set({ lit: { part, kind: got.kind ?? "faces", elements: got.elements, lost } });
  } catch {
    // a light that does not come on is no loss
  }
}

/** Triangles of the whole build as shown, the preview's part counted as previewed. */
export function triangleCount(): number {
  const { build, preview, session } = editor.get();
  if (build === null) return 0;
  return build.parts.reduce((sum, p) => sum + (preview !== null && session?.part === p.id ? preview.triangles : p.triangles), 0);
}

/** Ask something of the build as it stands here; where another window changed it meanwhile, of the build as it stands there. */
export async function askOf<T>(ask: (build: Build) => Promise<T>): Promise<T> {
  const { build } = editor.get();
  if (build === null) throw new Error("no build is open");
  try {
    return await ask(build);
  } catch (error) {
    if (!(error instanceof Refused && error.status === 409)) throw error;
    const now = await answerBuild(api.GET("/api/builds/{build_id}", { params: { path: { build_id: build.id } } }));
    await take(now);
    return ask(now);
  }
}
