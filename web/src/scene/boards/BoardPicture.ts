import { CanvasTexture, LinearFilter, LinearMipmapLinearFilter, SRGBColorSpace, Texture } from "three";

/** Up to so many pixels a side a picture is one texture. */
const WHOLE = 4096;
/** Of larger ones, a first look of so many pixels a side, and cells of full resolution where they are looked at. */
const FIRST = 2048;
const CELL = 1024;
const MOST_CELLS = 28;

export interface Cell {
  /** shares of the picture, from its lower left */
  readonly left: number;
  readonly lower: number;
  readonly right: number;
  readonly upper: number;
  readonly texture: Texture;
}

/** A picture as textures: whole, or in cells that come when a view is near enough to need them. */
export class BoardPicture {
  whole: Texture | null = null;
  /** height over width as it is seen */
  aspect = 1;
  private image: HTMLImageElement | null = null;
  private large = false;
  private readonly cells = new Map<string, Cell | null>();

  constructor(
    readonly sha256: string,
    private readonly changed: () => void,
  ) {
    void this.load();
  }

  private async load(): Promise<void> {
    const image = new Image();
    image.src = `/api/pictures/${this.sha256}`;
    try {
      await image.decode();
    } catch {
      return; // a picture that does not come leaves its outline
    }
    this.aspect = image.naturalHeight / image.naturalWidth;
    const side = Math.max(image.naturalWidth, image.naturalHeight);
    if (side <= WHOLE) this.whole = dress(new Texture(image), side > 1024);
    else {
      this.large = true;
      this.image = image;
      const scale = FIRST / side;
      const first = await createImageBitmap(image, { resizeWidth: Math.round(image.naturalWidth * scale), resizeHeight: Math.round(image.naturalHeight * scale), resizeQuality: "high", imageOrientation: "flipY" });
      this.whole = dress(flipped(first), true);
    }
    this.changed();
  }

  /**
   * Cells of full resolution for what is seen.
   * @param seen left, lower, right and upper share of the picture that is in sight
   * @param pixels how many pixels of the screen the picture's width takes
   */
  near(seen: readonly [number, number, number, number], pixels: number): Cell[] {
    const { image } = this;
    if (!this.large || image === null || this.whole === null) return [];
    const { naturalWidth: width, naturalHeight: height } = image;
    if (pixels <= FIRST * Math.min(1, width / height)) return [];
    const [nx, ny] = [Math.ceil(width / CELL), Math.ceil(height / CELL)];
    const clamp = (v: number, n: number) => Math.min(Math.max(Math.floor(v), 0), n - 1);
    const [i0, i1] = [clamp((seen[0] * width) / CELL, nx), clamp((seen[2] * width) / CELL, nx)];
    const [j0, j1] = [clamp(((1 - seen[3]) * height) / CELL, ny), clamp(((1 - seen[1]) * height) / CELL, ny)];
    if ((i1 - i0 + 1) * (j1 - j0 + 1) > MOST_CELLS) return [];
    const out: Cell[] = [];
    for (let j = j0; j <= j1; j++) {
      for (let i = i0; i <= i1; i++) {
        const cell = this.cell(image, i, j);
        if (cell !== null) out.push(cell);
      }
    }
    return out;
  }

  private cell(image: HTMLImageElement, i: number, j: number): Cell | null {
    const key = `${i},${j}`;
    const held = this.cells.get(key);
    if (held !== undefined) {
      this.cells.delete(key);
      this.cells.set(key, held); // looked at last
      return held;
    }
    this.cells.set(key, null);
    const { naturalWidth: width, naturalHeight: height } = image;
    const [x, y] = [i * CELL, j * CELL];
    const [w, h] = [Math.min(CELL, width - x), Math.min(CELL, height - y)];
    void createImageBitmap(image, x, y, w, h, { imageOrientation: "flipY" }).then((bitmap) => {
      this.cells.set(key, { left: x / width, right: (x + w) / width, upper: 1 - y / height, lower: 1 - (y + h) / height, texture: dress(flipped(bitmap), false) });
      while (this.cells.size > MOST_CELLS) {
        const [oldest] = this.cells.keys();
        this.cells.get(oldest as string)?.texture.dispose();
        this.cells.delete(oldest as string);
      }
      this.changed();
    });
    return null;
  }

  dispose(): void {
    this.whole?.dispose();
    for (const cell of this.cells.values()) cell?.texture.dispose();
  }
}

/** Of a bitmap that was turned over when it was made: the browser does not turn bitmaps over on their way to the card. */
function flipped(bitmap: ImageBitmap): Texture {
  const texture = new CanvasTexture(bitmap);
  texture.flipY = false;
  return texture;
}

function dress(texture: Texture, fine: boolean): Texture {
  texture.colorSpace = SRGBColorSpace;
  texture.generateMipmaps = fine;
  texture.minFilter = fine ? LinearMipmapLinearFilter : LinearFilter;
  texture.needsUpdate = true;
  return texture;
}
