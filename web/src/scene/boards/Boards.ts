import { type Box3, BufferAttribute, BufferGeometry, Color, DoubleSide, FrontSide, Group, Matrix4, Mesh, MeshBasicMaterial, type Texture, Vector3 } from "three";

import type { Board, Unit, View } from "../../api/client";
import { type BoardValues, cornersOf, cropOf, frameOf, inBuild, viewOf } from "../../model/places/boardPlane";
import { METRES, type ViewName } from "../../model/store";
import { BASES } from "../../model/views";
import type { Camera } from "../Camera";
import { BoardPicture } from "./BoardPicture";

/** How far behind the middle a board stands in a flat view, in metres; the grid stands behind it. */
const FAR = 400;

type Sheet = Mesh<BufferGeometry, MeshBasicMaterial>;

interface Shown {
  readonly group: Group;
  readonly sheets: Sheet[];
}

export interface MovedBoard {
  readonly id: string;
  readonly values: BoardValues;
}

/** Reference pictures standing in the planes of their views, or free. Nothing here is ever hit by a pick. */
export class Boards {
  readonly group = new Group();
  private shown = new Map<string, Shown>();
  private pictures = new Map<string, BoardPicture>();

  constructor(private readonly changed: () => void) {
    this.group.renderOrder = -10;
  }

  /** Show these boards in a view: flat views show their own and free ones, 3D shows all, behind the model. `light` dims them
   * at night. */
  update(boards: readonly Board[], unit: Unit, view: ViewName, camera: Camera, model: Box3, moved: MovedBoard | null, light: number): void {
    for (const [id, shown] of this.shown) if (!boards.some((b) => b.id === id)) this.drop(id, shown);
    boards.forEach((stored, order) => {
      const board = moved?.id === stored.id ? { ...stored, ...moved.values } : stored;
      const shown = this.of(board);
      const side = viewOf(board);
      const flat = view !== "perspective";
      shown.group.visible = !board.hidden && (!flat || side === null || side === view);
      if (!shown.group.visible) return;
      const metres = METRES[unit];
      const frame = frameOf(board, metres);
      const picture = this.pictureOf(board.picture);
      this.lay(shown, board, picture, camera, frame, metres);
      const place = this.aside(side, flat, model, order).multiply(frame).multiply(new Matrix4().makeScale(board.width * metres, board.width * metres, 1));
      shown.group.matrixAutoUpdate = false;
      shown.group.matrix.copy(place);
      shown.group.updateMatrixWorld(true);
      const stand = flat ? (board.stand ?? "behind") : "behind";
      shown.sheets.forEach((sheet, i) => {
        const m = sheet.material;
        // over the model it must let it be seen; as a ghost it only shows through
        m.opacity = (board.opacity ?? 0.6) * (stand === "ghost" ? 0.5 : 1);
        m.color.set(board.tint ? new Color(board.tint) : 0xffffff).multiplyScalar(light);
        m.depthTest = stand === "behind";
        m.side = board.one_sided ? FrontSide : DoubleSide;
        sheet.renderOrder = (stand === "behind" ? -20 : 40) + order / 1000 + i / 1e6;
      });
    });
    for (const [sha, picture] of this.pictures) {
      if (boards.some((b) => b.picture === sha)) continue;
      picture.dispose();
      this.pictures.delete(sha);
    }
  }

  dispose(): void {
    for (const [id, shown] of this.shown) this.drop(id, shown);
    for (const picture of this.pictures.values()) picture.dispose();
    this.pictures.clear();
  }

  private drop(id: string, shown: Shown): void {
    this.group.remove(shown.group);
    for (const sheet of shown.sheets) {
      sheet.geometry.dispose();
      sheet.material.dispose();
    }
    this.shown.delete(id);
  }

  private of(board: Board): Shown {
    let shown = this.shown.get(board.id);
    if (shown === undefined) {
      shown = { group: new Group(), sheets: [] };
      this.shown.set(board.id, shown);
      this.group.add(shown.group);
    }
    return shown;
  }

  pictureOf(sha256: string): BoardPicture {
    let picture = this.pictures.get(sha256);
    if (picture === undefined) {
      picture = new BoardPicture(sha256, this.changed);
      this.pictures.set(sha256, picture);
    }
    return picture;
  }

