import fc from 'fast-check';
import { contrastRatio, rgbOf } from '../drawing/colours';
import { OWN_PALETTE, type Measure } from '../drawing/drawing';
import { instant } from '../time/instant';
import { STRAP_STYLES } from '../looks/look';
import { addressIn, drawGraphic, graphicAfter, GRAPHIC_KINDS, groundOf, isStale, type ShownGraphic } from './graphics';
import { layOut, type SceneContent } from './layout';
import { FIRST_SCENES, sceneOf } from './scene';
import { PROGRAMME, SAFE_MARGIN_PX } from '../drawing/programme';

const measure: Measure = (text, sizePx) => [...text].length * sizePx * 0.5;
const SINCE = instant(Date.UTC(2026, 10, 26, 20, 40));
const shown = (kind: ShownGraphic['kind'], text = 'Send us your times', more = 'alderfell.example/times'): ShownGraphic => ({
  id: 'a',
  kind,
  text,
  more,
  since: SINCE,
});
const person = (name: string) => ({ name, caption: '', seen: true });
const content = (graphic: ShownGraphic | null): SceneContent => ({
  ...{ title: 'Dusk Report', stationName: 'Alderfell Sky Club', waiting: null, startsAt: SINCE, zone: 'Europe/Dublin', begun: true, palette: OWN_PALETTE },
  seated: { host: person('Maren Tolliver'), 'guest 1': person('Tomasz Wren'), 'guest 2': person('Juno Hartsel') },
  graphic,
});

test('whatever is written in a graphic stays inside the margins and upon its own ground', () => {
  const anyText = fc.oneof(fc.string({ maxLength: 300 }), fc.constantFrom('שלום לכם', 'نص من اليمين', 'ש'.repeat(200)));
  fc.assert(
    fc.property(fc.constantFrom(...GRAPHIC_KINDS, 'question' as const), anyText, anyText, fc.boolean(), (kind, text, more, besideRoom) => {
      const drawings = drawGraphic(shown(kind, text, more), OWN_PALETTE, besideRoom, measure);
      const ground = groundOf(drawings)!;
      expect(ground.x).toBeGreaterThanOrEqual(SAFE_MARGIN_PX);
      expect(ground.x + ground.width).toBeLessThanOrEqual(PROGRAMME.width - SAFE_MARGIN_PX);
      expect(ground.y + ground.height).toBeLessThanOrEqual(PROGRAMME.height - SAFE_MARGIN_PX);
      for (const drawing of drawings) {
        if (drawing.kind !== 'text') continue;
        expect(drawing.x).toBeGreaterThanOrEqual(ground.x);
        expect(drawing.x + measure(drawing.text, drawing.sizePx, drawing.face)).toBeLessThanOrEqual(ground.x + ground.width);
        expect(drawing.y).toBeLessThanOrEqual(ground.y + ground.height);
        expect(drawing.y - drawing.sizePx * 0.8).toBeGreaterThanOrEqual(ground.y);
      }
    }),
    { numRuns: 300, seed: 11 },
  );
});

test('a graphic takes the place of a name that would stand beneath it, and of no other', () => {
  const words = (scene: string, graphic: ShownGraphic | null) =>
    layOut(sceneOf(FIRST_SCENES, scene)!, content(graphic), SINCE, measure).flatMap((drawing) => (drawing.kind === 'text' ? [drawing.text] : []));
  expect(words('host', null)).toEqual(['Maren Tolliver']);
  expect(words('host', shown('call'))).toEqual(['Send us your times', 'alderfell.example/times']);
  // At the side it leaves the name where it is.
  expect(words('host', shown('list', 'Tonight', 'Saturn\nThe comet'))).toEqual(['Maren Tolliver', 'Tonight', 'Saturn', 'The comet']);
  // Where several are seen there is no side: everything in one band, and names above it stay.
  expect(words('together', shown('list', 'Tonight', 'Saturn\nThe comet'))).toEqual(expect.arrayContaining(['Maren Tolliver', 'Tonight', 'Saturn · The comet']));
  // Cards say what they say.
  expect(words('closing', shown('call'))).not.toContain('Send us your times');
});

