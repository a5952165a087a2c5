import { DoubleSide, Group, LinearFilter, Matrix4, Mesh, MeshBasicMaterial, PlaneGeometry, SRGBColorSpace, TextureLoader, Vector3, type Box3, type Texture } from "three";

import type { Board } from "../api/client";
import { METRES, type ViewName } from "../state/store";
import type { Unit } from "../api/client";
import { BASES } from "./views";

/** How far behind the middle a board stands in a flat view, in metres; the grid stands behind it. */
const FAR = 400;

interface Shown {
  readonly mesh: Mesh<PlaneGeometry, MeshBasicMaterial>;
  aspect: number;
}

/** Reference pictures standing in the planes of their views. Nothing here is ever hit by a pick. */
export class Boards {
  readonly group = new Group();
  private shown = new Map<string, Shown>();
  private textures = new Map<string, Texture>();

  constructor(private readonly changed: () => void) {
    this.group.renderOrder = -10;
  }

  /** Show these boards for a view: flat views show their own, 3D shows all behind the model. `light` dims them at night. */
  update(boards: readonly Board[], unit: Unit, view: ViewName, model: Box3, moved: { id: string; at: [number, number] } | null, light: number): void {
    for (const [id, shown] of this.shown) {
      if (!boards.some((b) => b.id === id)) {
        this.group.remove(shown.mesh);
        shown.mesh.geometry.dispose();
        shown.mesh.material.dispose();
        this.shown.delete(id);
      }
    }
    boards.forEach((board, order) => {
      const shown = this.of(board);
      const flat = view !== "perspective";
      const side = board.view ?? "front";
      const stand = flat ? (board.stand ?? "behind") : "behind";
      shown.mesh.visible = !board.hidden && (!flat || side === view);
      const m = shown.mesh.material;
      // over the model it must let it be seen; as a ghost it only shows through
      m.opacity = (board.opacity ?? 0.6) * (stand === "ghost" ? 0.5 : 1);
      m.color.setScalar(light);
      m.depthTest = stand === "behind";
      m.side = DoubleSide;
      shown.mesh.renderOrder = (stand === "behind" ? -20 : 40) + order / 1000;
      shown.mesh.matrix.copy(this.matrix(board, unit, flat ? null : model, moved?.id === board.id ? moved.at : undefined, order));
      shown.mesh.matrixAutoUpdate = false;
      shown.mesh.updateMatrixWorld(true);
    });
  }

  private of(board: Board): Shown {
    const held = this.shown.get(board.id);
    if (held !== undefined) return held;
    const material = new MeshBasicMaterial({ transparent: true, depthWrite: false, toneMapped: false });
    const mesh = new Mesh(new PlaneGeometry(1, 1), material);
    mesh.geometry.translate(0, 0.5, 0);
    const shown: Shown = { mesh, aspect: 1 };
    this.shown.set(board.id, shown);
    this.group.add(mesh);
    const use = (texture: Texture) => {
      material.map = texture;
      material.needsUpdate = true;
      const image = texture.image as { width: number; height: number };
      shown.aspect = image.height / image.width;
      this.changed();
    };
    const known = this.textures.get(board.picture);
    if (known !== undefined) use(known);
    else {
      new TextureLoader().load(`/api/pictures/${board.picture}`, (texture) => {
        texture.colorSpace = SRGBColorSpace;
        texture.minFilter = LinearFilter;
        texture.generateMipmaps = false;
        this.textures.set(board.picture, texture);
        use(texture);
      });
    }
    return shown;
  }

  /** Lower middle of the unit square to where the board stands. It steps back behind the model: in 3D just so far, in a flat
   * view far enough. */
  private matrix(board: Board, unit: Unit, behind: Box3 | null, at: [number, number] | undefined, order: number): Matrix4 {
    const { right, up, eye } = BASES[board.view ?? "front"];
    const metres = METRES[unit];
    const [u, v] = at ?? board.at ?? [0, 0];
    const width = board.width * metres;
    const height = width * (this.shown.get(board.id)?.aspect ?? 1);
    const place = right.clone().multiplyScalar(u * metres).addScaledVector(up, v * metres);
    if (behind === null) place.addScaledVector(eye, -FAR + order / 1000);
    else if (!behind.isEmpty()) {
      const back = eye.clone().negate();
      const corner = new Vector3(back.x > 0 ? behind.max.x : behind.min.x, back.y > 0 ? behind.max.y : behind.min.y, back.z > 0 ? behind.max.z : behind.min.z);
      place.addScaledVector(back, Math.max(corner.dot(back), 0) + 0.25 * behind.getSize(new Vector3()).length());
    }
    return new Matrix4()
      .makeBasis(right.clone().multiplyScalar(width), up.clone().multiplyScalar(height), eye)
      .setPosition(place);
  }

  /** Corners of a board in the plane it belongs to, wherever views draw it; null until its picture is there. */
  standing(board: Board, metres: number): Vector3[] | null {
    const shown = this.shown.get(board.id);
    if (shown === undefined) return null;
    const { right, up } = BASES[board.view ?? "front"];
    const [u, v] = board.at ?? [0, 0];
    const [width, height] = [board.width * metres, board.width * metres * shown.aspect];
    return [[-0.5, 0], [0.5, 0], [0.5, 1], [-0.5, 1]].map(([x, y]) =>
      right.clone().multiplyScalar(u * metres + (x as number) * width).addScaledVector(up, v * metres + (y as number) * height));
  }

  /** Corners of a board in a flat view that shows it, else null; while it is moved, where it would stand. */
  outline(board: Board, view: ViewName, unit: Unit, moved: { id: string; at: [number, number] } | null): Vector3[] | null {
    if (board.hidden || (board.view ?? "front") !== view) return null;
    return this.standing(moved?.id === board.id ? { ...board, at: moved.at } : board, METRES[unit]);
  }
}
