import fc from 'fast-check';
import { mixed } from '../drawing/colours';
import type { Measure } from '../drawing/drawing';
import { contrastRatio, rgbOf } from '../drawing/colours';
import { composePicture, PICTURE_LAYOUTS, WAITING_COUNTDOWN, type PictureDrawing, type PictureFacts, type PictureRecipe, type PictureText } from './compose';

const PALETTE = { ground: '#0c2227', ink: '#fbf8f0', accent: '#e7cf9a' };
/** Half a size for each character: coarse, but the same for everybody. */
const measure: Measure = (text, sizePx) => [...text].length * sizePx * 0.5;
const RECIPE: PictureRecipe = {
  ...{ layout: 'horizon', background: { kind: 'colour' }, lookId: null, title: '', when: 'day and time', line: '', portraits: true, mark: true },
};
const FACTS: PictureFacts = { title: 'Dusk Report', when: 'Thursday 3 December, 20:30 GMT', line: '', stationName: 'Alderfell Sky Club', guests: [] };

const texts = (drawings: PictureDrawing[]) => drawings.filter((drawing): drawing is PictureText => drawing.kind === 'text');
/** Where the letters of a line stand. */
const inkOf = (text: PictureText) => ({
  left: text.x,
  right: text.x + measure(text.text, text.sizePx, text.face),
  top: text.y - text.sizePx * 0.75,
  bottom: text.y + text.sizePx * 0.24,
});

const words = fc
  .array(fc.constantFrom('sky', 'fell', 'observers', 'Lantern', 'a', 'occultation', '星空観測', 'of', 'ভোর'), { minLength: 1, maxLength: 14 })
  .map((list) => list.join(' '));
const anyFacts = fc.record({
  title: words,
  when: fc.constantFrom('', 'Thursday 3 December', 'Wednesday 30 September, 20:30 GMT+5:30'),
  line: fc.oneof(fc.constant(''), words),
  stationName: words,
  guests: fc.array(fc.record({ name: words }), { maxLength: 6 }),
});
const anySize = fc.constantFrom({ width: 1280, height: 720 }, { width: 1920, height: 960 }, { width: 640, height: 360 });

describe.each(PICTURE_LAYOUTS)('layout %s', (layout) => {
  test('whatever is written stays within the margins, clear of the length badge, and line under line', () => {
    fc.assert(
      fc.property(anyFacts, anySize, fc.boolean(), (facts, size, waiting) => {
        const drawn = texts(composePicture({ ...RECIPE, layout }, facts, PALETTE, { ...size, waiting }, measure));
        const margin = 0.04 * size.width;
        for (const text of drawn) {
          const { left, right, top, bottom } = inkOf(text);
          expect(left).toBeGreaterThanOrEqual(margin);
          expect(right).toBeLessThanOrEqual(size.width - margin);
          expect(top).toBeGreaterThanOrEqual(0);
          expect(bottom).toBeLessThanOrEqual(size.height - 0.04 * size.height);
          expect(right > size.width * 0.8 && bottom > size.height * 0.84).toBe(false);
        }
        const lines = drawn.filter(({ role }) => role !== 'station');
        lines.slice(1).forEach((line, at) => expect(inkOf(line).top).toBeGreaterThan(lines[at]!.y - 0.01 * size.height));
      }),
      { numRuns: 100 },
    );
  });

  test('a waiting picture keeps the countdown’s place free of words and portraits', () => {
    fc.assert(
      fc.property(anyFacts, anySize, (facts, size) => {
        const drawn = composePicture({ ...RECIPE, layout }, facts, PALETTE, { ...size, waiting: true }, measure);
        const place = {
          left: WAITING_COUNTDOWN.x * size.width,
          right: (WAITING_COUNTDOWN.x + WAITING_COUNTDOWN.width) * size.width,
          top: WAITING_COUNTDOWN.y * size.height,
        };
        const bottom = place.top + WAITING_COUNTDOWN.height * size.height;
        const boxes = drawn.flatMap((drawing) =>
          drawing.kind === 'text'
            ? [inkOf(drawing)]
            : drawing.kind === 'portrait'
              ? [{ left: drawing.x, right: drawing.x + drawing.width, top: drawing.y, bottom: drawing.y + drawing.height }]
              : [],
        );
        for (const box of boxes) {
          const apart = box.right <= place.left || box.left >= place.right || box.bottom <= place.top + 1 || box.top >= bottom;
          expect(apart).toBe(true);
        }
      }),
      { numRuns: 100 },
    );
  });

  test('portraits hide no words, and not each other', () => {
    fc.assert(
      fc.property(anyFacts, anySize, fc.boolean(), (facts, size, waiting) => {
        const drawn = composePicture({ ...RECIPE, layout }, facts, PALETTE, { ...size, waiting }, measure);
        const faces = drawn.filter((drawing) => drawing.kind === 'portrait');
        expect(faces).toHaveLength(Math.min(4, facts.guests.length));
        for (const text of texts(drawn)) {
          const { left, right, top, bottom } = inkOf(text);
          for (const { x, y, width, height } of faces) expect(right <= x || left >= x + width || bottom <= y || top >= y + height).toBe(true);
        }
        faces.slice(1).forEach(({ x }, at) => expect(x).toBeGreaterThanOrEqual(faces[at]!.x + faces[at]!.width * 0.9));
      }),
      { numRuns: 100 },
    );
  });
});

