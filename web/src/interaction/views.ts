import type { Box3 } from "three";

import { isThrough, prefs } from "../model/prefs";
import { editor, type ToolSession } from "../model/store";
import type { Boards } from "../scene/boards/Boards";
import { type Hit, hitAt, type Sight } from "../scene/hit";
import type { PartView } from "../scene/PartView";
import type { Pane, Sheet } from "../scene/Sheet";
import type { ToolPlace } from "../tools/Tool";

/** Has views drawn again at the next frame: all, one, or only what is drawn over them. */
export interface Redraws {
  invalidate(what?: "all" | "overlay" | Pane): void;
}

/** What stands in the views. */
export interface Scenery {
  readonly parts: ReadonlyMap<string, PartView>;
  readonly boards: Boards;
  /** how far all of it reaches, in the build and metres */
  bounds(): Box3;
}

/** The views as hands know them; whoever draws them is somebody else. */
export interface Views extends Redraws, Scenery {
  readonly sheet: Sheet;
  /** make the scene what the store says */
  sync(): void;
}

/** What is seen in a pane, and how. */
export function sightOf(views: Pick<Scenery, "parts">, pane: Pane): Sight {
  const { current, section } = editor.get();
  return { parts: views.parts, camera: pane.camera, look: prefs.get().looks[pane.slot], section, current, through: isThrough(pane.view) };
}

/** What lies under a pixel of a pane: the `nth` of those that do. */
export function hitIn(views: Pick<Scenery, "parts">, pane: Pane, x: number, y: number, nth: number): Hit | null {
  const { pickKind, auto } = editor.get();
  return hitAt(x, y, auto ? "auto" : pickKind, sightOf(views, pane), nth, prefs.get().faceDots);
}

/** What a tool needs to know to be drawn, hit and dragged in a pane; null while its part is not there. */
export function placeOf(views: Scenery, session: ToolSession | null, pane: Pane): ToolPlace | null {
  const view = session === null ? undefined : views.parts.get(session.part);
  return session === null || view === undefined ? null : { session, view, camera: pane.camera, sight: sightOf(views, pane), boards: views.boards };
}
