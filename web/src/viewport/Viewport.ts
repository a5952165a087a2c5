import { Box3, CircleGeometry, Color, Matrix4, Mesh, MeshBasicMaterial, Quaternion, Scene, Vector3, WebGLRenderer } from "three";

import type { Part } from "../api/client";
import { keepsNumbers } from "../state/picks";
import { editor, isLocked, METRES, unitOf, type EditorState, type ToolSession } from "../state/store";
import { token } from "../theme/theme";
import { CutTool } from "../tools/cut";
import { ExtrudeTool } from "../tools/extrude";
import { NumberTool } from "../tools/number";
import { SliceTool } from "../tools/slice";
import type { Tool } from "../tools/Tool";
import { TransformTool } from "../tools/transform";
import { Boards } from "./Boards";
import { Camera } from "./Camera";
import { hitAt, type Hit } from "./hit";
import { SIZE } from "./materials";
import { Overlay } from "./overlay";
import { PartView } from "./PartView";
import { Pointing } from "./Pointing";
import { BASES, VIEW_TITLES } from "./views";

/** The view: draws on demand what the store says, and turns pointer and keys into what the store is told. */
export class Viewport {
  readonly camera = new Camera();
  readonly parts = new Map<string, PartView>();
  readonly boards: Boards;
  private readonly tools: Record<string, Tool> = { extrude: new ExtrudeTool(), transform: new TransformTool(), slice: new SliceTool(), cut: new CutTool() };
  private readonly number = new NumberTool();
  /** what the pointer is over */
  hover: Hit | null = null;
  hotHandle: string | null = null;
  hotBoard: string | null = null;
  movedBoard: { id: string; at: [number, number] } | null = null;

  private readonly renderer: WebGLRenderer;
  private readonly scene = new Scene();
  private readonly overlay: Overlay;
  private readonly shadow = new Mesh(new CircleGeometry(1, 64), new MeshBasicMaterial({ depthWrite: false }));
  private readonly darker = new Mesh(new CircleGeometry(0.78, 64), new MeshBasicMaterial({ depthWrite: false }));
  private readonly observer: ResizeObserver;
  private readonly unsubscribe: () => void;
  private readonly pointing: Pointing;
  private modelDirty = true;
  private queued = false;
  private ratio = 1;
  private framed: string | null = null;

  constructor(
    private readonly host: HTMLElement,
    canvas: HTMLCanvasElement,
    overlay: HTMLCanvasElement,
  ) {
    this.renderer = new WebGLRenderer({ canvas, antialias: !isSoftware(), alpha: false, powerPreference: "high-performance" });
    this.ratio = isSoftware() ? 1 : Math.min(window.devicePixelRatio || 1, 2);
    this.overlay = new Overlay(overlay, this.camera);
    this.boards = new Boards(() => this.sync());
    for (const [mesh, order] of [[this.shadow, -5], [this.darker, -4]] as const) {
      mesh.rotation.x = -Math.PI / 2;
      mesh.renderOrder = order;
      mesh.frustumCulled = false;
      this.scene.add(mesh);
    }
    this.scene.add(this.boards.group);
    this.observer = new ResizeObserver(() => this.resize());
    this.observer.observe(host);
    this.unsubscribe = editor.subscribe((state, before) => this.heard(state, before));
    this.pointing = new Pointing(this, overlay);
    this.camera.look(editor.get().view);
    this.colours();
    this.resize();
    this.sync();
  }

  dispose(): void {
    this.pointing.dispose();
    this.observer.disconnect();
    this.unsubscribe();
    for (const view of this.parts.values()) view.dispose();
    this.renderer.dispose();
  }

  get tool(): Tool | null {
    const session = editor.get().session;
    return session === null ? null : this.toolOf(session);
  }

  private toolOf(session: ToolSession): Tool {
    return this.tools[session.tool] ?? this.number;
  }

  /** Draw again at the next frame; without `model` only the overlay. */
  invalidate(model = true): void {
    this.modelDirty ||= model;
    if (this.queued) return;
    this.queued = true;
    requestAnimationFrame(() => {
      this.queued = false;
      if (this.modelDirty) {
        this.modelDirty = false;
        this.renderer.render(this.scene, this.camera.camera);
        performance.mark("rhytonic:drawn");
      }
      this.drawOverlay();
    });
  }

