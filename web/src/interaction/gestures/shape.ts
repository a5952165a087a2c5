import { prefs } from "../../model/prefs";
import { controlPoints, gridOf, pickPoints } from "../../model/shaping/latticePoints";
import { editor, METRES, unitOf } from "../../model/store";
import type { Pointer } from "../../scene/pointer";
import { rounded } from "../../scene/numbers";
import type { Pane } from "../../scene/Sheet";
import { Area } from "../../scene/sweep";
import { BrushTool } from "../../tools/brush";
import { LatticeTool } from "../../tools/lattice";
import type { ToolPlace } from "../../tools/Tool";
import { toolOf } from "../../tools/toolbox";
import type { Marks } from "../Marks";
import { storeStroke } from "../session/strokes";
import { dropValue, endPreview, tryValues } from "../session/trial";
import { placeOf, type Redraws, type Scenery } from "../views";
import type { Gesture, Modifiers } from "./Gesture";

/** A drag shorter than this is a click, in pixels. */
const CLICK = 4;

/** One stroke of the brush at work; release stores it. */
export class BrushStroke implements Gesture {
  private constructor(
    private readonly views: Redraws,
    private readonly tool: BrushTool,
    private readonly place: ToolPlace,
    private readonly inTurn: (deed: () => unknown) => Promise<unknown>,
  ) {}

  /** Null where the part does not lie under the pointer. */
  static at(views: Redraws & Scenery, pane: Pane, at: Pointer, inTurn: (deed: () => unknown) => Promise<unknown>): BrushStroke | null {
    const place = placeOf(views, editor.get().session, pane);
    const tool = place === null ? null : toolOf(place.session);
    if (place === null || !(tool instanceof BrushTool)) return null;
    const values = tool.begin(place, at);
    if (values === null) return null;
    tryValues(values, true);
    return new BrushStroke(views, tool, place, inTurn);
  }

  move(at: Pointer): void {
    const values = this.tool.go(this.place, at);
    if (values !== null) tryValues(values, true);
    this.views.invalidate("overlay");
  }

  async up(at: Pointer): Promise<void> {
    this.move(at);
    this.tool.end();
    const { session } = editor.get();
    if (session === null) return;
    // as it is now: the next may be under way before this one's turn comes
    const drawn = { ...session, dragging: false };
    editor.set({ session: drawn });
    await this.inTurn(() => storeStroke(drawn));
  }

  cancel(): void {
    this.tool.end();
    dropValue("strokes");
    const { session } = editor.get();
    if (session !== null) editor.set({ session: { ...session, dragging: false } });
    endPreview();
  }
}

/** Sideways the brush grows, upwards it grows stronger: whichever way the drag set out. */
export class BrushSize implements Gesture {
  private way: "size" | "strength" | null = null;
  private readonly radius: number;
  private readonly strength: number;

  constructor(
    private readonly views: Redraws,
    private readonly pane: Pane,
    private readonly start: Pointer,
  ) {
    const values = editor.get().session?.values ?? {};
    this.radius = Number(values["radius"] ?? 1);
    this.strength = Number(values["strength"] ?? 0.5);
  }

  move(at: Pointer): void {
    const [dx, dy] = [at.x - this.start.x, this.start.y - at.y];
    if (this.way === null && Math.max(Math.abs(dx), Math.abs(dy)) < CLICK) return;
    this.way ??= Math.abs(dx) >= Math.abs(dy) ? "size" : "strength";
    const metres = METRES[unitOf(editor.get())];
    if (this.way === "size") {
      const pixel = this.pane.camera.pixel(this.pane.camera.onPlane(this.start.x, this.start.y));
      const value = rounded(this.radius * metres + dx * pixel, pixel, metres, at.fine);
      if (value > 0) tryValues({ radius: value }, false);
    } else tryValues({ strength: Math.min(Math.max(Number((this.strength + dy / 200).toFixed(2)), -1), 1) + 0 }, false);
    this.views.invalidate("overlay");
  }

  up(): void {}

  cancel(): void {
    tryValues({ radius: this.radius, strength: this.strength }, false);
  }
}

/** Picks control points of the lattice at work: by a click, in a box or lasso, or under a brush. */
export class PointPick implements Gesture {
  private moved = false;
  private readonly trail: [number, number][];
  private readonly painted = new Set<string>();

  private constructor(
    private readonly views: Redraws & Scenery,
    private readonly marks: Marks,
    private readonly pane: Pane,
    private readonly start: Pointer,
    private readonly tool: LatticeTool,
  ) {
    this.trail = [[start.x, start.y]];
  }

  static at(views: Redraws & Scenery, marks: Marks, pane: Pane, at: Pointer): PointPick | null {
    const place = placeOf(views, editor.get().session, pane);
    const tool = place === null ? null : toolOf(place.session);
    return tool instanceof LatticeTool ? new PointPick(views, marks, pane, at, tool) : null;
  }

  private place(): ToolPlace | null {
    return placeOf(this.views, editor.get().session, this.pane);
  }

  move(at: Pointer): void {
    if (!this.moved && Math.hypot(at.x - this.start.x, at.y - this.start.y) <= CLICK) return;
    this.moved = true;
    const { sweep } = prefs.get();
    const place = this.place();
    if (sweep === "paint") {
      if (place !== null) for (const name of this.tool.under(place, at)) this.painted.add(name);
    } else {
      if (sweep === "lasso") this.trail.push([at.x, at.y]);
      this.marks.swept = { pane: this.pane, area: sweep === "box" ? Area.box(this.start.x, this.start.y, at.x, at.y) : new Area(this.trail) };
    }
    this.views.invalidate("overlay");
  }

  up(at: Pointer, keys: Modifiers): void {
    const area = this.marks.swept?.area ?? null;
    this.cancel();
    const place = this.place();
    if (place === null) return;
    const found = !this.moved ? this.tool.under(place, at) : area === null ? [...this.painted] : this.tool.within(place, area);
    const held = editor.get().gridPick;
    const all = !this.moved && keys.shift && found.every((name) => held.includes(name));
    if (keys.alt || all) pickPoints(held.filter((name) => !found.includes(name)));
    else pickPoints(keys.shift ? [...held, ...found] : found);
  }

  cancel(): void {
    this.marks.swept = null;
    this.views.invalidate("overlay");
  }
}

/** All control points of the lattice at work; whether there is one. */
export function pickAllPoints(): boolean {
  const { session } = editor.get();
  const grid = session?.tool === "lattice" ? gridOf(session) : null;
  if (grid === null) return false;
  pickPoints(controlPoints(grid).map((p) => p.name));
  return true;
}
