import type { PartLayout } from "../../api/client";
import type { MeshData, Shape } from "../../api/packets";
import { type Join, joinsOf, letter, middleOf } from "../../model/wrap/joins";
import { boxOf, cornersOf, grainOf, type Place, placesOf, sidesOf } from "../../model/wrap/square";
import { token } from "../../theme/theme";

/** What is to be drawn. */
export interface Drawn {
  readonly mesh: MeshData | null;
  /** parts that have the rest of the square */
  readonly others: readonly MeshData[];
  readonly layout: PartLayout | null;
  /** elements picked, and of which kind */
  readonly kind: "faces" | "edges" | "vertices";
  readonly picked: readonly number[];
  readonly shows: "pieces" | "stretch";
  /** a trial is shown: places as they would be */
  readonly trial: boolean;
  /** what the core told of the layout does not hold for the trial: it may be cut, turned or stretched otherwise */
  readonly stale: boolean;
}

const TAU = 2 * Math.PI;
/** Letters stand on stretches of outline so long, in pixels, and are left out of a square with more of them than anyone reads. */
const ROOM = 34;
const MOST_JOINS = 400;
const NOTCH = 6;
/** Letters and arrows nearer to each other would be a blot. */
const APART = 12;

/** The texture square on a canvas of two dimensions: cut pieces on ruled paper. */
export class Square {
  private width = 1;
  private height = 1;
  /** pixels of the page a square, and where its lower left lies */
  private scale = 1;
  private origin: [number, number] = [0, 0];
  /** shown whole: it stays so when there is more room */
  private isWhole = true;
  private sorted: { readonly shape: Shape; readonly layout: PartLayout | null; readonly uv: Float32Array | null; readonly sides: ReturnType<typeof sidesOf>; readonly joins: readonly Join[] } | null = null;

  private readonly outlines = new WeakMap<Float32Array, readonly number[]>();

  constructor(private readonly canvas: HTMLCanvasElement) {}

  /** The canvas has this many pixels of the page. The square is shown whole at first. */
  resize(width: number, height: number): void {
    const ratio = Math.min(devicePixelRatio, 2);
    [this.width, this.height] = [Math.max(width, 1), Math.max(height, 1)];
    this.canvas.width = Math.round(this.width * ratio);
    this.canvas.height = Math.round(this.height * ratio);
    if (this.isWhole) this.whole();
  }

  /** Show the whole square. */
  whole(): void {
    this.isWhole = true;
    this.scale = Math.max(Math.min(this.width - 44, this.height - 72), 20);
    this.origin = [(this.width - this.scale) / 2, (this.height + this.scale) / 2 - 17]; // above its numbers and the bar
  }

  toPage([u, v]: Place): [number, number] {
    return [this.origin[0] + u * this.scale, this.origin[1] - v * this.scale];
  }

  toSquare(x: number, y: number): Place {
    return [(x - this.origin[0]) / this.scale, (this.origin[1] - y) / this.scale];
  }

  /** How much of the square a pixel of the page is. */
  get pixel(): number {
    return 1 / this.scale;
  }

  /** Bring nearer or farther about a place of the page. */
  zoom(x: number, y: number, by: number): void {
    this.isWhole = false;
    const scale = Math.min(Math.max(this.scale * by, 20), 60_000);
    const held = scale / this.scale;
    this.origin = [x - (x - this.origin[0]) * held, y - (y - this.origin[1]) * held];
    this.scale = scale;
  }

  shift(dx: number, dy: number): void {
    this.isWhole = false;
    this.origin = [this.origin[0] + dx, this.origin[1] + dy];
  }

  draw(what: Drawn): void {
    const pen = this.canvas.getContext("2d");
    if (pen === null) return;
    const ratio = this.canvas.width / this.width;
    pen.setTransform(ratio, 0, 0, ratio, 0, 0);
    pen.fillStyle = token("paper");
    pen.fillRect(0, 0, this.width, this.height);
    this.rule(pen);
    for (const other of what.others) this.beside(pen, other);
    const { mesh } = what;
    if (mesh === null || mesh.uv === null) return;
    this.pieces(pen, what, mesh);
  }

  /** The frame with its eighths, and the square it repeats. */
  private rule(pen: CanvasRenderingContext2D): void {
    pen.lineWidth = 1;
    pen.strokeStyle = token("rule");
    pen.beginPath();
    for (let k = 1; k < 8; k++) {
      const [x, y] = this.toPage([k / 8, k / 8]);
      const [left, top] = this.toPage([0, 1]);
      const [right, bottom] = this.toPage([1, 0]);
      pen.moveTo(x, top);
      pen.lineTo(x, bottom);
      pen.moveTo(left, y);
      pen.lineTo(right, y);
    }
    pen.stroke();
    pen.strokeStyle = token("frame");
    pen.lineWidth = 1.5;
    const [left, top] = this.toPage([0, 1]);
    pen.strokeRect(left, top, this.scale, this.scale);
    pen.fillStyle = token("muted");
    pen.font = `11px "Archivo Variable", sans-serif`;
    pen.textBaseline = "top";
    pen.textAlign = "center";
    for (const [k, word] of [[0, "0"], [0.25, "¼"], [0.5, "½"], [0.75, "¾"], [1, "1"]] as const) {
      const [x, y] = this.toPage([k, 0]);
      pen.fillText(word, x, y + 5);
      if (k === 0) continue;
      const [left, above] = this.toPage([0, k]);
      pen.textAlign = "right";
      pen.fillText(word, left - 6, above - 6);
      pen.textAlign = "center";
    }
  }

