import { isCurve, partNamed } from "../document/parts";
import { type EditorState, METRES, partsOf, unitOf, type Values } from "../store";

type Flat = readonly [number, number];

/** Points of what a sweep carries, in its own x and y and the unit of the build; none where it is not known. */
function outlineOf(state: EditorState, profile: unknown): Flat[] {
  if (typeof profile === "string") {
    const part = partNamed(partsOf(state), profile);
    const mesh = part?.id == null || !isCurve(part, partsOf(state), state.kinds) ? undefined : state.meshes[part.id]?.mesh;
    const positions = (mesh?.surface ?? mesh?.cage)?.positions ?? new Float32Array();
    const metres = METRES[unitOf(state)];
    return Array.from({ length: positions.length / 3 }, (_, i) => [(positions[3 * i] as number) / metres, (positions[3 * i + 1] as number) / metres]);
  }
  const given = profile as { readonly circle?: number; readonly rectangle?: Flat };
  const [x, y] = given.rectangle === undefined ? [given.circle ?? 0, given.circle ?? 0] : [given.rectangle[0] / 2, given.rectangle[1] / 2];
  return [[-x, -y], [x, -y], [x, y], [-x, y]];
}

/** Where a profile may be held by the path: as it is drawn, in the middle, at a corner of its box. */
export const HOLDS = ["as drawn", "middle", "lower left", "lower right", "upper right", "upper left"] as const;
export type HeldAt = (typeof HOLDS)[number];

/** The offset of a sweep by which its profile is held somewhere; it is mirrored first, then turned, then moved. */
export function offsetFor(state: EditorState, values: Values, held: HeldAt): [number, number] {
  if (held === "as drawn") return [0, 0];
  const turn = (Number(values["turn"] ?? 0) * Math.PI) / 180;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const placed = outlineOf(state, values["profile"]).map(([x, y]) => (values["mirrored"] === true ? [-x, y] as const : [x, y] as const)).map(([x, y]) => [c * x - s * y, s * x + c * y] as const);
  if (placed.length === 0) return [0, 0];
  const [low, high] = [Math.min, Math.max].map((f) => [f(...placed.map((p) => p[0])), f(...placed.map((p) => p[1]))] as const) as [Flat, Flat];
  const x = held === "middle" ? (low[0] + high[0]) / 2 : held.endsWith("left") ? low[0] : high[0];
  const y = held === "middle" ? (low[1] + high[1]) / 2 : held.startsWith("lower") ? low[1] : high[1];
  return [Number((-x).toPrecision(6)) + 0, Number((-y).toPrecision(6)) + 0]; // places come in single precision
}

/** Where it is held now, as far as that can be told. */
export function heldAt(state: EditorState, values: Values): HeldAt | null {
  const [x, y] = (values["offset"] ?? [0, 0]) as unknown as Flat;
  return HOLDS.find((held) => offsetFor(state, values, held).every((v, k) => Math.abs(v - (k === 0 ? x : y)) < 1e-6)) ?? null;
}
