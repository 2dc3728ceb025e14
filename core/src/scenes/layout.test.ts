import fc from 'fast-check';
import { WAITING_COUNTDOWN } from '../artwork/compose';
import { instant } from '../time/instant';
import { COUNTDOWN_BOX, fitText, layOut, PROGRAMME, SAFE_MARGIN_PX, staysUntil, type Drawing, type Measure, type SceneContent } from './layout';

/** A face whose every character is half as wide as it is tall. */
const measure: Measure = (text, sizePx) => [...text].length * sizePx * 0.5;
const START = instant(Date.UTC(2026, 10, 26, 20, 30));
const content: SceneContent = {
  title: 'Dusk Report',
  stationName: 'Alderfell Sky Club',
  hostName: 'Maren Tolliver',
  strap: 'Alderfell Sky Club',
  waitingUrl: null,
  startsAt: START,
  zone: 'Europe/Dublin',
};
const texts = (drawings: Drawing[]) => drawings.filter((drawing) => drawing.kind === 'text');
const words = (drawings: Drawing[]) => texts(drawings).map(({ text }) => text);

test('the holding card counts down to the start and then says so', () => {
  expect(words(layOut('holding', content, instant(START - 61_000), measure))).toEqual(expect.arrayContaining(['01:01', 'We begin at 20:30 GMT']));
  expect(words(layOut('holding', content, instant(START - 1), measure))).toContain('00:01');
  expect(words(layOut('holding', content, START, measure))).toContain('We begin in a moment');
  // It does not say so for ever.
  const late = words(layOut('holding', content, instant(START + 7 * 60_000), measure));
  expect(late).toEqual(expect.arrayContaining(['We are a little late', 'Planned for 20:30 GMT, 7 min ago']));
  expect(words(layOut('holding', { ...content, begun: true }, instant(START + 7 * 60_000), measure))).toContain('A short pause');
});

test('the countdown has its place to itself', () => {
  const inBox = texts(layOut('holding', { ...content, title: 'A long evening '.repeat(20) }, instant(START - 3_600_000), measure)).filter(
    ({ y, sizePx }) => y > COUNTDOWN_BOX.y && y - sizePx < COUNTDOWN_BOX.y + COUNTDOWN_BOX.height,
  );
  expect(inBox.map(({ text }) => text)).toEqual(['1:00:00']);
});

test('a waiting picture says what the card would say: only the countdown is drawn on it, at the place that the picture keeps free', () => {
  const withPicture = { ...content, waitingUrl: '/waiting.jpg', title: 'Not written twice' };
  for (const toGo of [3_600_000, 61_000, 0, -7 * 60_000, -5 * 3_600_000]) {
    const drawings = layOut('holding', withPicture, instant(START - toGo), measure);
    expect(drawings[0]).toMatchObject({ kind: 'waiting picture', width: PROGRAMME.width, height: PROGRAMME.height });
    expect(words(drawings)).not.toContain('Not written twice');
    const free = WAITING_COUNTDOWN;
    for (const { text, x, y, sizePx, face } of texts(drawings)) {
      expect(x).toBeGreaterThanOrEqual(free.x * PROGRAMME.width);
      expect(x + measure(text, sizePx, face)).toBeLessThanOrEqual((free.x + free.width) * PROGRAMME.width);
      expect(y - sizePx * 0.75).toBeGreaterThanOrEqual(free.y * PROGRAMME.height);
      expect(y).toBeLessThanOrEqual((free.y + free.height) * PROGRAMME.height);
    }
  }
  // Other scenes know nothing of it.
  expect(layOut('host', withPicture, START, measure).some(({ kind }) => kind === 'waiting picture')).toBe(false);
});

test('scripts without spaces are broken between words, others never within one', () => {
  const fit = { widthPx: 300, lines: 3, largestPx: 60, smallestPx: 20, face: 'display' } as const;
  expect(fitText('星空観測の夜に集まる会', fit, measure).lines.length).toBeGreaterThan(1);
  expect(fitText('星空観測の夜に集まる会', fit, measure).lines.join('')).toBe('星空観測の夜に集まる会');
  expect(fitText('Dusk Report tonight', fit, measure).lines.join(' ')).toBe('Dusk Report tonight');
});