  private resize(): void {
    const { clientWidth: width, clientHeight: height } = this.host;
    if (width === 0 || height === 0) return;
    this.renderer.setPixelRatio(this.ratio);
    this.renderer.setSize(width, height, false);
    SIZE.set(width * this.ratio, height * this.ratio);
    this.camera.resize(width, height);
    this.invalidate();
  }

  colours(): void {
    this.renderer.setClearColor(new Color(token("paper")));
    this.shadow.material.color.set(token("shadow")).lerp(new Color(token("paper")), 0.35);
    this.darker.material.color.set(token("shadow"));
    for (const view of this.parts.values()) view.colours();
    this.invalidate();
  }

  private heard(state: EditorState, before: EditorState): void {
    if (state.lit !== before.lit) this.invalidate(false);
    if (state.view !== before.view) this.camera.look(state.view);
    if (state.night !== before.night) this.colours();
    this.sync();
  }

  /** Make the scene what the store says. */
  sync(): void {
    const state = editor.get();
    const parts = state.build?.document.parts ?? [];
    for (const [id, view] of this.parts) {
      if (!parts.some((p) => p.id === id)) {
        this.scene.remove(view.group);
        view.dispose();
        this.parts.delete(id);
      }
    }
    for (const part of parts) this.syncPart(part, state);
    const box = this.bounds();
    this.placeShadow(box, state.view === "perspective");
    this.boards.update(state.build?.document.boards ?? [], unitOf(state), state.view, box, this.movedBoard, state.night ? 0.62 : 1);
    const ready = state.build !== null && parts.every((p) => p.id != null && state.meshes[p.id] !== undefined);
    if (ready && this.framed !== state.build?.id && (parts.length > 0 || (state.build?.document.boards?.length ?? 0) > 0)) {
      this.framed = state.build?.id ?? null;
      this.frame();
    }
    this.invalidate();
  }

  private syncPart(part: Part, state: EditorState): void {
    const id = part.id ?? "";
    const held = state.meshes[id];
    if (held === undefined) return;
    let view = this.parts.get(id);
    if (view === undefined) {
      view = new PartView();
      this.parts.set(id, view);
      this.scene.add(view.group);
    }
    const mesh = state.preview !== null && state.session?.part === id ? state.preview : held.mesh;
    if (view.mesh !== mesh && view.mesh?.cage.shape !== mesh.cage.shape) this.hover = null; // its number means another element now
    view.show(mesh);
    view.place(matrixOf(part, METRES[unitOf(state)]));
    view.group.visible = !part.hidden;
    view.style({ current: id === state.current, kind: state.pickKind, showCage: state.showCage, ratio: this.ratio, flat: state.view !== "perspective" });
    // a trial that numbers elements anew shows itself, not what was picked for it
    const renumbered = mesh === state.preview && !keepsNumbers(state.session);
    const pick = state.pick?.part === id && !renumbered ? state.pick : null;
    view.pick(pick?.kind ?? state.pickKind, pick?.elements ?? null);
  }

  bounds(): Box3 {
    const box = new Box3();
    for (const view of this.parts.values()) if (view.group.visible) box.union(view.bounds());
    return box;
  }

  frame(): void {
    const box = this.bounds();
    if (box.isEmpty()) box.set(new Vector3(-0.2, 0, -0.2), new Vector3(0.2, 0.4, 0.2));
    this.camera.frame(box);
    this.invalidate();
  }

  private placeShadow(box: Box3, shown: boolean): void {
    const visible = shown && !box.isEmpty();
    this.shadow.visible = this.darker.visible = visible;
    if (!visible) return;
    const size = box.getSize(new Vector3());
    const centre = box.getCenter(new Vector3());
    for (const [mesh, grow] of [[this.shadow, 0.85], [this.darker, 0.85]] as const) {
      mesh.position.set(centre.x + size.x * 0.06, Math.min(box.min.y, 0) - 1e-4, centre.z + size.z * 0.06);
      mesh.scale.set(Math.max(size.x, size.z * 0.4) * grow, Math.max(size.z, size.x * 0.4) * grow, 1);
    }
  }

  hit(x: number, y: number, nth: number): Hit | null {
    const { pickKind, current, through } = editor.get();
    return hitAt(x, y, pickKind, this.parts, this.camera, { current, through, nth });
  }

