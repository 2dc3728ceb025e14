// What a camera shows, judged from a small grey picture of it: light, sharpness, and whether it moves at all.

/** The size in which pictures are judged. */
export const JUDGED = { width: 96, height: 54 } as const;

export type CameraVerdict = 'good' | 'very dark' | 'too bright' | 'backlit' | 'not sharp' | 'frozen';

/** Greys from 0 to 255. */
const DARK_BELOW = 45;
const BRIGHT_ABOVE = 215;
/** Whoever sits before a window is so much darker than what is around them. */
const BACKLIT_BY = 70;
/** The variance of the Laplacian below which nothing in a picture has an edge (a usual measure of focus; Pech-Pacheco et al., 2000). */
const SHARP_FROM = 18;
/** Cameras are never quite still: so many pictures that are the same to the last grey are one picture. */
const FROZEN_AFTER = 4;

/** Looks at one picture after the other, some second apart. */
export class CameraWatch {
  private before: Uint8Array | null = null;
  private same = 0;

  /** `rgba`: JUDGED.width by JUDGED.height pixels of four bytes, row by row. */
  look(rgba: Uint8ClampedArray): CameraVerdict {
    const { width, height } = JUDGED;
    const grey = new Uint8Array(width * height);
    // Rec. 709 luma, in whole numbers.
    for (let at = 0; at < grey.length; at++) grey[at] = (54 * rgba[4 * at]! + 183 * rgba[4 * at + 1]! + 19 * rgba[4 * at + 2]!) >> 8;
    this.same = this.before?.every((value, at) => value === grey[at]) ? this.same + 1 : 0;
    this.before = grey;
    if (this.same >= FROZEN_AFTER) return 'frozen';
    return verdictOf(grey, width, height);
  }
}

function verdictOf(grey: Uint8Array, width: number, height: number): CameraVerdict {
  let [inner, innerCount, outer, outerCount] = [0, 0, 0, 0];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      // Where somebody sits who fills a picture; and beside and above them.
      const middle = x > width * 0.33 && x < width * 0.67 && y > height * 0.25;
      if (middle) [inner, innerCount] = [inner + grey[y * width + x]!, innerCount + 1];
      else if (y < height * 0.75) [outer, outerCount] = [outer + grey[y * width + x]!, outerCount + 1];
    }
  }
  const [face, around] = [inner / innerCount, outer / outerCount];
  const mean = (inner + outer) / (innerCount + outerCount);
  if (around - face > BACKLIT_BY && face < 110) return 'backlit';
  if (mean < DARK_BELOW) return 'very dark';
  if (mean > BRIGHT_ABOVE) return 'too bright';
  return edges(grey, width, height) < SHARP_FROM ? 'not sharp' : 'good';
}

/** The variance of the Laplacian. */
function edges(grey: Uint8Array, width: number, height: number): number {
  let [sum, squares, count] = [0, 0, 0];
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1; x < width - 1; x++) {
      const at = y * width + x;
      const value = 4 * grey[at]! - grey[at - 1]! - grey[at + 1]! - grey[at - width]! - grey[at + width]!;
      sum += value;
      squares += value * value;
      count += 1;
    }
  }
  return squares / count - (sum / count) ** 2;
}
