import type { Build, FindingInfo, KindInfo } from "../../api/client";
import type { PartMesh } from "../../api/packets";

export interface SaveState {
  readonly kind: "saved" | "saving" | "waiting";
  readonly message: string | null;
}

/** What the server told of the build, and whether it has all that was done. */
export interface Held {
  kinds: KindInfo[];
  build: Build | null;
  meshes: Record<string, { key: string; mesh: PartMesh }>;
  /** what inspection found in each part, for the mesh its key names; asked for after the answer to a change */
  findings: Record<string, { readonly key: string; readonly found: readonly FindingInfo[] }>;
  /** distances that inspection goes by, in metres */
  limits: { readonly doubled: number; readonly thin: number };
  save: SaveState;
}

export const HELD: Held = {
  kinds: [],
  build: null,
  meshes: {},
  findings: {},
  limits: { doubled: 1e-5, thin: 1e-4 },
  save: { kind: "saved", message: null },
};
