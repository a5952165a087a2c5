import { Box3, BufferAttribute, BufferGeometry, Color, GreaterDepth, Group, LessEqualDepth, LineSegments, Matrix4, Mesh, Points, type ShaderMaterial, Vector3 } from "three";

import type { MeshData, Shape, Shown } from "../api/packets";
import type { PaneLook } from "../model/prefs";
import type { PickKind } from "../model/store";
import { token } from "../theme/theme";
import { Checker } from "./Checker";
import { Hull } from "./Hull";
import { dashDotMaterial, depthMaterial, faceMaterial, hatchMaterial, lineMaterial, pointMaterial } from "./materials";
import { shaded } from "./normals";

/** Offsets, in pixels, at which thick lines are drawn again. */
const THICK: readonly [number, number][] = [
  [0, 0],
  [1, 0],
  [-1, 0],
  [0, 1],
  [0, -1],
];
const GHOST = 0.42;
/** From dash to dash of a seam, in pixels. */
const SEAM = 17;
/** A surface beside its cage stands so many widths away. */
const BESIDE = 1.2;

/** How one pane draws a part. */
export interface Style extends PaneLook {
  readonly current: boolean;
  readonly points: boolean;
  readonly ghosted: boolean;
  readonly ratio: number;
  readonly flat: boolean;
  /** draw what hands need now and leave out what lies behind: a drag without a graphics card */
  readonly hasty: boolean;
  /** to the right in the pane */
  readonly right: Vector3;
}

/** More edges of a surface than these are no lines any more. */
const DENSE = 20_000;

/** Everything drawn of one part. Cage, edges, points and picks share one position attribute. */
export class PartView {
  readonly group = new Group();
  mesh: Shown | null = null;
  /** drawn see-through, and not picked */
  ghosted = false;
  readonly checker = new Checker();

  private cagePositions = new BufferAttribute(new Float32Array(0), 3);
  private facets = new Mesh(new BufferGeometry(), faceMaterial(false));
  private rounded = new Mesh(new BufferGeometry(), faceMaterial(true));
  private smooth = new Mesh(new BufferGeometry(), faceMaterial(true));
  /** the same faces, into the depths alone: a ghost shows one layer of itself, not all it holds */
  private depths = [this.facets, this.rounded, this.smooth].map((m) => new Mesh(m.geometry, depthMaterial()));
  private surfaceEdges = new LineSegments(new BufferGeometry(), lineMaterial());
  private edges = new LineSegments(new BufferGeometry(), lineMaterial());
  private hiddenEdges = new LineSegments(this.edges.geometry, lineMaterial());
  /** edges marked as seams, three times side by side */
  private seamGeometry = new BufferGeometry();
  private seamLines = THICK.slice(0, 3).map(([x, y]) => {
    const line = new LineSegments(this.seamGeometry, dashDotMaterial(SEAM));
    line.material.uniforms["shift"]?.value.set(x, y);
    return line;
  });
  private points = new Points(new BufferGeometry(), pointMaterial());
  private hiddenPoints = new Points(this.points.geometry, pointMaterial());
  private pickedFaces = new Mesh(new BufferGeometry(), hatchMaterial());
  private pickedPoints = new Points(new BufferGeometry(), pointMaterial());
  /** the picked elements' images on the surface, and so on the mirrored side */
  private imageFaces = new Mesh(new BufferGeometry(), hatchMaterial());
  private imageEdges = new LineSegments(new BufferGeometry(), lineMaterial());
  private imagePoints = new Points(new BufferGeometry(), pointMaterial());
  private outlineGeometry = new BufferGeometry();
  private outline: LineSegments<BufferGeometry, ShaderMaterial>[];
  private outlineHidden: LineSegments<BufferGeometry, ShaderMaterial>;
  private shown: { cage: string; surface: string | null } | null = null;
  private picked: { shape: Shape | null; kind: PickKind; elements: readonly number[] | null } | null = null;
  private marked: { readonly shape: Shape; readonly edges: readonly number[] } | null = null;
  private box: { mesh: Shown; box: Box3 } | null = null;
  private own: string | null = null;
  private hulls = new Map<MeshData, Hull>();

