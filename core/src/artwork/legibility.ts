// Whether what is written on a picture will be read where people meet it: how large its letters are there, and how
// far they stand out from the very pixels behind them.
import { luminance, ratio, type Rgb } from '../drawing/colours';
import type { Crop, Pixels } from './attention';

/** How wide viewers meet a picture: alone in a list, in a row of others, beside another one. Pixels. */
export const MET_AT_PX = [360, 210, 120] as const;

/** Capitals of fewer pixels are guessed rather than read. */
export const LEAST_CAP_PX = 6;
/** The height of capitals in parts of the size, of both faces. */
export const CAP_HEIGHT = 0.68;

/** WCAG 2.2, 1.4.3: 3 for large letters, 4.5 for others. */
export const LEAST_CONTRAST = { title: 3, other: 4.5 } as const;

/** The title must be read in a row of others; what is smaller where a picture stands alone. */
const READ_BY_PX = { title: 210, other: 360 } as const;

/**
 * How far letters of colour `ink` stand out from what lies behind them: the ratio that nine of ten pixels of `box` reach.
 * `behind` is the picture without the letters.
 */
export function contrastBehind(behind: Pixels, box: Crop, ink: Rgb): number {
  const own = luminance(ink);
  const ratios: number[] = [];
  const left = Math.max(0, Math.floor(box.x * behind.width));
  const right = Math.min(behind.width, Math.ceil((box.x + box.width) * behind.width));
  const bottom = Math.min(behind.height, Math.ceil((box.y + box.height) * behind.height));
  for (let y = Math.max(0, Math.floor(box.y * behind.height)); y < bottom; y++) {
    for (let x = left; x < right; x++) {
      const at = (y * behind.width + x) * 3;
      ratios.push(ratio(own, luminance([behind.data[at]!, behind.data[at + 1]!, behind.data[at + 2]!])));
    }
  }
  if (!ratios.length) return 1;
  ratios.sort((a, b) => a - b);
  return ratios[Math.floor(ratios.length / 10)]!;
}

/** A line of letters on a picture. */
export interface Lettering {
  /** Where it stands, in parts of the picture. */
  box: Crop;
  /** The height of its capitals in parts of the picture's width. */
  cap: number;
  /** Against what lies behind it, by WCAG's formula. */
  contrast: number;
  /** Whether it is the title, as far as is known: the largest line. */
  title: boolean;
}

/** The least width of the picture, in pixels, at which a line can be read. */
export const readableFromPx = ({ cap }: Pick<Lettering, 'cap'>): number => Math.ceil(LEAST_CAP_PX / cap);

export type LetteringTrouble = 'small' | 'pale';

/** What is wrong with a line at the sizes at which people meet it. */
export function letteringTroubles(line: Lettering): LetteringTrouble[] {
  const troubles: LetteringTrouble[] = [];
  const kind = line.title ? 'title' : 'other';
  if (readableFromPx(line) > READ_BY_PX[kind]) troubles.push('small');
  if (line.contrast < LEAST_CONTRAST[kind]) troubles.push('pale');
  return troubles;
}