test('the countdown can be read in every look, in its own colours, whatever lies behind the words', () => {
  const light = { ground: '#fdf3d7', ink: '#12343a', accent: '#a8401f' };
  for (const layout of PICTURE_LAYOUTS) {
    for (const palette of [PALETTE, light]) {
      const drawn = composePicture({ ...RECIPE, layout }, FACTS, palette, { width: 1280, height: 720, waiting: true }, measure);
      // At each corner of the place, over a picture that could not be worse.
      for (const x of [WAITING_COUNTDOWN.x, WAITING_COUNTDOWN.x + WAITING_COUNTDOWN.width - 0.001]) {
        for (const y of [WAITING_COUNTDOWN.y + 0.01, WAITING_COUNTDOWN.y + WAITING_COUNTDOWN.height - 0.001]) {
          const worst = palette === light ? '#000000' : '#ffffff';
          expect(contrastRatio(rgbOf(groundAt(drawn, x * 1280, y * 720, worst)), rgbOf(palette.ink))).toBeGreaterThan(4.5);
        }
      }
    }
  }
});

/** What is seen at a point of a drawing whose pictures are all of one colour. A shade reaches 0 %, 72 % and 100 % of its strength at 0, 55 and 100 % of the way. */
function groundAt(drawn: readonly PictureDrawing[], x: number, y: number, picture: string): string {
  return drawn.reduce((seen, drawing) => {
    if (drawing.kind === 'text' || drawing.kind === 'mark' || drawing.kind === 'portrait' || drawing.kind === 'crawl' || drawing.kind === 'code') return seen;
    if (x < drawing.x || x > drawing.x + drawing.width || y < drawing.y || y > drawing.y + drawing.height) return seen;
    if (drawing.kind === 'picture') {
      const [across, down] = [(x - drawing.x) / drawing.width - 0.5, (y - drawing.y) / drawing.height - 0.5];
      return drawing.shape === 'ellipse' && Math.hypot(across, down) > 0.5 ? seen : picture;
    }
    if (drawing.kind === 'plate') return mixed(seen, drawing.colour, drawing.opacity);
    const way = drawing.towards === 'left' ? 1 - (x - drawing.x) / drawing.width : (y - drawing.y) / drawing.height;
    const strength = way < 0.55 ? (way / 0.55) * 0.72 : 0.72 + ((way - 0.55) / 0.45) * 0.28;
    return mixed(seen, drawing.colour, drawing.opacity * strength);
  }, picture);
}

test('few words are written large, and more words smaller', () => {
  const sizeOf = (title: string) =>
    texts(composePicture(RECIPE, { ...FACTS, title }, PALETTE, { width: 1280, height: 720 }, measure)).find(({ role }) => role === 'title')!.sizePx;
  expect(sizeOf('Dusk Report')).toBeGreaterThan(110);
  expect(sizeOf('The long night of the new moon, from dusk to dawn')).toBeLessThan(sizeOf('Dusk Report'));
});

test('what the recipe leaves out is not drawn', () => {
  const bare = composePicture(
    { ...RECIPE, mark: false, portraits: false },
    { ...FACTS, when: '', guests: [{ name: 'Tomasz Wren' }] },
    PALETTE,
    { width: 1280, height: 720 },
    measure,
  );
  expect(bare.some(({ kind }) => kind === 'portrait' || kind === 'mark')).toBe(false);
  expect(texts(bare).map(({ role }) => role)).toEqual(['title']);
});
