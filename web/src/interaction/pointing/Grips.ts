import { editor, partOf } from "../../model/store";
import type { Pointer } from "../../scene/pointer";
import type { Pane } from "../../scene/Sheet";
import { type Handle, handle } from "../../tools/Handle";
import { PivotHandles } from "../../tools/pivot";
import { PlacementHandles } from "../../tools/placement";
import { SectionHandle } from "../../tools/sectionHandle";
import { toolOf } from "../../tools/toolbox";
import type { Gesture } from "../gestures/Gesture";
import { HandleDrag, PivotDrag, PlacementDrag, SectionDrag } from "../gestures/work";
import { placeOf, type Views } from "../views";

/** A handle under the pointer, and the drag that a press on it becomes. */
export interface Grip {
  readonly handle: Handle;
  hold(): Gesture;
}

/** The handles that stand in the views: what lights up under the pointer is what a press there takes. */
export class Grips {
  readonly section = new SectionHandle();
  readonly pivot = new PivotHandles();
  readonly placement = new PlacementHandles();

  constructor(
    private readonly views: Views,
    /** whether the views have the keys */
    private readonly alive: () => boolean,
  ) {}

  /** The section's first, then the pivot's, a whole part's, and those of the tool at work. */
  at(pane: Pane, at: Pointer): Grip | null {
    return this.ofSection(pane, at) ?? this.ofPivot(pane, at) ?? this.ofWhole(pane, at) ?? this.ofTool(pane, at);
  }

  private ofSection(pane: Pane, at: Pointer): Grip | null {
    const { section } = editor.get();
    if (section === null || !this.section.handleAt(section, this.views.bounds(), pane.camera, at)) return null;
    return { handle: handle("section"), hold: () => new SectionDrag(this.views, this.section, pane, section, at) };
  }

  private ofPivot(pane: Pane, at: Pointer): Grip | null {
    const { pivoting, current } = editor.get();
    const part = partOf(editor.get(), current);
    const held = part === null ? undefined : this.views.parts.get(part.id ?? "");
    if (!pivoting || part === null || held === undefined) return null;
    const found = this.pivot.handleAt(part, held, pane.camera, at);
    if (found === null) return null;
    const hold = () => {
      this.pivot.press(part, held, this.views.parts, this.views.boards, pane.camera, found, at);
      return new PivotDrag(this.views, this.pivot, pane, part.id ?? "");
    };
    return { handle: found, hold };
  }

  private ofWhole(pane: Pane, at: Pointer): Grip | null {
    const { placing, session } = editor.get();
    const found = placing && session === null ? this.placement.handleAt(pane.camera, at) : null;
    if (found === null) return null;
    const hold = () => {
      this.placement.press(this.views.parts, this.views.boards, pane.camera, found, at);
      return new PlacementDrag(this.views, this.placement, pane, found);
    };
    return { handle: found, hold };
  }

  private ofTool(pane: Pane, at: Pointer): Grip | null {
    const place = placeOf(this.views, editor.get().session, pane);
    if (place === null) return null;
    const tool = toolOf(place.session);
    const found = tool.handleAt(place, at);
    if (found === null) return null;
    return { handle: found, hold: () => new HandleDrag(this.views, pane, found, at, tool.instead?.(place, found) ?? null, this.alive) };
  }
}
