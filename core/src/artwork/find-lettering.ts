// Finds lines of letters in a finished picture, so that a picture made elsewhere can be judged like one made here.
// Letters are patches that differ from what is around them, are alike in height, stand on one line close to each
// other, and are drawn with strokes of one width. No reading: only where, how high and how plain.
import type { Crop, Pixels } from './attention';
import { luminance } from '../drawing/colours';
import type { Lettering } from './legibility';

/** The widths that this is made for: letters of a title are then 10 to 80 pixels high. */
export const LETTERING_WIDTH_PX = 640;

const AROUND_PX = 14;
const LEAST_DIFFERENCE = 26;
const LEAST_HEIGHT_PX = 5;
const MOST_PARTS = 6_000;
const LEAST_LETTERS = 4;

interface Patch {
  left: number;
  top: number;
  right: number;
  bottom: number;
  count: number;
  edge: number;
  /** Sum of relative luminance. */
  light: number;
}

const height = ({ top, bottom }: Patch): number => bottom - top + 1;
const width = ({ left, right }: Patch): number => right - left + 1;
/** The mean width of the strokes: each has two edges. */
const stroke = ({ count, edge }: Patch): number => (2 * count) / Math.max(1, edge);

/** Lines of letters, the largest first. Patterns that look like letters are rare, not impossible. */
export function lettersIn(picture: Pixels): Lettering[] {
  const brightness = brightnessOf(picture);
  const around = meanAround(brightness, picture.width, picture.height, AROUND_PX);
  const lines = [1, -1].flatMap((polarity) => {
    const inside = new Uint8Array(brightness.length);
    for (let at = 0; at < inside.length; at++) inside[at] = (brightness[at]! - around[at]!) * polarity > LEAST_DIFFERENCE ? 1 : 0;
    const patches = patchesOf(inside, picture).filter((patch) => looksLikeALetter(patch, picture));
    return linesOf(patches).map((letters) => letteringOf(letters, inside, picture));
  });
  const own = withoutEchoes(lines);
  const largest = Math.max(0, ...own.map(({ cap }) => cap));
  return own.map((line) => ({ ...line, title: line.cap === largest })).sort((a, b) => b.cap - a.cap);
}

/** The gaps between letters are patches too, of the other polarity; what stands out most at a place are the letters. */
function withoutEchoes(lines: Lettering[]): Lettering[] {
  const kept: Lettering[] = [];
  for (const line of [...lines].sort((a, b) => b.contrast - a.contrast)) {
    if (!kept.some((other) => shared(line.box, other.box) > 0.5)) kept.push(line);
  }
  return kept;
}

/** How much of the smaller of two boxes lies within the other. */
function shared(a: Crop, b: Crop): number {
  const across = Math.min(a.x + a.width, b.x + b.width) - Math.max(a.x, b.x);
  const down = Math.min(a.y + a.height, b.y + b.height) - Math.max(a.y, b.y);
  return (Math.max(0, across) * Math.max(0, down)) / Math.min(a.width * a.height, b.width * b.height);
}

function brightnessOf({ data, width: across, height: down }: Pixels): Float32Array {
  const brightness = new Float32Array(across * down);
  for (let at = 0; at < brightness.length; at++) brightness[at] = 0.299 * data[at * 3]! + 0.587 * data[at * 3 + 1]! + 0.114 * data[at * 3 + 2]!;
  return brightness;
}

/** The mean of the square around each pixel, by a table of sums. */
function meanAround(values: Float32Array, across: number, down: number, radius: number): Float32Array {
  const sums = new Float64Array((across + 1) * (down + 1));
  for (let y = 0; y < down; y++) {
    let line = 0;
    for (let x = 0; x < across; x++) {
      line += values[y * across + x]!;
      sums[(y + 1) * (across + 1) + x + 1] = sums[y * (across + 1) + x + 1]! + line;
    }
  }
  const means = new Float32Array(values.length);
  for (let y = 0; y < down; y++) {
    const [top, bottom] = [Math.max(0, y - radius), Math.min(down, y + radius + 1)];
    for (let x = 0; x < across; x++) {
      const [left, right] = [Math.max(0, x - radius), Math.min(across, x + radius + 1)];
      const sum =
        sums[bottom * (across + 1) + right]! - sums[top * (across + 1) + right]! - sums[bottom * (across + 1) + left]! + sums[top * (across + 1) + left]!;
      means[y * across + x] = sum / ((bottom - top) * (right - left));
    }
  }
  return means;
}

