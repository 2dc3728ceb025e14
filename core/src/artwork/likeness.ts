// How alike two pictures are: to the eye after compression (SSIM), and as pictures (a hash of differences).

const C1 = (0.01 * 255) ** 2;
const C2 = (0.03 * 255) ** 2;
const WINDOW = 8;
const STEP = 4;

/**
 * The mean structural similarity of two pictures of the same size by their brightness, 1 where they are the same
 * (Wang, Bovik, Sheikh and Simoncelli 2004, with windows of 8×8 in steps of 4). `a` and `b` hold one byte a pixel, by rows.
 */
export function ssim(a: Uint8Array, b: Uint8Array, width: number, height: number): number {
  if (a.length !== width * height || b.length !== a.length) throw new RangeError('both pictures must have this size');
  let sum = 0;
  let windows = 0;
  for (let top = 0; top + WINDOW <= height; top += STEP) {
    for (let left = 0; left + WINDOW <= width; left += STEP) {
      let [sa, sb, saa, sbb, sab] = [0, 0, 0, 0, 0];
      for (let y = top; y < top + WINDOW; y++) {
        for (let at = y * width + left, end = at + WINDOW; at < end; at++) {
          const p = a[at]!;
          const q = b[at]!;
          sa += p;
          sb += q;
          saa += p * p;
          sbb += q * q;
          sab += p * q;
        }
      }
      const n = WINDOW * WINDOW;
      const [ma, mb] = [sa / n, sb / n];
      const [va, vb, cov] = [saa / n - ma * ma, sbb / n - mb * mb, sab / n - ma * mb];
      sum += ((2 * ma * mb + C1) * (2 * cov + C2)) / ((ma * ma + mb * mb + C1) * (va + vb + C2));
      windows += 1;
    }
  }
  return windows ? sum / windows : 1;
}

/** What a rendition should keep of its picture. */
export const SSIM_GOOD = 0.97;

/** A difference hash of 64 bits as hexadecimal text, from a picture of 9×8 pixels of one byte each, by rows. */
export function differenceHash(pixels: Uint8Array): string {
  if (pixels.length !== 72) throw new RangeError('a picture of 9 by 8 pixels is needed');
  let hash = '';
  for (let row = 0; row < 8; row++) {
    let byte = 0;
    for (let column = 0; column < 8; column++) byte = (byte << 1) | (pixels[row * 9 + column]! < pixels[row * 9 + column + 1]! ? 1 : 0);
    hash += byte.toString(16).padStart(2, '0');
  }
  return hash;
}

/** In how many of 64 bits two hashes differ. */
export function hashDistance(a: string, b: string): number {
  let distance = 0;
  for (let at = 0; at < Math.max(a.length, b.length); at++) {
    let bits = parseInt(a[at] ?? '0', 16) ^ parseInt(b[at] ?? '0', 16);
    for (; bits; bits &= bits - 1) distance += 1;
  }
  return distance;
}

/** Pictures that differ in fewer bits are hardly told apart when small. */
export const HARDLY_TOLD_APART = 4;
