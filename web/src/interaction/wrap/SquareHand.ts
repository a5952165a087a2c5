import type { MeshData } from "../../api/packets";
import { isLockedPart } from "../../model/document/parts";
import { setPick } from "../../model/picks/picks";
import { prefs } from "../../model/prefs";
import { editor, type PickKind, type Values } from "../../model/store";
import { useLaid } from "../../model/wrap/layout";
import { boxOf, edgeAt, faceAt, type Place, placesOf, vertexAt, wholeIslands } from "../../model/wrap/square";
import { tell } from "../../sync/build";
import { begin } from "../session/begin";
import { accept, store } from "../session/storing";
import { tryValues } from "../session/trial";
import { AT_REST } from "./pieces";

/** What shows the square. */
export interface Shows {
  toSquare(x: number, y: number): Place;
  toPage(place: Place): [number, number];
  readonly pixel: number;
  zoom(x: number, y: number, by: number): void;
  shift(dx: number, dy: number): void;
  whole(): void;
}

/** A drag shorter than this is a click, in pixels. */
const CLICK = 4;
const REACH = 8;
const KNOB = 18;
const STEP = 15;

type Drag =
  | { readonly kind: "pan"; x: number; y: number }
  | { readonly kind: "press"; readonly x: number; readonly y: number; readonly face: number | null }
  | { readonly kind: "move"; readonly from: Place; readonly move: readonly [number, number] }
  | { readonly kind: "turn"; readonly middle: Place; readonly from: number; readonly turn: number }
  | { readonly kind: "box"; readonly from: Place; to: Place };

/** Where the knob stands that turns what is picked; null where nothing is. */
export function knobOf(mesh: MeshData, picked: readonly number[], shows: Shows): [number, number] | null {
  const box = boxOf(mesh, picked);
  if (box === null) return null;
  const [x, y] = shows.toPage(box[1]);
  return [x + KNOB, y - KNOB];
}