  constructor() {
    this.outline = THICK.map(([x, y]) => {
      const line = new LineSegments(this.outlineGeometry, lineMaterial());
      line.material.uniforms["shift"]?.value.set(x, y);
      return line;
    });
    this.outlineHidden = new LineSegments(this.outlineGeometry, lineMaterial(8));
    for (const hidden of [this.outlineHidden, this.hiddenEdges, this.hiddenPoints]) hidden.material.depthFunc = GreaterDepth;
    set(this.outlineHidden.material, { alpha: 0.8, lift: 0 });
    const all = [...this.depths, this.facets, this.rounded, this.smooth, this.surfaceEdges, this.hiddenEdges, this.edges, ...this.seamLines, this.hiddenPoints, this.points];
    const picks = [this.imageFaces, this.imageEdges, this.imagePoints, this.pickedFaces, this.outlineHidden, ...this.outline, this.pickedPoints];
    for (const [objects, first] of [[all, 1], [picks, 60]] as const) {
      objects.forEach((object, i) => {
        object.frustumCulled = false;
        object.matrixAutoUpdate = false;
        object.renderOrder = first + i;
        this.group.add(object);
      });
    }
    this.group.add(this.checker.object);
    this.group.matrixAutoUpdate = false;
    this.colours();
  }

  /** Its own colour, `#rrggbb`; null draws it as all others. */
  paint(own: string | null): void {
    if (own === this.own) return;
    this.own = own;
    this.colours();
  }

  colours(): void {
    const model = this.own ?? token("model");
    const edge = token("model-edge");
    for (const face of [this.facets, this.rounded, this.smooth]) {
      colour(face.material, "colour", model);
      face.material.uniforms["inside"]?.value.set(model).lerp(new Color(token("warn")), 0.45);
    }
    for (const line of this.seamLines) colour(line.material, "colour", token("mark"));
    for (const line of [this.edges, this.hiddenEdges, this.surfaceEdges, this.points, this.hiddenPoints]) colour(line.material, "colour", edge);
    for (const object of [this.pickedFaces, this.pickedPoints, this.outlineHidden, ...this.outline, this.imageFaces, this.imageEdges, this.imagePoints]) {
      colour(object.material, "colour", token("pick"));
    }
  }

  place(matrix: Matrix4): void {
    this.group.matrix.copy(matrix);
    this.group.updateMatrixWorld(true);
  }

  /** Show a mesh: positions only when the connectivity is the one on screen. */
  show(mesh: Shown): void {
    if (mesh === this.mesh) return;
    this.mesh = mesh;
    const { cage, surface } = mesh;
    const fresh = this.shown?.cage !== cage.shape.digest || this.cagePositions.count !== cage.shape.vertexCount;
    if (fresh) {
      this.cagePositions = new BufferAttribute(cage.positions, 3);
      for (const object of [this.facets, this.edges, this.points, this.pickedFaces, this.pickedPoints]) {
        object.geometry.setAttribute("position", this.cagePositions);
      }
      this.outlineGeometry.setAttribute("position", this.cagePositions);
      this.seamGeometry.setAttribute("position", this.cagePositions);
      this.facets.geometry.setIndex(new BufferAttribute(cage.shape.triangles, 1));
      this.edges.geometry.setIndex(new BufferAttribute(cage.shape.edges, 1));
      this.picked = null;
    } else {
      this.cagePositions.array = cage.positions;
      this.cagePositions.needsUpdate = true;
    }
    if (cage.shape.shadingVertex.length > 0) fill(this.rounded.geometry, cage, fresh);
    if (surface !== null) {
      const anew = this.shown?.surface !== surface.shape.digest;
      fill(this.smooth.geometry, surface, anew);
      const lines = this.surfaceEdges.geometry;
      lines.setAttribute("position", surface.shape.shadingVertex.length > 0 ? new BufferAttribute(surface.positions, 3) : this.smooth.geometry.getAttribute("position"));
      if (anew) lines.setIndex(new BufferAttribute(surface.shape.edges, 1));
      for (const image of [this.imageFaces, this.imageEdges, this.imagePoints]) image.geometry.setAttribute("position", lines.getAttribute("position"));
      if (anew) this.picked = null;
    }
    this.shown = { cage: cage.shape.digest, surface: surface?.shape.digest ?? null };
    this.hulls.clear();
  }

