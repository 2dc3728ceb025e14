import fc from 'fast-check';
import { attentionIn, attentionOf, attentiveTo, cropFor, movedCrop, type Pixels } from './attention';
import { differenceHash, hashDistance, ssim } from './likeness';

/** A dull picture with a bright figure of letters' detail somewhere in it. */
function pictureWith(width: number, height: number, figure: { x: number; y: number; size: number }): Pixels {
  const data = new Uint8Array(width * height * 3).fill(60);
  for (let y = 0; y < figure.size; y++) {
    for (let x = 0; x < figure.size; x++) {
      const at = ((figure.y + y) * width + figure.x + x) * 3;
      if ((x >> 1) % 2 === 0) data.set([235, 190, 60], at);
    }
  }
  return { data, width, height };
}

test('a crop keeps the figure, wherever it stands, and is as large as its shape allows', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 160 }), fc.integer({ min: 0, max: 80 }), fc.constantFrom(16 / 9, 2, 1, 0.5), (x, y, shape) => {
      const [width, height, size] = [200, 120, 30];
      const attention = attentionOf(pictureWith(width, height, { x, y, size }));
      const crop = cropFor(attention, width, height, shape);
      const figure = { x: x / width, y: y / height, width: size / width, height: size / height };
      expect(crop.x).toBeLessThanOrEqual(figure.x + 0.01);
      expect(crop.x + crop.width).toBeGreaterThanOrEqual(figure.x + figure.width - 0.01);
      expect(crop.y).toBeLessThanOrEqual(figure.y + 0.01);
      expect(crop.y + crop.height).toBeGreaterThanOrEqual(figure.y + figure.height - 0.01);
      expect(Math.abs((crop.width * width) / (crop.height * height) / shape - 1)).toBeLessThan(0.02);
      expect(Math.max(crop.width, crop.height)).toBeCloseTo(1);
    }),
    { numRuns: 60 },
  );
});

test('a picture that is alike everywhere is cropped in the middle, one of its own shape not at all', () => {
  const flat = attentionOf({ data: new Uint8Array(100 * 100 * 3).fill(90), width: 100, height: 100 });
  expect(cropFor(flat, 100, 100, 2)).toMatchObject({ x: 0, y: 0.25, width: 1, height: 0.5 });
  expect(cropFor(flat, 100, 100, 1)).toEqual({ x: 0, y: 0, width: 1, height: 1 });
});

test('a crop that is moved stays within its picture', () => {
  fc.assert(
    fc.property(fc.double({ min: -3, max: 3, noNaN: true }), fc.double({ min: -3, max: 3, noNaN: true }), (x, y) => {
      const moved = movedCrop({ x: 0.1, y: 0.2, width: 0.5, height: 0.6 }, x, y);
      expect(moved.x).toBeGreaterThanOrEqual(0);
      expect(moved.y + moved.height).toBeLessThanOrEqual(1 + 1e-9);
    }),
  );
});

test('what is written stays in, though something bright stands elsewhere', () => {
  const picture = pictureWith(200, 120, { x: 150, y: 40, size: 40 });
  const attention = attentionOf(picture);
  const words = { x: 0.02, y: 0.8, width: 0.3, height: 0.1 };
  expect(cropFor(attention, 200, 120, 1).x).toBeGreaterThan(0.3);
  expect(cropFor(attentiveTo(attention, 200, 120, [words]), 200, 120, 1).x).toBeLessThanOrEqual(0.02);
});

test('how much is looked at in a corner', () => {
  const attention = attentionOf(pictureWith(100, 100, { x: 75, y: 75, size: 20 }));
  expect(attentionIn(attention, 100, 100, { x: 0.7, y: 0.7, width: 0.3, height: 0.3 })).toBeGreaterThan(0.6);
  expect(attentionIn(attention, 100, 100, { x: 0, y: 0, width: 0.5, height: 0.5 })).toBeLessThan(0.1);
});

describe('likeness', () => {
  const random = (seed: number, length: number) =>
    Uint8Array.from({ length }, (_, at) => {
      let mixed = Math.imul(at + seed * 7919, 0x9e3779b1);
      mixed = Math.imul(mixed ^ (mixed >>> 15), 0x85ebca6b);
      return (mixed ^ (mixed >>> 13)) & 255;
    });

  test('is whole for the same picture, less the more noise there is, and least for another', () => {
    const picture = random(1, 64 * 64);
    const noisy = (amount: number) => picture.map((value, at) => Math.min(255, Math.max(0, value + ((at % 7) - 3) * amount)));
    expect(ssim(picture, picture, 64, 64)).toBeCloseTo(1);
    const [little, much] = [ssim(picture, noisy(2), 64, 64), ssim(picture, noisy(20), 64, 64)];
    expect(little).toBeGreaterThan(much);
    expect(little).toBeLessThan(1);
    expect(ssim(picture, random(99, 64 * 64), 64, 64)).toBeLessThan(0.3);
    expect(() => ssim(picture, picture.slice(1), 64, 64)).toThrow(RangeError);
  });

  test('hashes of the same picture are the same, of its negative wholly different', () => {
    const picture = random(3, 72);
    const hash = differenceHash(picture);
    expect(hash).toMatch(/^[0-9a-f]{16}$/);
    expect(hashDistance(hash, differenceHash(picture))).toBe(0);
    expect(hashDistance(hash, differenceHash(picture.map((value) => 255 - value)))).toBeGreaterThan(55);
  });
});