  /** The outlines of a part that shares the square. */
  private beside(pen: CanvasRenderingContext2D, mesh: MeshData): void {
    const { uv } = mesh;
    if (uv === null) return;
    let rim = this.outlines.get(uv);
    if (rim === undefined) this.outlines.set(uv, (rim = sidesOf(mesh).rim));
    const { next } = cornersOf(mesh.shape);
    const at = (c: number): [number, number] => this.toPage([uv[2 * c] as number, uv[2 * c + 1] as number]);
    pen.strokeStyle = token("muted");
    pen.lineWidth = 1;
    pen.beginPath();
    for (const c of rim) {
      pen.moveTo(...at(c));
      pen.lineTo(...at(next[c] as number));
    }
    pen.stroke();
  }

  private trace(pen: CanvasRenderingContext2D, places: readonly Place[]): void {
    places.forEach((place, i) => {
      const [x, y] = this.toPage(place);
      if (i === 0) pen.moveTo(x, y);
      else pen.lineTo(x, y);
    });
    if (places.length > 0) pen.closePath();
  }

  private pieces(pen: CanvasRenderingContext2D, what: Drawn, mesh: MeshData): void {
    const layout = what.stale ? null : what.layout;
    const all = Array.from({ length: mesh.shape.faceCount }, (_, f) => f);
    const turned = new Set(layout?.turned ?? []);
    const over = new Set(what.trial ? [] : (layout?.over ?? []));
    const face = (faces: readonly number[]) => {
      pen.beginPath();
      for (const f of faces) this.trace(pen, placesOf(mesh, f));
    };
    face(all);
    pen.fillStyle = token("panel");
    pen.fill("nonzero");
    face(all.filter((f) => turned.has(f)));
    pen.fillStyle = token("shadow");
    pen.fill("nonzero");
    this.hatch(pen, () => face(all.filter((f) => turned.has(f))), token("muted"), 7, [1, -1]); // its reverse is seen
    if (over.size > 0) this.hatch(pen, () => face([...over]), token("warn"), 4, [1, -1]);
    if (what.shows === "stretch" && layout !== null) this.stretched(pen, layout, face);
    if (what.kind === "faces" && what.picked.length > 0) this.hatch(pen, () => face(what.picked), token("pick"), 6, [1]);
    this.sides(pen, what, mesh);
    const arrows = layout === null ? [] : this.grain(pen, layout, mesh);
    if (!what.stale) this.notches(pen, what, mesh, arrows);
  }

  /** What belongs together has a notch and one letter on both sides, where there is room for them beside what is `taken`. */
  private notches(pen: CanvasRenderingContext2D, what: Drawn, mesh: MeshData, taken: (readonly [number, number])[]): void {
    const { joins } = this.classed(mesh, what);
    if (joins.length > MOST_JOINS) return;
    pen.strokeStyle = pen.fillStyle = token("ink");
    pen.lineWidth = 1.4;
    pen.font = `10px "Archivo Variable", sans-serif`;
    pen.textAlign = "center";
    pen.textBaseline = "middle";
    joins.forEach(({ sides, twins }, n) => {
      for (const row of [middleOf(mesh, sides), middleOf(mesh, twins, true)]) {
        if (row === null || row.long * this.scale < ROOM) continue;
        const [x, y] = this.toPage(row.at);
        const [inX, inY] = [-row.way[1], -row.way[0]]; // faces run counter-clockwise: within is to the left, and v grows upward
        pen.beginPath();
        pen.moveTo(x, y);
        pen.lineTo(x + NOTCH * inX, y + NOTCH * inY);
        pen.stroke();
        const spot = [x + (NOTCH + 7) * inX, y + (NOTCH + 7) * inY] as const;
        if (taken.some(([a, b]) => Math.hypot(a - spot[0], b - spot[1]) < APART)) continue;
        taken.push(spot);
        pen.fillText(letter(n), ...spot);
      }
    });
  }

  /** Lines across whatever is traced: one way, or both. */
  private hatch(pen: CanvasRenderingContext2D, trace: () => void, colour: string, apart: number, ways: readonly number[]): void {
    pen.save();
    trace();
    pen.clip("nonzero");
    pen.strokeStyle = colour;
    pen.lineWidth = 1;
    pen.beginPath();
    for (const way of ways) {
      for (let x = -this.height; x < this.width + this.height; x += apart) {
        pen.moveTo(x, 0);
        pen.lineTo(x + way * this.height, this.height);
      }
    }
    pen.stroke();
    pen.restore();
  }

