import { decode } from "@msgpack/msgpack";

import { asMeant, type Fault, own, Refused, Unreachable } from "./client";
import type { components } from "./schema";

type Wire = components["schemas"]["Packet"];
type Bytes<T> = { [K in keyof T]: K extends "digest" ? string : T[K] extends string | null ? Uint8Array | null : T[K] };
type WirePacket = Omit<Bytes<Wire>, "positions"> & { positions: Uint8Array };

/** Everything that depends on connectivity alone; shared by all packets of one digest. */
export interface Shape {
  readonly digest: string;
  readonly vertexCount: number;
  readonly faceCount: number;
  readonly offsets: Uint32Array;
  readonly corners: Uint32Array;
  readonly triangles: Uint32Array;
  readonly triangleFace: Uint32Array;
  readonly edges: Uint32Array;
  /** of a surface: the cage vertex each vertex is or is an image of, and the cage edge of each edge, −1 for none */
  readonly vertexCage: Int32Array;
  readonly edgeCage: Int32Array;
  /** points of shading: the vertex of each, and the triangles in them; empty where every vertex shades as one */
  readonly shadingVertex: Uint32Array;
  readonly shadingTriangles: Uint32Array;
}

export interface MeshData {
  readonly shape: Shape;
  /** metres, three per vertex */
  readonly positions: Float32Array;
  readonly vertexIds: BigUint64Array | null;
  readonly faceIds: BigUint64Array | null;
  /** places on the texture square, two per corner, NaN for none; null of surfaces, and where nothing is laid out */
  readonly uv: Float32Array | null;
}

/** A part as it is shown. */
export interface Shown {
  readonly cage: MeshData;
  readonly surface: MeshData | null;
  readonly triangles: number;
}

export interface PartMesh extends Shown {
  readonly facesBefore: number | null;
  readonly facesAfter: number | null;
  /** what there is to say of a trial, and how many vertices give way to others in it */
  readonly notes: readonly string[];
  readonly merges: number;
  /** of a trial with soft selection: the cage vertices that follow, and how far */
  readonly soft: { readonly vertex: Uint32Array; readonly weight: Float32Array } | null;
  /** of a trial: other parts that follow it, by their ids */
  readonly others: Readonly<Record<string, Shown>>;
}

interface WireShown {
  cage: WirePacket;
  surface: WirePacket | null;
  triangles: number;
}

interface WirePart extends WireShown {
  faces_before: number | null;
  faces_after: number | null;
  notes: string[];
  merges: number;
  soft: { vertex: Uint8Array; weight: Uint8Array } | null;
  others: Record<string, WireShown>;
}

const NONE = new Uint32Array(0);
const MOST_SHAPES = 24;

/** Copies bytes so that they are aligned for typed arrays. */
function aligned(bytes: Uint8Array): ArrayBuffer {
  return bytes.slice().buffer as ArrayBuffer;
}

function words(bytes: Uint8Array | null): Uint32Array {
  return bytes === null ? NONE : new Uint32Array(aligned(bytes));
}

/** Keeps index buffers by digest, so that a drag sends positions only. */
export class ShapeStore {
  private shapes = new Map<string, Shape>();

  have(): string[] {
    return [...this.shapes.keys()];
  }

  private shapeOf(wire: WirePacket, role: string): Shape {
    const key = wire.digest;
    const held = this.shapes.get(key);
    if (held !== undefined && wire.triangles === null) {
      this.shapes.delete(key);
      this.shapes.set(key, held);
      return held;
    }
    if (wire.triangles === null) throw new Error(`the ${role}'s connectivity did not come along`);
    const shape: Shape = {
      digest: key,
      vertexCount: wire.vertex_count,
      faceCount: wire.face_count,
      offsets: words(wire.offsets),
      corners: words(wire.corners),
      triangles: words(wire.triangles),
      triangleFace: words(wire.triangle_face),
      edges: words(wire.edges),
      vertexCage: new Int32Array(words(wire.vertex_cage).buffer),
      edgeCage: new Int32Array(words(wire.edge_cage).buffer),
      shadingVertex: words(wire.shading_vertex),
      shadingTriangles: words(wire.shading_triangles),
    };
    this.shapes.set(key, shape);
    while (this.shapes.size > MOST_SHAPES) this.shapes.delete(this.shapes.keys().next().value as string);
    return shape;
  }

  private mesh(wire: WirePacket, role: string): MeshData {
    return {
      shape: this.shapeOf(wire, role),
      positions: new Float32Array(aligned(wire.positions)),
      vertexIds: wire.vertex_ids === null ? null : new BigUint64Array(aligned(wire.vertex_ids)),
      faceIds: wire.face_ids === null ? null : new BigUint64Array(aligned(wire.face_ids)),
      uv: wire.uv === null ? null : new Float32Array(aligned(wire.uv)),
    };
  }

  private shown(wire: WireShown): Shown {
    return {
      cage: this.mesh(wire.cage, "cage"),
      surface: wire.surface === null ? null : this.mesh(wire.surface, "surface"),
      triangles: wire.triangles,
    };
  }

  /** Parts that follow others, by their ids. */
  readOthers(bytes: ArrayBuffer): Record<string, Shown> {
    const { others } = decode(new Uint8Array(bytes)) as Pick<WirePart, "others">;
    return Object.fromEntries(Object.entries(others).map(([id, other]) => [id, this.shown(other)]));
  }

  read(bytes: ArrayBuffer): PartMesh {
    const wire = decode(new Uint8Array(bytes)) as WirePart;
    return {
      ...this.shown(wire),
      facesBefore: wire.faces_before,
      facesAfter: wire.faces_after,
      notes: wire.notes,
      merges: wire.merges,
      soft: wire.soft === null ? null : { vertex: words(wire.soft.vertex), weight: new Float32Array(aligned(wire.soft.weight)) },
      others: Object.fromEntries(Object.entries(wire.others).map(([id, other]) => [id, this.shown(other)])),
    };
  }
}

export async function fetchPacked(path: string, body?: unknown, signal?: AbortSignal): Promise<ArrayBuffer> {
  let response: Response;
  try {
    response = asMeant(
      await fetch(
        path,
        body === undefined
          ? { headers: own(), signal: signal ?? null }
          : {
              method: "POST",
              body: JSON.stringify(body),
              headers: { "Content-Type": "application/json", ...own() },
              signal: signal ?? null,
            },
      ),
    );
  } catch (error) {
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    throw new Unreachable("the server cannot be reached");
  }
  if (!response.ok) {
    const fault = (await response.json().catch(() => null)) as Fault | null;
    if (response.status === 503) throw new Unreachable(fault?.message ?? "the database is away");
    throw new Refused(response.status, fault ?? { code: "fault", message: `status ${response.status}` });
  }
  return response.arrayBuffer();
}

/** An id as the API writes it. */
export function hex(id: bigint): string {
  return id.toString(16).padStart(16, "0");
}