  /** Whether it is a curve: points joined by lines, and no faces. */
  get isCurve(): boolean {
    return this.mesh?.surface?.shape.digest.startsWith("curve") ?? false;
  }

  /** Which of cage and surface a pane draws. */
  drawn(look: PaneLook): { cage: boolean; surface: boolean } {
    if (this.isCurve) return { surface: true, cage: false };
    const has = this.mesh?.surface != null;
    const surface = has && look.showing !== "cage";
    return { surface, cage: !surface || look.showing === "beside" };
  }

  /** Make ready for one pane: current parts show cage and points, others their surface alone. */
  style(o: Style): void {
    const { cage, surface } = this.drawn(o.current ? o : { ...o, showing: o.showing === "cage" ? "cage" : "surface" });
    const rounded = (this.mesh?.cage.shape.shadingVertex.length ?? 0) > 0;
    const wire = o.shading === "wire";
    const through = o.shading === "ghost" || o.ghosted;
    const curve = this.isCurve;
    const over = surface && o.current && (curve || o.showing === "both");
    this.facets.visible = cage && !wire && !rounded;
    this.rounded.visible = cage && !wire && rounded;
    this.smooth.visible = surface && !wire;
    for (const face of [this.facets, this.rounded, this.smooth]) {
      face.material.transparent = through;
      set(face.material, { alpha: o.ghosted ? GHOST / 2 : through ? GHOST : 1, flatness: o.shading === "flat" ? 1 : o.flat ? 0.55 : 0 });
    }
    this.depths.forEach((depth, i) => (depth.visible = through && ([this.facets, this.rounded, this.smooth][i] as Mesh).visible));
    const lines = o.edges || wire || o.shading === "ghost";
    // the refined edges of a dense part would be a blot: its wire is its cage
    const dense = wire && surface && !curve && (this.mesh?.surface?.shape.edges.length ?? 0) / 2 > DENSE;
    this.edges.visible = lines && (cage || over || (wire && (!surface || dense)));
    set(this.edges.material, { alpha: o.ghosted ? 0.3 : o.current ? (over ? 0.75 : 1) : 0.55 });
    this.edges.material.depthFunc = LessEqualDepth;
    this.hiddenEdges.visible = o.current && lines && (wire || ((over || through) && !o.hasty));
    set(this.hiddenEdges.material, { alpha: wire ? 1 : 0.28, lift: 0 });
    this.surfaceEdges.visible = surface && !dense && (curve || (!over && o.edges));
    if (curve) colour(this.surfaceEdges.material, "colour", o.current ? token("pick") : token("model-edge"));
    set(this.surfaceEdges.material, { alpha: wire || (curve && o.current) ? 1 : 0.55 });
    for (const line of this.seamLines) {
      line.visible = o.current && this.marked !== null && (cage || over);
      set(line.material, { dash: SEAM * o.ratio });
    }
    this.points.visible = o.current && o.points && (cage || over) && !o.hasty;
    this.hiddenPoints.visible = this.points.visible;
    set(this.points.material, { point: 5 * o.ratio });
    set(this.hiddenPoints.material, { point: 4 * o.ratio, alpha: 0.3, lift: 0 });
    set(this.pickedPoints.material, { point: 9 * o.ratio });
    set(this.pickedFaces.material, { ratio: o.ratio });
    this.pickedFaces.material.depthTest = !over;
    const images = surface && this.imagesShown && !o.hasty;
    this.imageFaces.visible = images && this.picked?.kind === "faces";
    this.imageEdges.visible = images && this.picked?.kind === "edges";
    this.imagePoints.visible = images && this.picked?.kind === "vertices";
    set(this.imageFaces.material, { ratio: o.ratio, ground: 0.05, strength: 0.4 });
    set(this.imageEdges.material, { alpha: 0.55 });
    set(this.imagePoints.material, { point: 6 * o.ratio, alpha: 0.55 });
    this.stepAside(cage && surface ? o.right : null);
  }

