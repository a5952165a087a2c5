import { Vector3 } from "three";

import type { MeshData } from "../api/packets";
import { editor, type PickKind } from "../model/store";
import { token } from "../theme/theme";
import type { Camera } from "./Camera";
import type { PartView } from "./PartView";
import type { Pane, Sheet } from "./Sheet";

/** A label is no wider than this, and stands below the bar of its view; one line of it takes so much. */
const MOST_WIDE = 340;
const BAR = 32;
const LINE = 16;
/** More outlines than this say no more. */
const MOST_LIT = 3000;

/** Two-dimensional drawing over the model; redrawing it never redraws the model. */
export class Overlay {
  readonly context: CanvasRenderingContext2D;
  /** of the pane being drawn; points are projected by it */
  camera: Camera;
  /** whether that pane is the view at work, and whether a fault was told in it */
  private atWork = false;
  told = false;

  constructor(
    private readonly canvas: HTMLCanvasElement,
    sheet: Sheet,
  ) {
    this.context = canvas.getContext("2d") as CanvasRenderingContext2D;
    this.camera = sheet.panes.solid.camera;
  }

  clear(width: number, height: number, ratio: number): void {
    this.told = false;
    if (this.canvas.width !== Math.round(width * ratio) || this.canvas.height !== Math.round(height * ratio)) {
      this.canvas.width = Math.round(width * ratio);
      this.canvas.height = Math.round(height * ratio);
    }
    this.context.setTransform(ratio, 0, 0, ratio, 0, 0);
    this.context.clearRect(0, 0, width, height);
  }

  /** Draw into a pane, in its own pixels, and nowhere else. */
  within(pane: Pane, draw: () => void): void {
    const c = this.context;
    this.camera = pane.camera;
    this.atWork = pane.view === editor.get().view;
    c.save();
    c.translate(pane.x, pane.y);
    c.beginPath();
    c.rect(0, 0, pane.camera.width, pane.camera.height);
    c.clip();
    draw();
    c.restore();
  }

  /** Lines between each two points. */
  segments(points: readonly Vector3[], colour: string, width: number): void {
    const c = this.context;
    c.beginPath();
    for (let i = 0; i + 1 < points.length; i += 2) {
      const a = this.camera.project(points[i] as Vector3);
      const b = this.camera.project(points[i + 1] as Vector3);
      c.moveTo(a.x, a.y);
      c.lineTo(b.x, b.y);
    }
    c.lineWidth = width;
    c.strokeStyle = colour;
    c.stroke();
  }

  polyline(points: readonly Vector3[], colour: string, width: number, options: { close?: boolean; dash?: number[] } = {}): void {
    const c = this.context;
    c.beginPath();
    points.forEach((p, i) => {
      const q = this.camera.project(p);
      if (i === 0) c.moveTo(q.x, q.y);
      else c.lineTo(q.x, q.y);
    });
    if (options.close) c.closePath();
    c.setLineDash(options.dash ?? []);
    c.lineWidth = width;
    c.strokeStyle = colour;
    c.stroke();
    c.setLineDash([]);
  }

  dot(point: Vector3, radius: number, fill: string, stroke: string, width = 2.5): void {
    const p = this.camera.project(point);
    const c = this.context;
    c.beginPath();
    c.arc(p.x, p.y, radius, 0, 2 * Math.PI);
    c.fillStyle = fill;
    c.fill();
    c.lineWidth = width;
    c.strokeStyle = stroke;
    c.stroke();
  }

  /** Text with a rim of paper round it, so that it reads over a drawing. */
  title(x: number, y: number, text: string, colour: string): void {
    const c = this.context;
    c.font = '600 12px "Archivo Variable", sans-serif';
    c.textAlign = "center";
    c.textBaseline = "middle";
    c.lineJoin = "round";
    c.lineWidth = 4;
    c.strokeStyle = token("paper");
    c.strokeText(text, x, y);
    this.text(x, y, text, colour, "center");
  }

