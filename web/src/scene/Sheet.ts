import { Box3, Vector3 } from "three";

import { type Layout, type Prefs, type Slot, slotOf } from "../model/prefs";
import type { ViewName } from "../model/store";
import { BASES } from "../model/views";
import { Camera, FlatFrame } from "./Camera";

/** One view and where it stands on the canvas, in pixels from its upper left. */
export class Pane {
  x = 0;
  y = 0;

  constructor(
    readonly slot: Slot,
    readonly camera: Camera,
  ) {}

  get view(): ViewName {
    return this.camera.view;
  }

  stand(x: number, y: number, width: number, height: number, view: ViewName): void {
    this.x = x;
    this.y = y;
    this.camera.view = view;
    this.camera.resize(width, height);
  }

  holds(x: number, y: number): boolean {
    return x >= this.x && y >= this.y && x < this.x + this.camera.width && y < this.y + this.camera.height;
  }
}

export type Divider = "across" | "down" | "both";

const GRIP = 4;
const LEAST = 0.15;
/** Room left round what is framed. */
const ROOM = 1.35;
/** And where no flat view was in sight: a plain scale, metres to the pixel, where that suits; else what is made beside it is seen too. */
const PLAIN = 0.001;
const MORE_ROOM = 3;

/** The drawing sheet: top above front, right beside front, 3D in the remaining corner; or one of them alone. */
export class Sheet {
  readonly flat = new FlatFrame();
  readonly panes: Readonly<Record<Slot, Pane>> = {
    top: new Pane("top", new Camera(this.flat)),
    solid: new Pane("solid", new Camera(this.flat)),
    front: new Pane("front", new Camera(this.flat)),
    right: new Pane("right", new Camera(this.flat)),
  };
  /** the panes in sight */
  shown: readonly Pane[] = [];
  width = 1;
  height = 1;
  private layout: Layout = "one";
  private split: readonly [number, number] = [0.5, 0.5];

  arrange(width: number, height: number, prefs: Prefs, view: ViewName): void {
    this.width = width;
    this.height = height;
    this.layout = prefs.layout;
    this.split = prefs.split;
    const { top, solid, front, right } = this.panes;
    if (prefs.layout === "one") {
      const pane = this.panes[slotOf(view)];
      pane.stand(0, 0, width, height, view);
      this.shown = [pane];
      return;
    }
    const x = Math.round(width * prefs.split[0]);
    const y = Math.round(height * prefs.split[1]);
    top.stand(0, 0, x, y, prefs.sides.top);
    solid.stand(x, 0, width - x, y, "perspective");
    front.stand(0, y, x, height - y, prefs.sides.front);
    right.stand(x, y, width - x, height - y, prefs.sides.right);
    this.shown = [top, solid, front, right];
  }

  at(x: number, y: number): Pane {
    return this.shown.find((p) => p.holds(x, y)) ?? (this.shown[0] as Pane);
  }

  /** Which pane shows a point of the sheet, and the pane's own pixels. */
  locate(x: number, y: number): { pane: Pane; x: number; y: number } {
    const pane = this.at(x, y);
    return { pane, x: x - pane.x, y: y - pane.y };
  }

  of(view: ViewName): Pane {
    return this.shown.find((p) => p.view === view) ?? (this.shown[0] as Pane);
  }

  /** The divider under a point of the sheet. */
  dividerAt(x: number, y: number): Divider | null {
    if (this.layout === "one") return null;
    const across = Math.abs(x - this.width * this.split[0]) <= GRIP;
    const down = Math.abs(y - this.height * this.split[1]) <= GRIP;
    return across && down ? "both" : across ? "across" : down ? "down" : null;
  }

  divided(divider: Divider, x: number, y: number): [number, number] {
    const share = (v: number) => Math.min(Math.max(v, LEAST), 1 - LEAST);
    return [divider === "down" ? this.split[0] : share(x / this.width), divider === "across" ? this.split[1] : share(y / this.height)];
  }

  /** After what the flat views share has changed. */
  refresh(): void {
    for (const pane of this.shown) pane.camera.update();
  }

  /** Show all of a box in every view; the flat ones at one scale, which suits all of them where none is in sight. */
  frame(box: Box3): void {
    const size = box.getSize(new Vector3());
    let perPixel = 0;
    const flat = this.shown.filter((p) => p.view !== "perspective");
    const first = this.shown[0] as Pane;
    for (const { view, camera } of flat.length > 0 ? flat : (["top", "front", "right"] as const).map((view) => ({ view, camera: first.camera }))) {
      const { right, up } = BASES[view as "top"];
      const reach = (d: Vector3) => Math.abs(size.x * d.x) + Math.abs(size.y * d.y) + Math.abs(size.z * d.z);
      perPixel = Math.max(perPixel, reach(right) / camera.width, reach(up) / camera.height);
    }
    this.flat.centre.copy(box.getCenter(new Vector3()));
    const suits = perPixel * ROOM <= PLAIN && perPixel * 12 >= PLAIN;
    if (perPixel > 0) this.flat.size = flat.length === 0 && suits ? PLAIN : Math.max(perPixel * (flat.length > 0 ? ROOM : MORE_ROOM), 1e-8);
    this.panes.solid.camera.fit(box);
    this.refresh();
  }

  /** Show so many times as much from side to side, about the same middle. */
  widen(factor: number): void {
    this.flat.size *= factor;
    this.panes.solid.camera.stand(factor);
    this.refresh();
  }

  /** Whether two panes stand so that a point has one x in both (one above the other), or one y. */
  inLine(a: Pane, b: Pane): "x" | "y" | null {
    if (a.view === "perspective" || b.view === "perspective") return null;
    const [p, q] = [BASES[a.view], BASES[b.view]];
    if (a.x === b.x && p.right.equals(q.right)) return "x";
    return a.y === b.y && p.up.equals(q.up) ? "y" : null;
  }

  /** Whether Top turns to Right on the mitre line. */
  get mitred(): boolean {
    const { top, right } = this.panes;
    return this.layout === "sheet" && BASES[top.view as "top"].up.equals(BASES[right.view as "right"].right);
  }
}
