import {
  Box3,
  BufferAttribute,
  BufferGeometry,
  Color,
  GreaterDepth,
  Group,
  LineSegments,
  Matrix4,
  Mesh,
  Points,
  type ShaderMaterial,
} from "three";

import type { MeshData, PartMesh, Shape } from "../api/packets";
import type { PickKind } from "../state/store";
import { token } from "../theme/theme";
import { faceMaterial, hatchMaterial, lineMaterial, pointMaterial } from "./materials";
import { Hull } from "./Hull";

/** Offsets, in pixels, at which thick lines are drawn again. */
const THICK: readonly [number, number][] = [
  [0, 0],
  [1, 0],
  [-1, 0],
  [0, 1],
  [0, -1],
];

/** Everything drawn of one part. Cage, edges, points and picks share one position attribute. */
export class PartView {
  readonly group = new Group();
  mesh: PartMesh | null = null;
  hull: Hull | null = null;

  private cagePositions = new BufferAttribute(new Float32Array(0), 3);
  private faces = new Mesh(new BufferGeometry(), faceMaterial(false));
  private smooth = new Mesh(new BufferGeometry(), faceMaterial(true));
  private edges = new LineSegments(new BufferGeometry(), lineMaterial());
  private hiddenEdges = new LineSegments(this.edges.geometry, lineMaterial());
  private points = new Points(new BufferGeometry(), pointMaterial());
  private pickedFaces = new Mesh(new BufferGeometry(), hatchMaterial());
  private pickedPoints = new Points(new BufferGeometry(), pointMaterial());
  private outlineGeometry = new BufferGeometry();
  private outline: LineSegments<BufferGeometry, ShaderMaterial>[];
  private outlineHidden: LineSegments<BufferGeometry, ShaderMaterial>;
  private shown: { cage: string; surface: string | null } | null = null;
  private picked: { shape: Shape | null; kind: PickKind; elements: readonly number[] | null } | null = null;
  private box: { mesh: PartMesh; box: Box3 } | null = null;

  constructor() {
    this.outline = THICK.map(([x, y]) => {
      const line = new LineSegments(this.outlineGeometry, lineMaterial());
      line.material.uniforms["shift"]?.value.set(x, y);
      return line;
    });
    this.outlineHidden = new LineSegments(this.outlineGeometry, lineMaterial());
    this.outlineHidden.material.depthFunc = GreaterDepth;
    this.hiddenEdges.material.depthFunc = GreaterDepth;
    set(this.outlineHidden.material, { dash: 8, alpha: 0.8, lift: 0 });
    const all = [this.faces, this.smooth, this.hiddenEdges, this.edges, this.points, this.pickedFaces, this.outlineHidden, ...this.outline, this.pickedPoints];
    all.forEach((object, i) => {
      object.frustumCulled = false;
      object.renderOrder = i + 1;
      this.group.add(object);
    });
    this.group.matrixAutoUpdate = false;
    this.colours();
  }

  colours(): void {
    const edge = token("model-edge");
    const pick = token("pick");
    for (const face of [this.faces, this.smooth]) {
      colour(face.material, "colour", token("model"));
      face.material.uniforms["inside"]?.value.set(token("model")).lerp(new Color(token("warn")), 0.3);
    }
    for (const line of [this.edges, this.hiddenEdges]) colour(line.material, "colour", edge);
    colour(this.points.material, "colour", edge);
    for (const object of [this.pickedFaces, this.pickedPoints, this.outlineHidden, ...this.outline]) {
      colour(object.material, "colour", pick);
    }
  }

  place(matrix: Matrix4): void {
    this.group.matrix.copy(matrix);
    this.group.updateMatrixWorld(true);
  }

  /** Show a mesh: positions only when the connectivity is the one on screen. */
  show(mesh: PartMesh): void {
    if (mesh === this.mesh) return;
    this.mesh = mesh;
    const { cage, surface } = mesh;
    const fresh = this.shown?.cage !== cage.shape.digest || this.cagePositions.count !== cage.shape.vertexCount;
    if (fresh) {
      this.cagePositions = new BufferAttribute(cage.positions, 3);
      for (const object of [this.faces, this.edges, this.points, this.pickedFaces, this.pickedPoints]) {
        object.geometry.setAttribute("position", this.cagePositions);
      }
      this.outlineGeometry.setAttribute("position", this.cagePositions);
      this.faces.geometry.setIndex(new BufferAttribute(cage.shape.triangles, 1));
      this.edges.geometry.setIndex(new BufferAttribute(cage.shape.edges, 1));
      this.picked = null;
    } else {
      this.cagePositions.array = cage.positions;
      this.cagePositions.needsUpdate = true;
    }
    if (surface !== null) this.showSurface(surface, this.shown?.surface !== surface.shape.digest);
    this.shown = { cage: cage.shape.digest, surface: surface?.shape.digest ?? null };
    this.hull = null;
  }