  /** The whole picture, and over it the cells of full resolution that the view is near enough to need. */
  private lay(shown: Shown, board: Board, picture: BoardPicture, camera: Camera, frame: Matrix4, metres: number): void {
    const crop = cropOf(board);
    const pieces: { part: readonly [number, number, number, number]; of: readonly [number, number, number, number]; texture: Texture | null }[] = [
      { part: crop, of: [0, 0, 1, 1], texture: picture.whole },
    ];
    const [seen, pixels] = inSight(board, picture.aspect, camera, frame, metres);
    for (const cell of picture.near(seen, pixels)) {
      const part = [Math.max(cell.left, crop[0]), Math.max(cell.lower, crop[1]), Math.min(cell.right, crop[2]), Math.min(cell.upper, crop[3])] as const;
      if (part[0] < part[2] && part[1] < part[3]) pieces.push({ part, of: [cell.left, cell.lower, cell.right, cell.upper], texture: cell.texture });
    }
    while (shown.sheets.length < pieces.length) {
      const sheet: Sheet = new Mesh(new BufferGeometry(), new MeshBasicMaterial({ transparent: true, depthWrite: false, toneMapped: false }));
      sheet.geometry.setIndex([0, 1, 2, 0, 2, 3]);
      sheet.frustumCulled = false;
      shown.sheets.push(sheet);
      shown.group.add(sheet);
    }
    shown.sheets.forEach((sheet, i) => {
      const piece = pieces[i];
      sheet.visible = piece?.texture != null;
      if (piece === undefined || piece.texture === null) return;
      const key = `${piece.part.join()} ${picture.aspect} ${piece.texture.id}`;
      if (sheet.userData["key"] === key) return;
      sheet.userData["key"] = key;
      const [l, b, r, t] = piece.part;
      const a = picture.aspect;
      sheet.geometry.setAttribute("position", new BufferAttribute(new Float32Array([l - 0.5, b * a, 0, r - 0.5, b * a, 0, r - 0.5, t * a, 0, l - 0.5, t * a, 0]), 3));
      const [x, y, x1, y1] = piece.of;
      const u = (v: number) => (v - x) / (x1 - x);
      const w = (v: number) => (v - y) / (y1 - y);
      sheet.geometry.setAttribute("uv", new BufferAttribute(new Float32Array([u(l), w(b), u(r), w(b), u(r), w(t), u(l), w(t)]), 2));
      const before = sheet.material.map;
      sheet.material.map = piece.texture;
      if (before === null) sheet.material.needsUpdate = true;
    });
  }

  /** A board of a view steps back behind the model: in 3D just so far, in a flat view far enough. */
  private aside(side: View | null, flat: boolean, model: Box3, order: number): Matrix4 {
    const out = new Matrix4();
    if (side === null) return out;
    const { eye } = BASES[side];
    const by = eye.clone();
    if (flat) by.multiplyScalar(-FAR + order / 1000);
    else if (model.isEmpty()) by.setScalar(0);
    else {
      const back = eye.clone().negate();
      const corner = new Vector3(back.x > 0 ? model.max.x : model.min.x, back.y > 0 ? model.max.y : model.min.y, back.z > 0 ? model.max.z : model.min.z);
      by.multiplyScalar(-(Math.max(corner.dot(back), 0) + 0.25 * model.getSize(new Vector3()).length()) + order / 1e5);
    }
    return out.setPosition(by);
  }

  /** Corners of what is shown of a board where it belongs, wherever views draw it; null until its picture is there. */
  standing(board: Board, metres: number): Vector3[] | null {
    const picture = this.pictures.get(board.picture);
    if (picture === undefined || picture.whole === null) return null;
    return cornersOf(board, picture.aspect).map((c) => inBuild(board, c, metres));
  }

  /** Height over width of a board's picture; 1 until it is there. */
  aspectOf(board: Board): number {
    return this.pictures.get(board.picture)?.aspect ?? 1;
  }

  /** Corners of a board in a view of its own, or any for one that stands free; else null; while it is moved, where it would stand. */
  outline(board: Board, view: ViewName, unit: Unit, moved: MovedBoard | null): Vector3[] | null {
    const own = viewOf(board);
    if (board.hidden || (own !== null && own !== view)) return null;
    return this.standing(moved?.id === board.id ? { ...board, ...moved.values } : board, METRES[unit]);
  }
}

/** What of a picture is in sight, as shares from its lower left, and how many pixels its width takes. */
function inSight(board: Board, aspect: number, camera: Camera, frame: Matrix4, metres: number): [[number, number, number, number], number] {
  const width = board.width * metres;
  const back = frame.clone().invert();
  const seen: [number, number, number, number] = [0, 0, 1, 1];
  if (camera.isFlat) {
    const ends = [camera.onPlane(0, camera.height), camera.onPlane(camera.width, 0)].map((p) => p.applyMatrix4(back));
    const share = (p: Vector3): [number, number] => [p.x / width + 0.5, p.y / (width * aspect)];
    const [a, b] = ends.map(share) as [[number, number], [number, number]];
    for (const k of [0, 1] as const) {
      seen[k] = Math.min(Math.max(Math.min(a[k], b[k]), 0), 1);
      seen[k + 2] = Math.min(Math.max(Math.max(a[k], b[k]), 0), 1);
    }
    if (board.turn) [seen[0], seen[1], seen[2], seen[3]] = [0, 0, 1, 1];
  }
  const middle = new Vector3(0, (width * aspect) / 2, 0).applyMatrix4(frame);
  return [seen, width / Math.max(camera.pixel(middle), 1e-12)];
}