test('whatever is written stays inside the margins', () => {
  fc.assert(
    fc.property(
      fc.string({ maxLength: 400 }),
      fc.string({ maxLength: 200 }),
      fc.constantFrom('holding' as const, 'host' as const, 'beside' as const, 'line' as const),
      (title, hostName, scene) => {
        for (const { text, x, y, sizePx, face } of texts(layOut(scene, { ...content, title, hostName }, instant(START - 90_000), measure))) {
          expect(x).toBeGreaterThanOrEqual(SAFE_MARGIN_PX);
          expect(x + measure(text, sizePx, face)).toBeLessThanOrEqual(PROGRAMME.width - SAFE_MARGIN_PX);
          expect(y).toBeLessThanOrEqual(PROGRAMME.height - SAFE_MARGIN_PX);
          expect(y - sizePx).toBeGreaterThanOrEqual(0);
        }
      },
    ),
    { numRuns: 200, seed: 5 },
  );
});

test('a text shrinks before it is cut, and is cut with an ellipsis', () => {
  const fit = { widthPx: 400, lines: 1, largestPx: 60, smallestPx: 20, face: 'display' } as const;
  expect(fitText('Dusk', fit, measure)).toEqual({ sizePx: 60, lines: ['Dusk'] });
  expect(fitText('Dusk Report tonight', fit, measure).lines).toEqual(['Dusk Report tonight']);
  expect(fitText('Dusk Report '.repeat(12), fit, measure).lines[0]).toMatch(/…$/);
});

test('a scene that is not laid out anew before it has to be is never behind', () => {
  fc.assert(
    fc.property(
      fc.constantFrom('holding' as const, 'host' as const, 'beside' as const, 'line' as const),
      fc.boolean(),
      fc.integer({ min: -4 * 3_600_000, max: 4 * 3_600_000 }),
      fc.double({ min: 0, max: 0.999, noNaN: true }),
      (scene, begun, sinceStart, share) => {
        const now = instant(START + sinceStart);
        const shown = { ...content, begun };
        const until = staysUntil(scene, shown, now);
        expect(until).toBeGreaterThan(now);
        const later = instant(until === Infinity ? now + Math.floor(share * 86_400_000) : now + Math.floor(share * (until - now)));
        expect(layOut(scene, shown, later, measure)).toEqual(layOut(scene, shown, now, measure));
      },
    ),
    { seed: 20261126 },
  );
});

test('a countdown of weeks fits its place as one of minutes does', () => {
  for (const toGo of [90_000, 5 * 3_600_000, 646 * 3_600_000, 3_000 * 3_600_000]) {
    const [clock] = texts(layOut('holding', { ...content, waitingUrl: '/w' }, instant(START - toGo), measure));
    expect(measure(clock!.text, clock!.sizePx, 'display')).toBeLessThanOrEqual(COUNTDOWN_BOX.width);
  }
});

test('beside the line the host is seen as large as it, neither cut by the edge nor beneath the strap', () => {
  const drawings = layOut('beside', content, START, measure);
  const boxes = drawings.filter((drawing) => drawing.kind === 'camera' || drawing.kind === 'line');
  expect(boxes.map(({ kind }) => kind)).toEqual(['camera', 'line']);
  const [host, line] = boxes as [(typeof boxes)[0], (typeof boxes)[0]];
  expect([host!.width, host!.height]).toEqual([line!.width, line!.height]);
  expect(Math.abs(host!.width / host!.height - 16 / 9)).toBeLessThan(0.01);
  expect(host!.x + host!.width).toBeLessThan(line!.x);
  expect(line!.x + line!.width).toBeLessThanOrEqual(PROGRAMME.width);
  const plate = drawings.find((drawing) => drawing.kind === 'plate')!;
  expect(host!.y + host!.height).toBeLessThan((plate as { y: number }).y);
});