  private showSurface(surface: MeshData, fresh: boolean): void {
    const g = this.smooth.geometry;
    const normals = vertexNormals(surface);
    if (fresh || g.getAttribute("position") === undefined) {
      g.setAttribute("position", new BufferAttribute(surface.positions, 3));
      g.setAttribute("normal", new BufferAttribute(normals, 3));
      g.setIndex(new BufferAttribute(surface.shape.triangles, 1));
      return;
    }
    const position = g.getAttribute("position") as BufferAttribute;
    const normal = g.getAttribute("normal") as BufferAttribute;
    position.array = surface.positions;
    normal.array = normals;
    position.needsUpdate = normal.needsUpdate = true;
  }

  /** What is drawn: current parts show cage and points, others their surface alone. */
  style(options: { current: boolean; kind: PickKind; showCage: boolean; ratio: number; flat: boolean }): void {
    const smooth = this.mesh?.surface != null;
    this.faces.visible = !smooth;
    this.smooth.visible = smooth;
    const cage = options.current && options.showCage;
    this.edges.visible = !smooth || cage;
    set(this.edges.material, { alpha: options.current ? (smooth ? 0.75 : 1) : 0.55 });
    this.hiddenEdges.visible = cage && smooth;
    set(this.hiddenEdges.material, { alpha: 0.25, lift: 0 });
    this.points.visible = cage && options.kind === "vertices";
    set(this.points.material, { point: 5 * options.ratio });
    set(this.pickedPoints.material, { point: 9 * options.ratio });
    set(this.pickedFaces.material, { ratio: options.ratio });
    this.pickedFaces.material.depthTest = !smooth;
    for (const face of [this.faces, this.smooth]) set(face.material, { flatness: options.flat ? 0.55 : 0 });
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
    const lines = kind !== "vertices" && list.length > 0;
    for (const line of this.outline) line.visible = lines;
    this.outlineHidden.visible = lines;
    if (mesh === undefined || list.length === 0) return;
    if (kind === "vertices") {
      this.pickedPoints.geometry.setIndex([...list]);
    } else if (kind === "edges") {
      this.outlineGeometry.setIndex(list.flatMap((e) => [mesh.shape.edges[2 * e] as number, mesh.shape.edges[2 * e + 1] as number]));
    } else {
      const wanted = new Set(list);
      const index: number[] = [];
      const { triangles, triangleFace, offsets, corners } = mesh.shape;
      triangleFace.forEach((face, t) => {
        if (wanted.has(face)) index.push(triangles[3 * t] as number, triangles[3 * t + 1] as number, triangles[3 * t + 2] as number);
      });
      this.pickedFaces.geometry.setIndex(index);
      this.outlineGeometry.setIndex(outlineOf(list, offsets, corners, mesh.shape.vertexCount));
    }
  }

  /** The picking structure of what is on screen; made when first asked for after a change. */
  picking(): Hull | null {
    if (this.hull === null && this.mesh !== null) this.hull = new Hull(this.mesh.surface ?? this.mesh.cage);
    return this.hull;
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
    for (const object of this.group.children) {
      if (object instanceof Mesh || object instanceof LineSegments || object instanceof Points) {
        object.geometry.dispose();
        (object.material as ShaderMaterial).dispose();
      }
    }
  }
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

/** Area-weighted vertex normals for drawing a smooth surface. */
function vertexNormals(mesh: MeshData): Float32Array {
  const p = mesh.positions;
  const t = mesh.shape.triangles;
  const n = new Float32Array(p.length);
  for (let i = 0; i < t.length; i += 3) {
    const a = (t[i] as number) * 3;
    const b = (t[i + 1] as number) * 3;
    const c = (t[i + 2] as number) * 3;
    const ux = p[b]! - p[a]!, uy = p[b + 1]! - p[a + 1]!, uz = p[b + 2]! - p[a + 2]!;
    const vx = p[c]! - p[a]!, vy = p[c + 1]! - p[a + 1]!, vz = p[c + 2]! - p[a + 2]!;
    const x = uy * vz - uz * vy, y = uz * vx - ux * vz, z = ux * vy - uy * vx;
    n[a]! += x; n[a + 1]! += y; n[a + 2]! += z;
    n[b]! += x; n[b + 1]! += y; n[b + 2]! += z;
    n[c]! += x; n[c + 1]! += y; n[c + 2]! += z;
  }
  for (let i = 0; i < n.length; i += 3) {
    const size = Math.hypot(n[i]!, n[i + 1]!, n[i + 2]!) || 1;
    n[i]! /= size; n[i + 1]! /= size; n[i + 2]! /= size;
  }
  return n;
}