  /** Draw the surface beside the cage, in a direction of the build; null puts it back. */
  private stepAside(right: Vector3 | null): void {
    const away = new Vector3();
    if (right !== null && this.mesh !== null) {
      const size = this.bounds().getSize(new Vector3());
      const width = Math.abs(size.x * right.x) + Math.abs(size.y * right.y) + Math.abs(size.z * right.z);
      away.copy(right).multiplyScalar(BESIDE * width);
      const linear = this.group.matrix.clone().setPosition(0, 0, 0).invert();
      away.applyMatrix4(linear);
    }
    for (const object of [this.smooth, this.surfaceEdges, this.depths[2] as Mesh, this.imageFaces, this.imageEdges, this.imagePoints]) {
      object.matrix.setPosition(away);
      object.matrixWorld.multiplyMatrices(this.group.matrixWorld, object.matrix);
    }
  }

  /** Draw these edges of the cage as seams; null draws none. */
  seams(edges: readonly number[] | null): void {
    const shape = this.mesh?.cage.shape ?? null;
    if (this.marked?.edges === edges && this.marked?.shape === shape) return;
    this.marked = edges === null || shape === null || edges.length === 0 ? null : { shape, edges };
    if (this.marked !== null && shape !== null) this.seamGeometry.setIndex(edges?.flatMap((e) => [shape.edges[2 * e] as number, shape.edges[2 * e + 1] as number]) ?? []);
  }

  /** Hatch and outline the picked elements. */
  pick(kind: PickKind, elements: readonly number[] | null): void {
    const mesh = this.mesh?.cage;
    const shape = mesh?.shape ?? null;
    if (this.picked?.shape === shape && this.picked.kind === kind && this.picked.elements === elements) return;
    this.picked = { shape, kind, elements };
    const list = elements ?? [];
    this.pickedFaces.visible = kind === "faces" && list.length > 0;
    this.pickedPoints.visible = kind === "vertices" && list.length > 0;
    this.pickImages(kind, list);
    const lines = kind !== "vertices" && list.length > 0;
    for (const line of this.outline) line.visible = lines;
    this.outlineHidden.visible = lines;
    if (mesh === undefined || list.length === 0) return;
    if (kind === "vertices") {
      this.pickedPoints.geometry.setIndex([...list]);
    } else if (kind === "edges") {
      this.outlineGeometry.setIndex(list.flatMap((e) => [mesh.shape.edges[2 * e] as number, mesh.shape.edges[2 * e + 1] as number]));
    } else {
      const wanted = new Uint8Array(mesh.shape.faceCount);
      for (const f of list) wanted[f] = 1;
      const index: number[] = [];
      const { triangles, triangleFace, offsets, corners } = mesh.shape;
      triangleFace.forEach((face, t) => {
        if (wanted[face] === 1) index.push(triangles[3 * t] as number, triangles[3 * t + 1] as number, triangles[3 * t + 2] as number);
      });
      this.pickedFaces.geometry.setIndex(index);
      this.outlineGeometry.setIndex(outlineOf(list, offsets, corners, mesh.shape.vertexCount));
    }
  }

