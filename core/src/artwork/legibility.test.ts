import fc from 'fast-check';
import { lettersIn } from './find-lettering';
import { contrastRatio, rgbOf, type Rgb } from '../drawing/colours';
import { contrastBehind, letteringTroubles, readableFromPx, type Lettering } from './legibility';

const anyRgb = fc.tuple(fc.integer({ min: 0, max: 255 }), fc.integer({ min: 0, max: 255 }), fc.integer({ min: 0, max: 255 })) as fc.Arbitrary<Rgb>;

test('contrast is that of the guidelines: known pairs, the same both ways, from 1 to 21', () => {
  expect(contrastRatio([0, 0, 0], [255, 255, 255])).toBeCloseTo(21);
  // Grey 118 on white is the darkest grey that just misses, 119 the usual example of 4.48.
  expect(contrastRatio([119, 119, 119], [255, 255, 255])).toBeCloseTo(4.48, 2);
  fc.assert(
    fc.property(anyRgb, anyRgb, (a, b) => {
      expect(contrastRatio(a, b)).toBeCloseTo(contrastRatio(b, a));
      expect(contrastRatio(a, b)).toBeGreaterThanOrEqual(1);
    }),
  );
});

test('only colours are read as colours', () => {
  expect(rgbOf('#0C2227')).toEqual([12, 34, 39]);
  expect(() => rgbOf('red')).toThrow(RangeError);
});

test('what lies behind letters is judged by its worse part, and only where the letters stand', () => {
  const [width, height] = [100, 50];
  const data = new Uint8Array(width * height * 3).fill(20);
  for (let y = 0; y < height; y++) for (let x = 70; x < width; x++) data.set([250, 250, 250], (y * width + x) * 3);
  const white: Rgb = [255, 255, 255];
  expect(contrastBehind({ data, width, height }, { x: 0.1, y: 0.2, width: 0.5, height: 0.4 }, white)).toBeGreaterThan(14);
  expect(contrastBehind({ data, width, height }, { x: 0.4, y: 0.2, width: 0.5, height: 0.4 }, white)).toBeLessThan(1.2);
});

test('a line is too small where people meet it, or too pale, and a title is allowed less contrast than small letters', () => {
  const line = (change: Partial<Lettering>): Lettering => ({ box: { x: 0, y: 0, width: 1, height: 1 }, cap: 0.06, contrast: 12, title: true, ...change });
  expect(letteringTroubles(line({}))).toEqual([]);
  expect(readableFromPx(line({ cap: 0.06 }))).toBe(100);
  expect(letteringTroubles(line({ cap: 6 / 211 }))).toEqual(['small']);
  expect(letteringTroubles(line({ cap: 6 / 211, title: false }))).toEqual([]);
  expect(letteringTroubles(line({ contrast: 3.5 }))).toEqual([]);
  expect(letteringTroubles(line({ contrast: 3.5, title: false }))).toEqual(['pale']);
});

describe('letters are found', () => {
  const [width, height] = [640, 360];
  const canvas = (fill: Rgb) => {
    const data = new Uint8Array(width * height * 3);
    for (let at = 0; at < width * height; at++) data.set(fill, at * 3);
    const rect = (x: number, y: number, across: number, down: number, colour: Rgb) => {
      for (let row = y; row < y + down; row++) for (let column = x; column < x + across; column++) data.set(colour, (row * width + column) * 3);
    };
    return { data, rect };
  };
  /** Block letters: a stem, a bar and a foot, of `cap` pixels, as many as there is room for. */
  const write = ({ rect }: ReturnType<typeof canvas>, x: number, y: number, cap: number, count: number, colour: Rgb) => {
    const stroke = Math.max(2, Math.round(cap / 6));
    for (let letter = 0; letter < count; letter++) {
      const left = x + Math.round(letter * cap * 0.95);
      rect(left, y, stroke, cap, colour);
      rect(left, y, Math.round(cap * 0.6), stroke, colour);
      if (letter % 2) rect(left, y + cap - stroke, Math.round(cap * 0.6), stroke, colour);
    }
  };

  test.each([
    ['light on dark', [16, 32, 31], [250, 248, 240]],
    ['dark on light', [240, 236, 220], [20, 40, 44]],
  ] as [string, Rgb, Rgb][])('%s, with their height and contrast', (_name, ground, ink) => {
    const picture = canvas(ground);
    write(picture, 40, 100, 48, 9, ink);
    write(picture, 40, 200, 14, 16, ink);
    const found = lettersIn({ data: picture.data, width, height });
    expect(found).toHaveLength(2);
    expect(Math.abs(found[0]!.cap * width - 48)).toBeLessThanOrEqual(2);
    expect(Math.abs(found[1]!.cap * width - 14)).toBeLessThanOrEqual(2);
    expect(found.map(({ title }) => title)).toEqual([true, false]);
    expect(found[0]!.contrast / contrastRatio(ground, ink)).toBeGreaterThan(0.9);
    expect(found[0]!.box.x).toBeCloseTo(40 / width, 2);
  });

  test('and not where there are stars, hills or nothing', () => {
    const picture = canvas([10, 24, 30]);
    for (let star = 0; star < 140; star++) picture.rect((star * 397) % 630, (star * star * 31) % 220, 1 + (star % 3), 1 + (star % 3), [240, 240, 230]);
    picture.rect(0, 250, 640, 110, [30, 60, 66]);
    picture.rect(300, 200, 90, 60, [90, 130, 130]);
    expect(lettersIn({ data: picture.data, width, height })).toEqual([]);
    expect(lettersIn({ data: canvas([90, 90, 90]).data, width, height })).toEqual([]);
  });
});