  /** The more a face is stretched, the denser its hatching; its number is told under the pointer. */
  private stretched(pen: CanvasRenderingContext2D, layout: PartLayout, face: (faces: readonly number[]) => void): void {
    const steps = [[1.05, 1.2, 16], [1.2, 1.5, 10], [1.5, 2.2, 6], [2.2, Infinity, 3]] as const;
    for (const [from, to, apart] of steps) {
      const mine = layout.stretch.flatMap((s, f) => (s >= from && s < to ? [f] : []));
      if (mine.length > 0) this.hatch(pen, () => face(mine), token("ink"), apart, [-1]);
    }
  }

  /** Edges within pieces are thin, outlines ink, seams dash and dot; what is picked stands out. */
  private sides(pen: CanvasRenderingContext2D, what: Drawn, mesh: MeshData): void {
    const { next, edge } = cornersOf(mesh.shape);
    const { inner, rim } = this.classed(mesh, what).sides;
    const seams = new Set(what.layout?.seams ?? []);
    const chosen = new Set(what.kind === "edges" ? what.picked : []);
    const seam = rim.filter((c) => seams.has(edge[c] as number));
    const plain = seams.size === 0 ? rim : rim.filter((c) => !seams.has(edge[c] as number));
    const picked = chosen.size === 0 ? [] : [...inner, ...rim].filter((c) => chosen.has(edge[c] as number));
    const uv = mesh.uv as Float32Array;
    const at = (c: number): [number, number] => this.toPage([uv[2 * c] as number, uv[2 * c + 1] as number]);
    const stroke = (sides: readonly number[], colour: string, wide: number, dash: readonly number[] = []) => {
      pen.strokeStyle = colour;
      pen.lineWidth = wide;
      pen.setLineDash([...dash]);
      pen.beginPath();
      for (const c of sides) {
        pen.moveTo(...at(c));
        pen.lineTo(...at(next[c] as number));
      }
      pen.stroke();
      pen.setLineDash([]);
    };
    stroke(inner, token("rule"), 1);
    stroke(plain, token("ink"), 1.4);
    stroke(seam, token("ink"), 1.6, [9, 3, 2, 3]);
    stroke(picked, token("pick"), 3);
    if (what.kind !== "vertices") return;
    const points = new Set(what.picked);
    pen.fillStyle = token("pick");
    mesh.shape.corners.forEach((vertex, c) => {
      if (!points.has(vertex)) return;
      pen.beginPath();
      pen.arc(...at(c), 4, 0, TAU);
      pen.fill();
    });
  }

  /** Which sides lie within pieces and which on outlines: while a piece is dragged that stays as it was. */
  private classed(mesh: MeshData, what: Drawn): { readonly sides: ReturnType<typeof sidesOf>; readonly joins: readonly Join[] } {
    if (this.sorted === null || this.sorted.shape !== mesh.shape || this.sorted.layout !== what.layout || what.stale || (!what.trial && this.sorted.uv !== mesh.uv)) {
      this.sorted = { shape: mesh.shape, layout: what.layout, uv: mesh.uv, sides: sidesOf(mesh), joins: joinsOf(mesh) };
    }
    return this.sorted;
  }

  /** An arrow on each piece that tells which way is up on the model; where they stand on the page. */
  private grain(pen: CanvasRenderingContext2D, layout: PartLayout, mesh: MeshData): (readonly [number, number])[] {
    const stand: (readonly [number, number])[] = [];
    const count = Math.max(-1, ...layout.island) + 1;
    const faces: number[][] = Array.from({ length: count }, () => []);
    layout.island.forEach((i, f) => i >= 0 && faces[i]?.push(f));
    pen.strokeStyle = token("mark");
    pen.lineWidth = 1.3;
    for (const mine of faces) {
      const box = boxOf(mesh, mine);
      if (box === null) continue;
      const [[left, low], [right, high]] = box;
      const long = Math.min(Math.min(right - left, high - low) * this.scale * 0.3, 26);
      if (long < 7) continue;
      const [x, y] = this.toPage([(left + right) / 2, (low + high) / 2]);
      const [u, v] = grainOf(mesh, mine);
      const [dx, dy] = [u * long, -v * long];
      stand.push([x, y]);
      pen.beginPath();
      pen.moveTo(x - dx / 2, y - dy / 2);
      pen.lineTo(x + dx / 2, y + dy / 2);
      for (const side of [-1, 1]) {
        pen.moveTo(x + dx / 2, y + dy / 2);
        pen.lineTo(x + dx / 2 - 0.3 * (dx + side * dy), y + dy / 2 - 0.3 * (dy - side * dx));
      }
      pen.stroke();
    }
    return stand;
  }
}
