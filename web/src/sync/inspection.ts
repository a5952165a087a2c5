import { answer, api } from "../api/client";
import { editor } from "../model/store";

/** So long, in milliseconds, nothing has to change before inspection is asked for: hands come first. */
const CALM = 250;

let asking = 0;

/** Ask what is wrong with the parts whose mesh has changed. Never in front of an answer: what is shown stays until it comes. */
export async function inspect(all = false): Promise<void> {
  const mine = ++asking;
  await new Promise((r) => setTimeout(r, CALM));
  const { build, limits } = editor.get();
  if (build === null || mine !== asking) return;
  for (const part of build.parts) {
    if (!all && editor.get().findings[part.id]?.key === part.key) continue;
    try {
      const got = await answer(
        api.GET("/api/builds/{build_id}/findings", { params: { path: { build_id: build.id }, query: { part: part.id, revision: build.revision, ...limits } } }),
      );
      if (mine !== asking || editor.get().build?.id !== build.id) return;
      editor.set({ findings: { ...editor.get().findings, [part.id]: { key: got.key, found: got.findings } } });
    } catch {
      return; // a newer answer asks again
    }
  }
}

/** The distances inspection goes by, in metres. */
export function setLimits(limits: Partial<{ doubled: number; thin: number }>): void {
  editor.set({ limits: { ...editor.get().limits, ...limits } });
  void inspect(true);
}
