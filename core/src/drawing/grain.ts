// Skies are drawn in bytes: between two of the few steps that a dark one has, an edge is seen from afar. A grain finer than a step takes it away,
// and is fine enough not to be seen itself.

/** The farthest that a byte is moved: wide enough to outlive a JPEG of good quality and a key frame. */
const GRAIN = 2.6;

/**
 * Lays a grain over a picture, in place: triangular noise (two throws), the same for the same picture, alike on its first three channels so that no
 * colour comes in. `data`: bytes, `channels` for each pixel; a fourth one is left alone.
 */
export function addGrain(data: Uint8Array | Uint8ClampedArray, channels: number): void {
  const coloured = channels < 3 ? channels : 3;
  let state = 0x2545f491;
  for (let pixel = 0; pixel < data.length; pixel += channels) {
    // Xorshift (Marsaglia, 2003): fast, and nobody sees its patterns.
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    const noise = ((state & 0xffff) + ((state >>> 16) & 0xffff)) / 0xffff - 1;
    // Rounded without calling anything: there are millions of them.
    const moved = ((noise * GRAIN + 256.5) | 0) - 256;
    for (let at = pixel; at < pixel + coloured; at++) {
      const value = data[at]! + moved;
      data[at] = value < 0 ? 0 : value > 255 ? 255 : value;
    }
  }
}