  private drawOverlay(): void {
    const state = editor.get();
    const o = this.overlay;
    o.clear(this.ratio);
    this.drawFloor();
    this.drawAxes();
    this.drawTitle();
    const dragging = state.session?.dragging ?? false;
    if (this.hover !== null && !dragging && this.hotHandle === null) {
      const view = this.parts.get(this.hover.part);
      if (view !== undefined) o.hover(view, this.hover.kind, [this.hover.element]);
    }
    const lit = state.lit === null ? undefined : this.parts.get(state.lit.part);
    if (state.lit !== null && lit !== undefined) o.hover(lit, state.lit.kind, state.lit.elements);
    for (const board of state.build?.document.boards ?? []) {
      const corners = this.boards.corners(board.id);
      if (corners === null || state.view === "perspective") continue;
      const hot = this.hotBoard === board.id && !isLocked(board);
      o.polyline(corners, hot ? token("pick") : token("ink"), hot ? 2 : 0.8, { close: true, dash: isLocked(board) ? [] : [6, 4] });
    }
    if (state.session !== null) {
      const view = this.parts.get(state.session.part);
      if (view !== undefined) {
        this.toolOf(state.session).draw({ session: state.session, view, camera: this.camera }, o, this.hotHandle, unitOf(state));
      }
    }
  }

  /** The floor, in views that see it edge on. */
  private drawFloor(): void {
    const { view } = this.camera;
    if (view === "perspective" || view === "top" || view === "bottom") return;
    const y = this.camera.project(new Vector3()).y;
    const c = this.overlay.context;
    c.strokeStyle = token("muted");
    c.globalAlpha = 0.55;
    c.lineWidth = 1;
    c.beginPath();
    c.moveTo(0, Math.round(y) + 0.5);
    c.lineTo(this.camera.width, Math.round(y) + 0.5);
    c.stroke();
    c.globalAlpha = 1;
  }

  /** The view's title under the drawing, with its scale. */
  private drawTitle(): void {
    const { view, width, height } = this.camera;
    const scale = this.camera.scaleText();
    const title = scale === null ? "3D, 50 mm" : `${VIEW_TITLES[view]} ${scale}`;
    this.overlay.title(width / 2 - 60, height - 16, title, token("muted"));
  }

  /** Axis letters in the lower left corner. */
  private drawAxes(): void {
    const { right, up } = this.camera.view === "perspective" ? this.camera.basis() : BASES[this.camera.view];
    const at = { x: 44, y: this.camera.height - 46 };
    const c = this.overlay.context;
    const dashes = [[], [7, 2, 1, 2], [4, 3]];
    (["x", "y", "z"] as const).forEach((letter, i) => {
      const axis = new Vector3().setComponent(i, 1);
      const dx = axis.dot(right) * 26;
      const dy = -axis.dot(up) * 26;
      if (Math.hypot(dx, dy) < 3) return;
      c.beginPath();
      c.setLineDash(dashes[i] as number[]);
      c.moveTo(at.x, at.y);
      c.lineTo(at.x + dx, at.y + dy);
      c.strokeStyle = token("ink");
      c.lineWidth = 1.3;
      c.stroke();
      c.setLineDash([]);
      const size = Math.hypot(dx, dy);
      this.overlay.text(at.x + dx + (dx / size) * 9, at.y + dy + (dy / size) * 9, letter, token("muted"), "center", 500);
    });
  }
}

/** A part's placement: scales, then turns about x, y, z, then moves. */
export function matrixOf(part: Part, metres: number): Matrix4 {
  const { translate = [0, 0, 0], rotate = [0, 0, 0], scale = [1, 1, 1] } = part.placement ?? {};
  const turn = new Quaternion();
  (["x", "y", "z"] as const).forEach((_, i) => {
    const axis = new Vector3().setComponent(i, 1);
    turn.premultiply(new Quaternion().setFromAxisAngle(axis, ((rotate[i] as number) * Math.PI) / 180));
  });
  return new Matrix4().compose(
    new Vector3(...(translate as [number, number, number])).multiplyScalar(metres),
    turn,
    new Vector3(...(scale as [number, number, number])),
  );
}

let software: boolean | null = null;

/** Whether the browser draws without a graphics card; antialiasing is then off. */
function isSoftware(): boolean {
  if (software === null) {
    const gl = document.createElement("canvas").getContext("webgl2");
    const info = gl?.getExtension("WEBGL_debug_renderer_info");
    const name = gl && info ? String(gl.getParameter(info.UNMASKED_RENDERER_WEBGL)) : "";
    software = /swiftshader|llvmpipe|software/i.test(name);
    gl?.getExtension("WEBGL_lose_context")?.loseContext();
  }
  return software;
}
