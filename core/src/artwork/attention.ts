// Where the eye goes in a picture, and the crop of a given shape that keeps it. A measure of our own, cheap
// enough to run on every picture: what differs from the rest in colour, what is rich in edges as faces and
// letters are, and what has the colour of skin, blurred to the size at which people look.

/** A picture by rows, three bytes a pixel (red, green, blue). */
export interface Pixels {
  data: Uint8Array | Uint8ClampedArray;
  width: number;
  height: number;
}

/** A part of a picture, in parts of its width and height from the upper left corner. */
export interface Crop {
  x: number;
  y: number;
  width: number;
  height: number;
}

const EDGES = 1;
const RARITY = 0.9;
const SKIN = 0.5;
/** A cut word is worse than a cut shape. */
const WRITTEN = 3;

/** How much each pixel is looked at, from 0; by rows. For pictures of about 200 pixels: 40 thousand pixels take some 5 ms. */
export function attentionOf({ data, width, height }: Pixels): Float32Array {
  const count = width * height;
  const luma = new Float32Array(count);
  const mean: [number, number, number] = [0, 0, 0];
  for (let at = 0; at < count; at++) {
    const [r, g, b] = [data[at * 3]!, data[at * 3 + 1]!, data[at * 3 + 2]!];
    luma[at] = 0.299 * r + 0.587 * g + 0.114 * b;
    mean[0] += r / count;
    mean[1] += g / count;
    mean[2] += b / count;
  }
  const looked = new Float32Array(count);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const at = y * width + x;
      const [r, g, b] = [data[at * 3]!, data[at * 3 + 1]!, data[at * 3 + 2]!];
      const right = luma[y * width + Math.min(width - 1, x + 1)]! - luma[y * width + Math.max(0, x - 1)]!;
      const down = luma[Math.min(height - 1, y + 1) * width + x]! - luma[Math.max(0, y - 1) * width + x]!;
      const edge = Math.min(1, Math.hypot(right, down) / 255);
      const rarity = Math.min(1, Math.hypot(r - mean[0], g - mean[1], b - mean[2]) / 255);
      looked[at] = EDGES * edge + RARITY * rarity * rarity + SKIN * (isSkin(r, g, b) ? 1 : 0) * Math.min(1, rarity + 0.2);
    }
  }
  return blurred(looked, width, height, Math.max(1, Math.round(width / 40)));
}

/** Colours of skin of all tones, by the ratio of the channels rather than their height (Kovac et al. 2003, in short). */
function isSkin(r: number, g: number, b: number): boolean {
  return r > 60 && g > 30 && b > 15 && r > g && g > b * 0.8 && r - Math.min(g, b) > 15 && Math.abs(r - g) > 8 && r < 2.6 * g;
}

/** What is written is to be read whole: the attention, with far more where letters stand. */
export function attentiveTo(attention: Float32Array, width: number, height: number, boxes: readonly Crop[]): Float32Array {
  if (!boxes.length) return attention;
  const most = attention.reduce((high, value) => Math.max(high, value), 0);
  const more = Float32Array.from(attention);
  const letters = WRITTEN * most;
  for (const box of boxes) {
    const bottom = Math.min(height, Math.ceil((box.y + box.height) * height));
    const right = Math.min(width, Math.ceil((box.x + box.width) * width));
    for (let y = Math.max(0, Math.floor(box.y * height)); y < bottom; y++)
      for (let x = Math.max(0, Math.floor(box.x * width)); x < right; x++) more[y * width + x] = attention[y * width + x]! + letters;
  }
  return more;
}

/** A box blur in both directions, each in one pass with a running sum. */
function blurred(values: Float32Array, width: number, height: number, radius: number): Float32Array {
  const across = new Float32Array(values.length);
  const both = new Float32Array(values.length);
  const run = (from: Float32Array, to: Float32Array, lines: number, length: number, step: number, stride: number) => {
    for (let line = 0; line < lines; line++) {
      let sum = 0;
      for (let at = -radius; at < length; at++) {
        if (at + radius < length) sum += from[line * stride + (at + radius) * step]!;
        if (at - radius - 1 >= 0) sum -= from[line * stride + (at - radius - 1) * step]!;
        if (at >= 0) to[line * stride + at * step] = sum / (2 * radius + 1);
      }
    }
  };
  run(values, across, height, width, 1, width);
  run(across, both, width, height, width, 1);
  return both;
}

/**
 * The largest crop of `shape` (width over height) that keeps most of what is looked at. The picture's own edges cut nobody,
 * a crop's do: what lies right at the cut counts against it.
 */
export function cropFor(attention: Float32Array, width: number, height: number, shape: number): Crop {
  const wide = width / height > shape;
  const part = wide ? (shape * height) / width : width / shape / height;
  const length = wide ? width : height;
  const size = Math.max(1, Math.round(part * length));
  if (size >= length) return { x: 0, y: 0, width: 1, height: 1 };
  const profile = new Float64Array(length);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) profile[wide ? x : y]! += attention[y * width + x]!;
  const total = profile.reduce((sum, value) => sum + value, 0);
  // Nothing stands out: the middle is as good as any.
  if (total / (width * height) < 1e-4) return centred(part, wide);
  const sums = new Float64Array(length + 1);
  for (let at = 0; at < length; at++) sums[at + 1] = sums[at]! + profile[at]!;
  const margin = Math.max(1, Math.round(length / 30));
  let best = { from: Math.round((length - size) / 2), worth: -Infinity };
  for (let from = 0; from + size <= length; from++) {
    const kept = (sums[from + size]! - sums[from]!) / total;
    const at = (cut: number) => (cut <= 0 || cut >= length ? 0 : (sums[Math.min(length, cut + margin)]! - sums[Math.max(0, cut - margin)]!) / total);
    // Where all is alike the middle is as good as any, and looks best.
    const off = Math.abs(from + size / 2 - length / 2) / length;
    const worth = kept - 0.35 * (at(from) + at(from + size)) - 0.02 * off;
    if (worth > best.worth + 1e-9) best = { from, worth };
  }
  const start = best.from / length;
  return wide ? { x: start, y: 0, width: part, height: 1 } : { x: 0, y: start, width: 1, height: part };
}

function centred(part: number, wide: boolean): Crop {
  const start = (1 - part) / 2;
  return wide ? { x: start, y: 0, width: part, height: 1 } : { x: 0, y: start, width: 1, height: part };
}

/** The part of all attention that lies within `area`. */
export function attentionIn(attention: Float32Array, width: number, height: number, area: Crop): number {
  let within = 0;
  let total = 0;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const value = attention[y * width + x]!;
      total += value;
      if (x >= area.x * width && x < (area.x + area.width) * width && y >= area.y * height && y < (area.y + area.height) * height) within += value;
    }
  }
  return total ? within / total : 0;
}

/** `crop` moved by parts of the picture, and kept within it. */
export function movedCrop(crop: Crop, byX: number, byY: number): Crop {
  const within = (value: number, size: number) => Math.min(1 - size, Math.max(0, value));
  return { ...crop, x: within(crop.x + byX, crop.width), y: within(crop.y + byY, crop.height) };
}

/** By what a shape is kept: its ratio to three figures. */
export const shapeKey = (shape: number): string => shape.toFixed(3);
