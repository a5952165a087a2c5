import "./page";

import { readFileSync } from "node:fs";

import { Matrix4 } from "three";

import type { Build, KindInfo, Part } from "../src/api/client";
import type { MeshData, PartMesh } from "../src/api/packets";
import type { PaneLook } from "../src/model/prefs";
import { editor, type ViewName } from "../src/model/store";
import { Camera, FlatFrame } from "../src/scene/Camera";
import type { Sight } from "../src/scene/hit";
import { PartView } from "../src/scene/PartView";

/** The step kinds as the core tells them; the tests' caller writes them down. */
export function kinds(): KindInfo[] {
  return (JSON.parse(readFileSync(process.env["RHYTONIC_KINDS"] as string, "utf8")) as { kinds: KindInfo[] }).kinds;
}

/** A mesh from its points and polygons, with ids that tell the element: 100 + vertex, 200 + face. */
export function mesh(points: readonly (readonly number[])[], faces: readonly (readonly number[])[]): MeshData {
  const edges = new Map<string, [number, number]>();
  const triangles: number[] = [];
  const triangleFace: number[] = [];
  faces.forEach((face, f) => {
    face.forEach((a, i) => {
      const b = face[(i + 1) % face.length] as number;
      edges.set([Math.min(a, b), Math.max(a, b)].join(), [Math.min(a, b), Math.max(a, b)]);
      if (i > 0 && i + 1 < face.length) {
        triangles.push(face[0] as number, a, face[i + 1] as number);
        triangleFace.push(f);
      }
    });
  });
  const none = new Uint32Array(0);
  return {
    shape: {
      digest: JSON.stringify(faces),
      vertexCount: points.length,
      faceCount: faces.length,
      offsets: new Uint32Array([0, ...faces.map((_, i) => faces.slice(0, i + 1).reduce((n, x) => n + x.length, 0))]),
      corners: new Uint32Array(faces.flat()),
      triangles: new Uint32Array(triangles),
      triangleFace: new Uint32Array(triangleFace),
      edges: new Uint32Array([...edges.values()].flat()),
      vertexCage: new Int32Array(0),
      edgeCage: new Int32Array(0),
      shadingVertex: none,
      shadingTriangles: none,
    },
    positions: new Float32Array(points.flat()),
    vertexIds: BigUint64Array.from(points, (_, i) => BigInt(100 + i)),
    faceIds: BigUint64Array.from(faces, (_, i) => BigInt(200 + i)),

    uv: null,
  };
}

/** The six faces of a box, in the order −x +x −y +y −z +z. */
export const BOX_FACES = [[0, 1, 3, 2], [4, 6, 7, 5], [0, 4, 5, 1], [2, 3, 7, 6], [0, 2, 6, 4], [1, 5, 7, 3]];

/** A box between two corners: vertex 4·x + 2·y + z. */
export function box(low: readonly number[], high: readonly number[]): MeshData {
  const points = [0, 1].flatMap((i) => [0, 1].flatMap((j) => [0, 1].map((k) => [[low, high][i]![0]!, [low, high][j]![1]!, [low, high][k]![2]!])));
  return mesh(points, BOX_FACES);
}

export function partMesh(cage: MeshData): PartMesh {
  return { cage, surface: null, triangles: cage.shape.triangles.length / 3, facesBefore: null, facesAfter: null, notes: [], merges: 0, soft: null, others: {} };
}

/** An editor with parts of given cages, as the server would have told it. */
export function open(cages: Record<string, MeshData>, more: Partial<Part> = {}): Map<string, PartView> {
  const parts = Object.keys(cages).map((id) => ({ id, name: id, steps: [{ id: "box1", kind: "box", size: [1, 1, 1] }], ...more }) as unknown as Part);
  const build = { id: "b1", revision: 1, undo: null, redo: null, name: "Quay", parts: [], document: { format: "rhytonic", version: 1, unit: "m", parts } } as unknown as Build;
  const meshes = Object.fromEntries(Object.entries(cages).map(([id, cage]) => [id, { key: "k", mesh: partMesh(cage) }]));
  editor.set({ kinds: kinds(), build, meshes, current: Object.keys(cages)[0] ?? null, pick: null, session: null, lastPick: null, section: null, pickKind: "faces" });
  return new Map(Object.entries(cages).map(([id, cage]) => [id, viewOf(cage)]));
}

export function viewOf(cage: MeshData, at = new Matrix4()): PartView {
  const view = new PartView();
  view.show(partMesh(cage));
  view.place(at);
  return view;
}

const LOOK: PaneLook = { shading: "solid", showing: "cage", edges: true };

/** A flat view 200 × 200 pixels wide about the origin, one centimetre a pixel: x = 100 + 100·across, y = 100 − 100·up. */
export function seen(parts: ReadonlyMap<string, PartView>, view: ViewName = "front", through = false): Sight {
  const frame = new FlatFrame();
  frame.centre.set(0, 0, 0);
  frame.size = 0.01;
  const camera = new Camera(frame);
  camera.look(view);
  camera.resize(200, 200);
  return { parts, camera, look: LOOK, section: null, current: editor.get().current, through };
}