/** Connected patches of what is inside, by eight neighbours. `inside` keeps 1 for pixels of patches. */
function patchesOf(inside: Uint8Array, { data, width: across, height: down }: Pixels): Patch[] {
  const seen = new Uint8Array(inside.length);
  const patches: Patch[] = [];
  const stack: number[] = [];
  for (let start = 0; start < inside.length && patches.length < MOST_PARTS; start++) {
    if (!inside[start] || seen[start]) continue;
    const patch: Patch = { left: across, top: down, right: 0, bottom: 0, count: 0, edge: 0, light: 0 };
    stack.push(start);
    seen[start] = 1;
    while (stack.length) {
      const at = stack.pop()!;
      const x = at % across;
      const y = (at - x) / across;
      patch.left = Math.min(patch.left, x);
      patch.right = Math.max(patch.right, x);
      patch.top = Math.min(patch.top, y);
      patch.bottom = Math.max(patch.bottom, y);
      patch.count += 1;
      patch.light += luminance([data[at * 3]!, data[at * 3 + 1]!, data[at * 3 + 2]!]);
      if (x === 0 || !inside[at - 1] || x === across - 1 || !inside[at + 1] || y === 0 || !inside[at - across] || y === down - 1 || !inside[at + across])
        patch.edge += 1;
      for (let dy = -1; dy <= 1; dy++) {
        for (let dx = -1; dx <= 1; dx++) {
          const [nx, ny] = [x + dx, y + dy];
          const next = ny * across + nx;
          if (nx < 0 || ny < 0 || nx >= across || ny >= down || seen[next] || !inside[next]) continue;
          seen[next] = 1;
          stack.push(next);
        }
      }
    }
    patches.push(patch);
  }
  return patches;
}

function looksLikeALetter(patch: Patch, picture: Pixels): boolean {
  const [across, down] = [width(patch), height(patch)];
  if (down < LEAST_HEIGHT_PX || down > picture.height / 3 || across > 2.6 * down || across < 0.08 * down) return false;
  const fill = patch.count / (across * down);
  return fill > 0.14 && fill < 0.95 && stroke(patch) < 0.5 * down;
}

/** Patches that stand beside each other like the letters of a line. */
function linesOf(patches: Patch[]): Patch[][] {
  const sorted = [...patches].sort((a, b) => a.left - b.left);
  const lines: Patch[][] = [];
  for (const patch of sorted) {
    const near = lines.filter((line) => follows(line.at(-1)!, patch));
    // The line whose last letter is nearest.
    near.sort((a, b) => b.at(-1)!.right - a.at(-1)!.right);
    if (near[0]) near[0].push(patch);
    else lines.push([patch]);
  }
  return lines.filter(isALine);
}

function follows(last: Patch, next: Patch): boolean {
  const [a, b] = [height(last), height(next)];
  const gap = next.left - last.right;
  const overlap = Math.min(last.bottom, next.bottom) - Math.max(last.top, next.top);
  return gap < 0.95 * Math.max(a, b) && gap > -0.4 * Math.max(a, b) && Math.max(a, b) < 2.1 * Math.min(a, b) && overlap > 0.5 * Math.min(a, b);
}

function isALine(letters: Patch[]): boolean {
  if (letters.length < LEAST_LETTERS) return false;
  const heights = letters.map(height).sort((a, b) => a - b);
  const middle = heights[heights.length >> 1]!;
  // Most letters stand on the line; some go beneath it.
  const bottoms = letters.map(({ bottom }) => bottom).sort((a, b) => a - b);
  const base = bottoms[bottoms.length >> 1]!;
  const standing = letters.filter(({ bottom }) => Math.abs(bottom - base) <= Math.max(1, 0.16 * middle)).length;
  const strokes = letters.map(stroke);
  const mean = strokes.reduce((sum, value) => sum + value, 0) / strokes.length;
  const spread = Math.sqrt(strokes.reduce((sum, value) => sum + (value - mean) ** 2, 0) / strokes.length);
  return standing >= 0.6 * letters.length && spread < 0.45 * mean;
}

function letteringOf(letters: Patch[], inside: Uint8Array, picture: Pixels): Lettering {
  const left = Math.min(...letters.map((letter) => letter.left));
  const right = Math.max(...letters.map((letter) => letter.right));
  const top = Math.min(...letters.map((letter) => letter.top));
  const bottom = Math.max(...letters.map((letter) => letter.bottom));
  const heights = letters.map(height).sort((a, b) => a - b);
  // Capitals and what reaches as high: the upper third.
  const cap = heights[Math.floor(heights.length * 0.72)]!;
  const counted = letters.reduce((sum, { count }) => sum + count, 0);
  const ink = letters.reduce((sum, { light }) => sum + light, 0) / counted;
  let [behind, pixels] = [0, 0];
  for (let y = top; y <= bottom; y++) {
    for (let x = left; x <= right; x++) {
      const at = y * picture.width + x;
      if (inside[at]) continue;
      behind += luminance([picture.data[at * 3]!, picture.data[at * 3 + 1]!, picture.data[at * 3 + 2]!]);
      pixels += 1;
    }
  }
  const ground = pixels ? behind / pixels : ink;
  return {
    box: { x: left / picture.width, y: top / picture.height, width: (right - left + 1) / picture.width, height: (bottom - top + 1) / picture.height },
    cap: cap / picture.width,
    contrast: (Math.max(ink, ground) + 0.05) / (Math.min(ink, ground) + 0.05),
    title: false,
  };
}
