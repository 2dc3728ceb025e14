import { CameraWatch, JUDGED, type CameraVerdict } from './camera';

const { width, height } = JUDGED;

/** A picture whose greys are said for each place. */
function picture(greyAt: (x: number, y: number) => number): Uint8ClampedArray {
  const rgba = new Uint8ClampedArray(width * height * 4);
  for (let at = 0; at < width * height; at++) rgba.fill(greyAt(at % width, Math.floor(at / width)), 4 * at, 4 * at + 4);
  return rgba;
}
const checks = (x: number, y: number) => ((Math.floor(x / 4) + Math.floor(y / 4)) % 2 ? 40 : -40);
const face = (x: number, y: number) => x > width * 0.33 && x < width * 0.67 && y > height * 0.25;

test.each<[CameraVerdict, (x: number, y: number) => number]>([
  ['good', (x, y) => 120 + checks(x, y)],
  ['very dark', (x, y) => 25 + checks(x, y) / 4],
  ['too bright', () => 240],
  ['backlit', (x, y) => (face(x, y) ? 60 : 220)],
  ['not sharp', (x) => 80 + x],
])('a camera is judged: %s', (verdict, greyAt) => {
  expect(new CameraWatch().look(picture(greyAt))).toBe(verdict);
});

test('a picture that stays the same to the last grey is frozen; one that flickers a little is not', () => {
  const [still, moving] = [new CameraWatch(), new CameraWatch()];
  const seen = Array.from({ length: 8 }, (_, at) => [
    still.look(picture((x, y) => 120 + checks(x, y))),
    moving.look(picture((x, y) => 120 + checks(x, y) + (x === at ? 1 : 0))),
  ]);
  expect(seen.map(([each]) => each)).toEqual(['good', 'good', 'good', 'good', 'frozen', 'frozen', 'frozen', 'frozen']);
  expect(new Set(seen.map(([, each]) => each))).toEqual(new Set(['good']));
});