test('a call can be read as a name can: what is written stands out from its ground', () => {
  for (const kind of ['strap', 'call', 'list'] as const) {
    const drawings = drawGraphic(shown(kind), OWN_PALETTE, true, measure);
    const ground = drawings.find((drawing) => drawing.kind === 'plate')!;
    for (const drawing of drawings) if (drawing.kind === 'text') expect(contrastRatio(rgbOf(drawing.colour), rgbOf(ground.colour))).toBeGreaterThan(4.5);
  }
});

test('a list that is too long says how much is left out', () => {
  const lines = drawGraphic(shown('list', 'Tonight', Array.from({ length: 12 }, (_, at) => `Object ${at + 1}`).join('\n')), OWN_PALETTE, true, measure);
  expect(lines.flatMap((drawing) => (drawing.kind === 'text' ? [drawing.text] : [])).at(-1)).toBe('and 6 more');
});

test('what comes next: one after the other, and what belongs to a cue once it begins', () => {
  const all = [
    { id: 'a', cue: null },
    { id: 'b', cue: 'comet' },
    { id: 'c', cue: null },
  ];
  expect(graphicAfter(all, null, null)?.id).toBe('a');
  expect(graphicAfter(all, 'a', null)?.id).toBe('b');
  expect(graphicAfter(all, 'c', null)).toBeNull();
  expect(graphicAfter(all, null, 'comet')?.id).toBe('b');
  expect(graphicAfter(all, 'gone', null)?.id).toBe('a');
});

test('what was made for another evening is stale until somebody has looked at it; an hour later is the same evening', () => {
  expect(isStale({ lookedAtFor: SINCE - 7 * 86_400_000 }, SINCE)).toBe(true);
  expect(isStale({ lookedAtFor: SINCE - 3_600_000 }, SINCE)).toBe(false);
  expect(isStale({ lookedAtFor: null }, SINCE)).toBe(false);
});

test('a call that leads to an address has its code where telephones can read it, clear of the band', () => {
  expect(['alderfell.example/times', 'See https://alderfell.example/a', 'Come to the dome', 'Saturn, at 20.30'].map(addressIn)).toEqual([
    'https://alderfell.example/times',
    'https://alderfell.example/a',
    null,
    null,
  ]);
  const drawn = drawGraphic(shown('call'), OWN_PALETTE, true, measure);
  const code = drawn.find((drawing) => drawing.kind === 'code')!;
  const plate = groundOf(drawn)!;
  expect(code).toMatchObject({ of: 'https://alderfell.example/times' });
  expect(plate.x + plate.width).toBeLessThan(code.x);
  expect([code.x + code.width, code.y + code.height]).toEqual([PROGRAMME.width - SAFE_MARGIN_PX, PROGRAMME.height - SAFE_MARGIN_PX]);
  expect(drawGraphic({ ...shown('call'), more: 'Come to the dome' }, OWN_PALETTE, true, measure).some(({ kind }) => kind === 'code')).toBe(false);
});

test.each(STRAP_STYLES)('a strap “%s” stays within what players leave free, and its words stand out from what is behind them', (style) => {
  for (const palette of [OWN_PALETTE, { ground: '#fdf3d7', ink: '#12343a', accent: '#a8401f' }]) {
    const drawn = drawGraphic({ ...shown('strap'), more: 'Alderfell Sky Club' }, palette, true, measure, style);
    for (const drawing of drawn) {
      if (drawing.kind === 'plate')
        expect([drawing.x >= SAFE_MARGIN_PX, drawing.y + drawing.height <= PROGRAMME.height - SAFE_MARGIN_PX]).toEqual([true, true]);
      if (drawing.kind !== 'text') continue;
      const behind = drawn.filter(
        (plate) => plate.kind === 'plate' && plate.y <= drawing.y - drawing.sizePx / 2 && plate.y + plate.height >= drawing.y && plate.width > 20,
      );
      expect(contrastRatio(rgbOf(drawing.colour), rgbOf((behind.at(-1) as { colour: string }).colour))).toBeGreaterThan(4.5);
    }
  }
});