  text(x: number, y: number, text: string, colour: string, align: CanvasTextAlign = "left", weight = 600): void {
    const c = this.context;
    c.font = `${weight} 12px "Archivo Variable", sans-serif`;
    c.textAlign = align;
    c.textBaseline = "middle";
    c.fillStyle = colour;
    c.fillText(text, x, y);
  }

  /** Figures along an edge. */
  small(x: number, y: number, text: string, colour: string, align: CanvasTextAlign): void {
    const c = this.context;
    c.font = '400 10px "Archivo Variable", sans-serif';
    c.textAlign = align;
    c.textBaseline = "middle";
    c.fillStyle = colour;
    c.fillText(text, x, y);
  }

  /** A boxed value beside a point, kept inside the view and clear of its bar; `line` puts further ones below. What is too long
   * goes on in further lines. */
  label(at: Vector3, text: string, colour: string, line = 0): void {
    const c = this.context;
    c.font = '600 12px "Archivo Variable", sans-serif';
    const p = this.camera.project(at);
    const lines = this.wrapped(text, Math.min(this.camera.width - 8, MOST_WIDE) - 18);
    const width = Math.max(...lines.map((l) => c.measureText(l).width)) + 18;
    const height = 6 + LINE * lines.length;
    const x = Math.min(Math.max(p.x - width - 14, 4), this.camera.width - width - 4);
    const y = Math.min(Math.max(p.y - 11 + 26 * line, BAR), this.camera.height - height - 4);
    c.fillStyle = token("panel");
    c.strokeStyle = colour;
    c.lineWidth = 1.2;
    c.beginPath();
    c.roundRect(x, y, width, height, 4);
    c.fill();
    c.stroke();
    if (lines.length === 1) this.text(x + width - 9, y + 11.5, text, token("ink"), "right");
    else lines.forEach((l, i) => this.text(x + 9, y + 11.5 + LINE * i, l, token("ink")));
  }

  /** What keeps a trial from being, once, where the hand is. */
  fault(at: Vector3, told: string): void {
    if (!this.atWork || this.told) return;
    this.told = true;
    this.label(at, `▲ ${told}`, token("warn"), 1);
  }

  private wrapped(text: string, width: number): string[] {
    const out: string[] = [];
    for (const word of text.split(" ")) {
      const longer = out.length === 0 ? word : `${out[out.length - 1]} ${word}`;
      if (out.length > 0 && this.context.measureText(longer).width <= width) out[out.length - 1] = longer;
      else out.push(word);
    }
    return out;
  }

  /** What a click would take: drawn otherwise than what is picked. */
  hover(view: PartView, kind: PickKind, elements: readonly number[]): void {
    this.outlines(view, kind, elements, token("mark"), [5, 3]);
  }

  /** What a step picked. */
  lit(view: PartView, kind: PickKind, elements: readonly number[]): void {
    this.outlines(view, kind, elements, token("pick"), []);
  }

  private outlines(view: PartView, kind: PickKind, elements: readonly number[], colour: string, dash: number[]): void {
    const mesh = view.mesh?.cage;
    if (mesh === undefined) return;
    for (const element of elements.slice(0, MOST_LIT)) {
      const points = outline(mesh, kind, element).map((v) => vertexAt(view, mesh, v));
      if (kind === "vertices") {
        const p = points[0];
        if (p !== undefined) this.dot(p, 6, "transparent", colour, 1.8);
      } else this.polyline(points, colour, kind === "faces" ? 1.6 : 3, { close: kind === "faces", dash });
    }
  }
}

function outline(mesh: MeshData, kind: PickKind, element: number): number[] {
  if (kind === "vertices") return [element];
  if (kind === "edges") return [mesh.shape.edges[2 * element] as number, mesh.shape.edges[2 * element + 1] as number];
  const { offsets, corners } = mesh.shape;
  return [...corners.subarray(offsets[element], offsets[element + 1])];
}

/** A vertex of a part's cage, in the build. */
export function vertexAt(view: PartView, mesh: MeshData, vertex: number): Vector3 {
  return new Vector3().fromArray(mesh.positions, vertex * 3).applyMatrix4(view.group.matrix);
}