  /** Light up the images of what is picked: fainter, so that the source is told from them. */
  private pickImages(kind: PickKind, list: readonly number[]): void {
    const surface = list.length === 0 ? null : (this.mesh?.surface ?? null);
    this.imagesShown = surface !== null;
    if (surface === null) return;
    const { triangles, triangleFace, edges, edgeCage, vertexCage } = surface.shape;
    const wanted = new Set(list);
    const index: number[] = [];
    if (kind === "faces") {
      triangleFace.forEach((f, t) => {
        if (wanted.has(f)) index.push(triangles[3 * t]!, triangles[3 * t + 1]!, triangles[3 * t + 2]!);
      });
    } else if (kind === "edges") {
      edgeCage.forEach((e, i) => {
        if (wanted.has(e)) index.push(edges[2 * i]!, edges[2 * i + 1]!);
      });
    } else {
      vertexCage.forEach((v, i) => {
        if (wanted.has(v)) index.push(i);
      });
    }
    const image = kind === "faces" ? this.imageFaces : kind === "edges" ? this.imageEdges : this.imagePoints;
    image.geometry.setIndex(index);
  }

  private imagesShown = false;

  /** What a click in a pane meets: the surface where it is drawn over its cage, else the cage. Made when first asked for. */
  meshFor(look: PaneLook): MeshData | null {
    if (this.mesh === null) return null;
    return look.showing === "cage" || look.showing === "beside" ? this.mesh.cage : (this.mesh.surface ?? this.mesh.cage);
  }

  picking(look: PaneLook): Hull | null {
    const mesh = this.meshFor(look);
    if (mesh === null) return null;
    let hull = this.hulls.get(mesh);
    if (hull === undefined) {
      hull = new Hull(mesh);
      this.hulls.set(mesh, hull);
    }
    return hull;
  }

  /** The box round what is on screen, in the build; worked out once for each mesh. */
  bounds(): Box3 {
    if (this.mesh === null) return new Box3();
    if (this.box?.mesh !== this.mesh) {
      this.box = { mesh: this.mesh, box: new Box3().setFromArray((this.mesh.surface ?? this.mesh.cage).positions) };
    }
    return this.box.box.clone().applyMatrix4(this.group.matrix);
  }

  dispose(): void {
    this.checker.dispose();
    for (const object of this.group.children) {
      if (object instanceof Mesh || object instanceof LineSegments || object instanceof Points) {
        object.geometry.dispose(); // materials hold nothing but shaders that all parts share
      }
    }
  }
}

/** Give a geometry the shaded points of a mesh; its triangles too when the connectivity is another. */
function fill(g: BufferGeometry, mesh: MeshData, fresh: boolean): void {
  const { positions, normals, triangles } = shaded(mesh);
  const position = g.getAttribute("position") as BufferAttribute | undefined;
  if (fresh || position === undefined || position.array.length !== positions.length) {
    g.setAttribute("position", new BufferAttribute(positions, 3));
    g.setAttribute("normal", new BufferAttribute(normals, 3));
    g.setIndex(new BufferAttribute(triangles, 1));
    return;
  }
  const normal = g.getAttribute("normal") as BufferAttribute;
  position.array = positions;
  normal.array = normals;
  position.needsUpdate = normal.needsUpdate = true;
}

function set(material: ShaderMaterial, values: Record<string, number>): void {
  for (const [key, value] of Object.entries(values)) {
    const uniform = material.uniforms[key];
    if (uniform !== undefined) uniform.value = value;
  }
}

function colour(material: ShaderMaterial, name: string, value: string): void {
  material.uniforms[name]?.value.set(value);
}

/** Edges that only one of the faces has, as vertex pairs. */
function outlineOf(faces: readonly number[], offsets: Uint32Array, corners: Uint32Array, vertices: number): number[] {
  const seen = new Map<number, [number, number]>();
  for (const f of faces) {
    const start = offsets[f] as number;
    const end = offsets[f + 1] as number;
    for (let c = start; c < end; c++) {
      const a = corners[c] as number;
      const b = corners[c + 1 < end ? c + 1 : start] as number;
      const key = Math.min(a, b) * vertices + Math.max(a, b);
      if (!seen.delete(key)) seen.set(key, [a, b]);
    }
  }
  return [...seen.values()].flat();
}
