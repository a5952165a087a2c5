import { sightOf, type Views } from "../interaction/views";
import { editor } from "../model/store";
import { useUnseen } from "../model/session/unseen";
import { unseen } from "../scene/sweep";

/** So long, in milliseconds, a pick has to stand before its sight is judged. */
const CALM = 120;

/** Tells, once hands rest, how much of the pick the view at work does not show. */
export class Judge {
  private waiting: ReturnType<typeof setTimeout> | null = null;

  constructor(private readonly views: Pick<Views, "parts" | "sheet">) {}

  dispose(): void {
    if (this.waiting !== null) clearTimeout(this.waiting);
  }

  ask(): void {
    useUnseen.setState({ count: null });
    this.dispose();
    this.waiting = setTimeout(() => {
      const { pick, session, view: at } = editor.get();
      const view = pick === null ? undefined : this.views.parts.get(pick.part);
      if (pick === null || view === undefined || session?.dragging) return;
      useUnseen.setState({ count: unseen(view, pick.kind, pick.elements, sightOf(this.views, this.views.sheet.of(at))) });
    }, CALM);
  }
}