/** The hand on the texture square: picks as in the views, moves and turns whole pieces, looks nearer. */
export class SquareHand {
  private drag: Drag | null = null;
  private readonly off = new AbortController();
  /** begun only once what was at work before is stored */
  private beginning: Promise<boolean> | null = null;
  private latest: Values | null = null;

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly shows: Shows,
    private readonly mesh: () => MeshData | null,
    private readonly redraw: () => void,
  ) {
    const options = { signal: this.off.signal };
    canvas.addEventListener("pointerdown", (e) => this.down(e), options);
    canvas.addEventListener("pointermove", (e) => this.move(e), options);
    canvas.addEventListener("pointerup", (e) => void this.up(e), options);
    canvas.addEventListener("pointercancel", () => (this.drag = null), options);
    canvas.addEventListener("dblclick", (e) => this.double(e), options);
    canvas.addEventListener("contextmenu", (e) => e.preventDefault(), options);
    canvas.addEventListener("wheel", (e) => this.wheel(e), { ...options, passive: false });
    canvas.addEventListener("pointerenter", () => useLaid.setState({ at: true }), options);
    canvas.addEventListener("pointerleave", () => useLaid.setState({ under: "", at: false }), options);
  }

  dispose(): void {
    useLaid.setState({ at: false });
    this.off.abort();
  }

  /** The box that is being drawn, on the page; null while none is. */
  get box(): readonly [number, number, number, number] | null {
    if (this.drag?.kind !== "box") return null;
    const [a, b] = [this.shows.toPage(this.drag.from), this.shows.toPage(this.drag.to)];
    return [Math.min(a[0], b[0]), Math.min(a[1], b[1]), Math.abs(a[0] - b[0]), Math.abs(a[1] - b[1])];
  }

  private at(e: MouseEvent): [number, number] {
    const box = this.canvas.getBoundingClientRect();
    return [e.clientX - box.left, e.clientY - box.top];
  }

  private picked(): readonly number[] {
    const { pick, current } = editor.get();
    return pick !== null && pick.part === current && pick.kind === "faces" ? pick.elements : [];
  }

  private down(e: PointerEvent): void {
    const [x, y] = this.at(e);
    this.canvas.setPointerCapture(e.pointerId);
    if (e.button !== 0) {
      this.drag = { kind: "pan", x, y };
      return;
    }
    const mesh = this.mesh();
    const place = this.shows.toSquare(x, y);
    const picked = this.picked();
    if (mesh !== null && picked.length > 0) {
      const knob = knobOf(mesh, picked, this.shows);
      const box = boxOf(mesh, picked);
      if (knob !== null && box !== null && Math.hypot(x - knob[0], y - knob[1]) <= REACH) {
        const middle: Place = [(box[0][0] + box[1][0]) / 2, (box[0][1] + box[1][1]) / 2];
        this.drag = { kind: "turn", middle, from: Math.atan2(place[1] - middle[1], place[0] - middle[0]), turn: Number(this.values()["turn"] ?? 0) };
        this.take();
        return;
      }
    }
    this.drag = { kind: "press", x, y, face: mesh === null ? null : faceAt(mesh, place) };
  }

  /** Values of the tool at work on what is picked, or those it would begin with. */
  private values(): Values {
    const { session, pick } = editor.get();
    const same = session?.tool === "uv_transform" && pick !== null && session.pickIds.join() === pick.ids.join();
    return same ? session.values : AT_REST;
  }

  /** Take what is picked in hand: the tool at work on it goes on, another is stored before. */
  private take(): void {
    const { session, pick } = editor.get();
    if (pick === null) return;
    if (session?.tool === "uv_transform" && session.pickIds.join() === pick.ids.join()) return;
    this.beginning = accept().then(() => {
      const now = editor.get().pick;
      if (now === null || now.ids.join() !== pick.ids.join()) return false;
      begin("uv_transform", pick.part, pick, "pick", AT_REST, { proposes: false });
      return true;
    });
    void this.beginning.then((fine) => {
      this.beginning = null;
      if (fine && this.latest !== null) tryValues(this.latest, this.drag !== null);
    });
  }

  private try(values: Values): void {
    this.latest = values;
    if (this.beginning === null) tryValues(values, true);
  }

  private move(e: PointerEvent): void {
    const [x, y] = this.at(e);
    const place = this.shows.toSquare(x, y);
    const mesh = this.mesh();
    const { drag } = this;
    if (drag === null) {
      this.tellUnder(mesh, place);
      return;
    }
    if (drag.kind === "pan") {
      this.shows.shift(x - drag.x, y - drag.y);
      [drag.x, drag.y] = [x, y];
    } else if (drag.kind === "press" && Math.hypot(x - drag.x, y - drag.y) > CLICK) this.begun(drag, mesh);
    else if (drag.kind === "box") drag.to = place;
    else if (drag.kind === "move") {
      const grain = e.shiftKey ? 0 : 1 / (useLaid.getState().layout?.figures?.resolution ?? 2048);
      const by = [0, 1].map((k) => {
        const wanted = (drag.move[k] as number) + (place[k] as number) - (drag.from[k] as number);
        return grain === 0 ? wanted : Math.round(wanted / grain) * grain;
      });
      this.try({ move: by.map((v) => Number(v.toPrecision(9))) });
    } else if (drag.kind === "turn") {
      const angle = ((Math.atan2(place[1] - drag.middle[1], place[0] - drag.middle[0]) - drag.from) * 180) / Math.PI;
      const wanted = drag.turn + angle;
      const turn = e.shiftKey ? Math.round(wanted * 10) / 10 : Math.round(wanted / STEP) * STEP;
      this.try({ turn: ((((turn + 180) % 360) + 360) % 360) - 180 });
    }
    this.redraw();
  }

  /** A press has become a drag: of the piece under it, else of a box. */
  private begun(drag: Drag & { kind: "press" }, mesh: MeshData | null): void {
    const from = this.shows.toSquare(drag.x, drag.y);
    const { current } = editor.get();
    if (drag.face === null || mesh === null || current === null) {
      this.drag = { kind: "box", from, to: from };
      return;
    }
    if (isLockedPart(editor.get(), current)) {
      tell("the part is locked; unlock it in the list to move its pieces");
      this.drag = null;
      return;
    }
    const island = useLaid.getState().layout?.island ?? [];
    const picked = this.picked();
    const whole = wholeIslands(island, picked.includes(drag.face) ? picked : [drag.face]);
    if (whole.join() !== picked.join()) setPick(current, "faces", whole);
    this.take();
    const move = this.values()["move"] as readonly [number, number];
    this.drag = { kind: "move", from, move };
  }

  private async up(e: PointerEvent): Promise<void> {
    const { drag } = this;
    this.drag = null;
    if (drag?.kind === "press") await this.click(e, drag.face);
    else if (drag?.kind === "box") await this.sweep(drag, e);
    else if (drag?.kind === "move" || drag?.kind === "turn") {
      await this.beginning;
      this.latest = null;
      await store();
    }
    this.redraw();
  }

  /** The element under a press is picked; Shift adds it, Alt takes it away. */
  private async click(e: PointerEvent, face: number | null): Promise<void> {
    const mesh = this.mesh();
    const { current, pickKind } = editor.get();
    if (mesh === null || current === null) return;
    const place = this.shows.toSquare(...this.at(e));
    const reach = REACH * this.shows.pixel;
    const found = pickKind === "faces" ? face : pickKind === "edges" ? edgeAt(mesh, place, reach) : vertexAt(mesh, place, reach);
    await accept();
    this.pick(current, pickKind, found === null ? [] : [found], e);
  }

  private pick(part: string, kind: PickKind, found: readonly number[], keys: { readonly shiftKey: boolean; readonly altKey: boolean }): void {
    const { pick } = editor.get();
    const before = pick !== null && pick.part === part && pick.kind === kind ? pick.elements : [];
    if (keys.altKey) setPick(part, kind, before.filter((x) => !found.includes(x)));
    else if (keys.shiftKey) setPick(part, kind, [...before, ...found]);
    else setPick(part, kind, found);
  }

  /** Twice at one place: the whole piece. */
  private double(e: MouseEvent): void {
    const mesh = this.mesh();
    const { current } = editor.get();
    if (mesh === null || current === null) return;
    const face = faceAt(mesh, this.shows.toSquare(...this.at(e)));
    if (face !== null) this.pick(current, "faces", wholeIslands(useLaid.getState().layout?.island ?? [], [face]), e);
  }

  /** What lies in a box, whole. */
  private async sweep(drag: Drag & { kind: "box" }, e: PointerEvent): Promise<void> {
    const mesh = this.mesh();
    const { current, pickKind } = editor.get();
    if (mesh === null || current === null) return;
    const low = [0, 1].map((k) => Math.min(drag.from[k] as number, drag.to[k] as number)) as [number, number];
    const high = [0, 1].map((k) => Math.max(drag.from[k] as number, drag.to[k] as number)) as [number, number];
    const inside = ([u, v]: Place) => u >= low[0] && u <= high[0] && v >= low[1] && v <= high[1];
    const faces: number[] = [];
    const vertices = new Set<number>();
    for (let f = 0; f < mesh.shape.faceCount; f++) {
      const places = placesOf(mesh, f);
      if (places.length > 0 && places.every(inside)) faces.push(f);
      places.forEach((place, i) => inside(place) && vertices.add(mesh.shape.corners[(mesh.shape.offsets[f] as number) + i] as number));
    }
    const { edges } = mesh.shape;
    const joined = Array.from({ length: edges.length / 2 }, (_, i) => i).filter((i) => vertices.has(edges[2 * i] as number) && vertices.has(edges[2 * i + 1] as number));
    await accept();
    this.pick(current, pickKind, pickKind === "faces" ? faces : pickKind === "vertices" ? [...vertices] : joined, e);
  }

  private tellUnder(mesh: MeshData | null, place: Place): void {
    const { layout, under } = useLaid.getState();
    const face = mesh === null ? null : faceAt(mesh, place);
    const told = face === null || layout === null ? "" : [
      `piece ${(layout.island[face] ?? -1) + 1}`,
      `stretch ${(layout.stretch[face] ?? 1).toFixed(2)}`,
      layout.turned.includes(face) ? "turned over" : "",
      layout.over.includes(face) ? "lies over another" : "",
    ].filter(Boolean).join(" · ");
    if (told !== under) useLaid.setState({ under: told });
  }

  private wheel(e: WheelEvent): void {
    e.preventDefault();
    const [x, y] = this.at(e);
    if (prefs.get().pointer === "trackpad" && !e.ctrlKey) this.shows.shift(-e.deltaX, -e.deltaY);
    else this.shows.zoom(x, y, Math.exp(-e.deltaY * (e.ctrlKey ? 0.01 : 0.0015)));
    this.redraw();
  }
}
