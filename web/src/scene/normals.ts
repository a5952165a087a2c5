import type { MeshData, Shape } from "../api/packets";

/** Points of a mesh as it is shaded: a vertex stands once for each run of faces that no hard edge divides. */
export interface Shaded {
  readonly positions: Float32Array;
  /** area-weighted, of any length: the shader makes them one long */
  readonly normals: Float32Array;
  readonly triangles: Uint32Array;
}

export function shaded(mesh: MeshData): Shaded {
  const { shadingVertex, shadingTriangles, triangles } = mesh.shape;
  if (shadingVertex.length > 0) {
    const positions = new Float32Array(shadingVertex.length * 3);
    const p = mesh.positions;
    for (let i = 0; i < shadingVertex.length; i++) {
      const v = shadingVertex[i]! * 3;
      positions[3 * i] = p[v]!;
      positions[3 * i + 1] = p[v + 1]!;
      positions[3 * i + 2] = p[v + 2]!;
    }
    return { positions, normals: ofFaces(positions, shadingTriangles, mesh.shape), triangles: shadingTriangles };
  }
  const quads = allQuads(mesh.shape);
  return { positions: mesh.positions, normals: quads ? ofQuads(mesh.positions, triangles) : ofFaces(mesh.positions, triangles, mesh.shape), triangles };
}

const QUADS = new WeakMap<Shape, boolean>();

/** Whether every face has four corners; as many triangles as that may be pentagons and triangles. */
function allQuads(shape: Shape): boolean {
  let known = QUADS.get(shape);
  if (known === undefined) {
    const { offsets, faceCount } = shape;
    known = offsets[faceCount] === 4 * faceCount;
    for (let f = 0; known && f < faceCount; f++) known = offsets[f + 1]! - offsets[f]! === 4;
    QUADS.set(shape, known);
  }
  return known;
}

/** Two triangles of a quad stand one after the other: half the work, by the cross product of its diagonals. */
function ofQuads(p: Float32Array, t: Uint32Array): Float32Array {
  const n = new Float32Array(p.length);
  for (let i = 0; i < t.length; i += 6) {
    const a = t[i]! * 3, b = t[i + 1]! * 3, c = t[i + 2]! * 3, d = t[i + 5]! * 3;
    const ux = p[c]! - p[a]!, uy = p[c + 1]! - p[a + 1]!, uz = p[c + 2]! - p[a + 2]!;
    const vx = p[d]! - p[b]!, vy = p[d + 1]! - p[b + 1]!, vz = p[d + 2]! - p[b + 2]!;
    const x = uy * vz - uz * vy, y = uz * vx - ux * vz, z = ux * vy - uy * vx;
    n[a]! += x; n[a + 1]! += y; n[a + 2]! += z;
    n[b]! += x; n[b + 1]! += y; n[b + 2]! += z;
    n[c]! += x; n[c + 1]! += y; n[c + 2]! += z;
    n[d]! += x; n[d + 1]! += y; n[d + 2]! += z;
  }
  return n;
}

/** Each corner of a face counts with the whole face, however it is cut into triangles: of a large flat face beside small ones no
 * corner leans. */
function ofFaces(p: Float32Array, t: Uint32Array, { triangleFace, faceCount }: Shape): Float32Array {
  const whole = new Float32Array(3 * faceCount);
  for (let i = 0, k = 0; i < t.length; i += 3, k++) {
    const a = t[i]! * 3, b = t[i + 1]! * 3, c = t[i + 2]! * 3, f = triangleFace[k]! * 3;
    const ux = p[b]! - p[a]!, uy = p[b + 1]! - p[a + 1]!, uz = p[b + 2]! - p[a + 2]!;
    const vx = p[c]! - p[a]!, vy = p[c + 1]! - p[a + 1]!, vz = p[c + 2]! - p[a + 2]!;
    whole[f]! += uy * vz - uz * vy; whole[f + 1]! += uz * vx - ux * vz; whole[f + 2]! += ux * vy - uy * vx;
  }
  const n = new Float32Array(p.length);
  for (let i = 0, k = 0; i < t.length; i += 3, k++) {
    const f = triangleFace[k]! * 3;
    const x = whole[f]!, y = whole[f + 1]!, z = whole[f + 2]!;
    for (let j = i; j < i + 3; j++) {
      const at = t[j]! * 3;
      n[at]! += x; n[at + 1]! += y; n[at + 2]! += z;
    }
  }
  return n;
}
