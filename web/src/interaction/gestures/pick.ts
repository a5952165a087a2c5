import { isLockedPart } from "../../model/document/parts";
import { setPick } from "../../model/picks/picks";
import { prefs } from "../../model/prefs";
import { cuttingMirrors } from "../../model/steps/heldPlanes";
import { editor, type PickKind } from "../../model/store";
import type { Pointer } from "../../scene/pointer";
import type { Pane } from "../../scene/Sheet";
import { Area, sweep } from "../../scene/sweep";
import type { Marks } from "../Marks";
import { accept } from "../session/storing";
import { hitIn, type Redraws, type Scenery, sightOf } from "../views";
import type { Gesture, Modifiers } from "./Gesture";

/** A drag shorter than this is a click, in pixels. */
const CLICK = 4;
/** The brush looks at the way it went every so many pixels. */
const STRIDE = 5;

/** A press on paper or model: a click picks one element, a drag those in a box or lasso, or under a brush. */
export class PickGesture implements Gesture {
  private moved = false;
  private trail: [number, number][];
  private readonly painted = new Map<string, Set<number>>();
  private paintedKind: PickKind = "faces";

  constructor(
    private readonly views: Redraws & Scenery,
    private readonly marks: Marks,
    private readonly pane: Pane,
    private readonly start: Pointer,
    private readonly click: (at: Pointer, keys: Modifiers) => void | Promise<void>,
    private readonly inTurn: (deed: () => unknown) => Promise<unknown>,
  ) {
    this.trail = [[start.x, start.y]];
  }

  move(at: Pointer): void {
    if (!this.moved && Math.hypot(at.x - this.start.x, at.y - this.start.y) <= CLICK) return;
    this.moved = true;
    const { sweep: how } = prefs.get();
    if (how === "paint") this.paint(at);
    else {
      if (how === "lasso") this.trail.push([at.x, at.y]);
      const area = how === "box" ? Area.box(this.start.x, this.start.y, at.x, at.y) : new Area(this.trail);
      this.marks.swept = { pane: this.pane, area };
    }
    this.views.invalidate("overlay");
  }

  private paint(at: Pointer): void {
    const [px, py] = this.trail[this.trail.length - 1] as [number, number];
    const steps = Math.max(1, Math.ceil(Math.hypot(at.x - px, at.y - py) / STRIDE));
    for (let i = 1; i <= steps; i++) {
      const hit = hitIn(this.views, this.pane, px + ((at.x - px) * i) / steps, py + ((at.y - py) * i) / steps, 0);
      if (hit === null || hit.part !== editor.get().current) continue;
      this.paintedKind = hit.kind;
      const held = this.painted.get(hit.kind) ?? new Set();
      held.add(hit.element);
      this.painted.set(hit.kind, held);
    }
    this.trail.push([at.x, at.y]);
    const { current } = editor.get();
    if (current !== null) editor.set({ lit: { part: current, kind: this.paintedKind, elements: [...(this.painted.get(this.paintedKind) ?? [])] } });
  }

  async up(at: Pointer, keys: Modifiers): Promise<void> {
    const area = this.marks.swept?.area ?? null;
    this.clear();
    if (!this.moved) return this.click(at, keys);
    await this.inTurn(() => this.take(area, keys));
  }

  private async take(area: Area | null, keys: Modifiers): Promise<void> {
    await accept();
    const { current, pick, auto } = editor.get();
    if (current === null || isLockedPart(editor.get(), current)) return;
    let kind = auto ? "vertices" : editor.get().pickKind;
    let found: number[];
    if (area === null) {
      kind = this.paintedKind;
      found = [...(this.painted.get(kind) ?? [])];
    } else found = sweep(area, kind, sightOf(this.views, this.pane), prefs.get().inside, cuttingMirrors(current));
    const held = pick !== null && pick.part === current && pick.kind === kind ? pick.elements : [];
    const of = new Set(found);
    if (keys.alt) setPick(current, kind, held.filter((e) => !of.has(e)));
    else setPick(current, kind, keys.shift ? [...held, ...found] : found);
  }

  private clear(): void {
    this.marks.swept = null;
    if (this.painted.size > 0) editor.set({ lit: null });
    this.views.invalidate("overlay");
  }

  cancel(): void {
    this.painted.clear();
    this.clear();
  }

  /** The key of inside or touching turns it in mid-drag. */
  key(name: string): boolean {
    if (name !== "inside") return false;
    prefs.set({ inside: !prefs.get().inside });
    this.views.invalidate("overlay");
    return true;
  }
}

