// What is worked out from the colours of a look.

export type Rgb = readonly [number, number, number];

/** `#rrggbb` as three bytes. Throws RangeError on anything else. */
export function rgbOf(colour: string): Rgb {
  const found = /^#([0-9a-f]{2})([0-9a-f]{2})([0-9a-f]{2})$/i.exec(colour);
  if (!found) throw new RangeError(`${colour} is not a colour such as #10201f`);
  return [parseInt(found[1]!, 16), parseInt(found[2]!, 16), parseInt(found[3]!, 16)];
}

/** WCAG 2.2, relative luminance, 0 to 1. */
export function luminance([r, g, b]: Rgb): number {
  return 0.2126 * LINEAR[r]! + 0.7152 * LINEAR[g]! + 0.0722 * LINEAR[b]!;
}

const LINEAR = Float64Array.from({ length: 256 }, (_, byte) => {
  const part = byte / 255;
  return part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4;
});

/** WCAG 2.2, contrast ratio, 1 to 21. */
export function contrastRatio(a: Rgb, b: Rgb): number {
  return ratio(luminance(a), luminance(b));
}

/** The same of two luminances. */
export const ratio = (a: number, b: number): number => (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05);

/** `share` of the way from one colour to another, 0 to 1. */
export function mixed(from: string, to: string, share: number): string {
  const [a, b] = [rgbOf(from), rgbOf(to)];
  return `#${a
    .map((part, at) =>
      Math.round(part + (b[at]! - part) * share)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
}

/** Whether letters on it have to be light. */
export const isDark = (colour: string): boolean => luminance(rgbOf(colour)) < 0.18;
