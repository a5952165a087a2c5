import { Vector3 } from "three";

import { type ControlPoint, controlLines, controlPoints, type Grid, gridOf, middleOf, movedPoints, type Offsets, softWeights } from "../model/shaping/latticePoints";
import { prefs } from "../model/prefs";
import { turning } from "../model/places/turns";
import { editor, METRES, type Triple, unitOf, type Value, type Values } from "../model/store";
import type { Area } from "../scene/sweep";
import type { Overlay } from "../scene/overlay";
import type { Pointer } from "../scene/pointer";
import { token } from "../theme/theme";
import type { Handle } from "./Handle";
import type { Tool, ToolPlace } from "./Tool";
import { TransformTool } from "./transform";

/** A control point this near to the pointer is meant, in pixels; in a flat view with all that stand behind it. */
const REACH = 9;
const BEHIND = 2;

const STILL: Values = { translate: [0, 0, 0], rotate: [0, 0, 0], scale: [1, 1, 1] };

/** The common handles, on control points instead of a pick. */
class PointHandles extends TransformTool {
  protected override works(): { whole: boolean; makes: null } {
    return { whole: editor.get().gridPick.length > 1, makes: null };
  }
}

/** The ring of soft selection, as the common handles draw it; nothing while that is off. */
function falloff(): Values {
  const { soft } = prefs.get();
  return soft.on ? { falloff: { radius: soft.radius / METRES[unitOf(editor.get())] } } : {};
}

/** A box of control points: picked like vertices, moved by the common handles. */
export class LatticeTool implements Tool {
  private readonly handles = new PointHandles();
  /** what a drag began with, and what it did so far */
  private held: { readonly grid: Grid; readonly middle: Triple; moved: Values } | null = null;
  private hot: string | null = null;

  private picked(grid: Grid): ControlPoint[] {
    const chosen = new Set(editor.get().gridPick);
    return controlPoints(grid).filter((p) => chosen.has(p.name));
  }

  /** The place as the common handles know it: on the middle of what is picked. Null where nothing is. */
  private standing(place: ToolPlace): ToolPlace | null {
    const grid = gridOf(place.session);
    if (grid === null) return null;
    const picked = this.picked(grid);
    if (picked.length === 0) return null;
    const held = place.session.dragging ? this.held : null;
    const metres = METRES[unitOf(editor.get())];
    const pivot = (held?.middle ?? middleOf(picked)).map((v) => v * metres) as Triple;
    return { ...place, session: { ...place.session, values: { ...STILL, ...falloff(), ...held?.moved }, pivot, axes: [[1, 0, 0], [0, 1, 0], [0, 0, 1]] } };
  }

  handleAt(place: ToolPlace, at: Pointer): Handle | null {
    const standing = this.standing(place);
    return standing === null ? null : this.handles.handleAt(standing, at);
  }

  press(place: ToolPlace, pressed: Handle, at: Pointer): void {
    const grid = gridOf(place.session);
    const standing = this.standing(place);
    if (grid === null || standing === null) return;
    this.held = { grid, middle: middleOf(this.picked(grid)), moved: {} };
    this.handles.press(standing, pressed, at);
  }

  drag(place: ToolPlace, at: Pointer): Values {
    const held = this.held;
    const standing = this.standing(place);
    if (held === null || standing === null) return {};
    held.moved = this.handles.drag(standing, at);
    return { offsets: offsetsBy(held.grid, held.middle, held.moved) as Value };
  }

  /** Names of the control points under the pointer. */
  under(place: ToolPlace, at: Pointer): string[] {
    const seen = this.projected(place);
    const near = seen.filter((p) => Math.hypot(p.x - at.x, p.y - at.y) <= REACH).sort((a, b) => Math.hypot(a.x - at.x, a.y - at.y) - Math.hypot(b.x - at.x, b.y - at.y));
    const first = near[0];
    if (first === undefined) return [];
    if (!place.camera.isFlat) return [first.name];
    return seen.filter((p) => Math.hypot(p.x - first.x, p.y - first.y) <= BEHIND).map((p) => p.name);
  }

  /** Names of those that an area of the pane holds. */
  within(place: ToolPlace, area: Area): string[] {
    return this.projected(place).filter((p) => area.holds(p.x, p.y)).map((p) => p.name);
  }

  private projected(place: ToolPlace): { name: string; x: number; y: number }[] {
    const grid = gridOf(place.session);
    if (grid === null) return [];
    const metres = METRES[unitOf(editor.get())];
    return controlPoints(grid).map((p) => ({ name: p.name, ...place.camera.project(new Vector3(...p.at).multiplyScalar(metres).applyMatrix4(place.view.group.matrix)) }));
  }

  hover(place: ToolPlace, at: Pointer): Values | null {
    this.hot = this.under(place, at)[0] ?? null;
    return null;
  }

  draw(place: ToolPlace, overlay: Overlay, hot: Handle | null): void {
    const grid = gridOf(place.session);
    if (grid === null) return;
    const metres = METRES[unitOf(editor.get())];
    const at = new Map(controlPoints(grid).map((p) => [p.name, new Vector3(...p.at).multiplyScalar(metres).applyMatrix4(place.view.group.matrix)]));
    overlay.context.globalAlpha = 0.55;
    overlay.segments(controlLines(grid).flatMap(([a, b]) => [at.get(a) as Vector3, at.get(b) as Vector3]), token("ink"), 1);
    overlay.context.globalAlpha = 1;
    const chosen = new Set(editor.get().gridPick);
    const soft = chosen.size > 0 ? softWeights(grid, chosen) : null;
    for (const [name, p] of at) overlay.dot(p, chosen.has(name) ? 5 : name === this.hot ? 5.5 : 3.5 + 1.5 * (soft?.get(name) ?? 0), chosen.has(name) ? token("pick") : token("panel"), token("pick"), 1.6);
    const standing = this.standing(place);
    if (standing !== null) this.handles.draw(standing, overlay, hot);
  }
}

/** Offsets once what is picked was scaled and turned about its middle, then moved. */
function offsetsBy(grid: Grid, middle: Triple, by: Values): Offsets {
  const scale = (by["scale"] ?? [1, 1, 1]) as Triple;
  const turn = turning((by["rotate"] ?? [0, 0, 0]) as Triple);
  const move = (by["translate"] ?? [0, 0, 0]) as Triple;
  return movedPoints(grid, editor.get().gridPick, (at) => {
    const away = new Vector3(...(at.map((v, k) => (v - (middle[k] as number)) * (scale[k] as number)) as Triple)).applyQuaternion(turn);
    return away.toArray().map((v, k) => v + (middle[k] as number) + (move[k] as number)) as Triple;
  });
}
