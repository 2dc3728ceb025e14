import fc from 'fast-check';
import { rulesFor, type RuleSheet } from '../channels/rules';
import { DAY_MS, HOUR_MS, instant, MINUTE_MS } from '../time/instant';
import { sayFinding } from '../words';
import type { Finding } from '../findings';
import { checkShow, shorten, type ShowFacts } from './check';

const NOW = instant(Date.UTC(2026, 10, 24, 18, 2));
const reelmoor = rulesFor('reelmoor', 'library channel');
const page = rulesFor('townfold', 'page');

const goodShow: ShowFacts = {
  title: 'Dusk Report',
  description: 'What to look for tonight.',
  startsAt: instant(Date.UTC(2026, 10, 26, 20, 30)),
  lengthMs: 40 * MINUTE_MS,
  thumbnail: { width: 1280, height: 720, bytes: 200_000, type: 'image/jpeg' },
};
const codes = (show: Partial<ShowFacts>, rules: RuleSheet) => checkShow({ ...goodShow, ...show }, rules, NOW).map(({ code }) => code);

test('a good show meets no objection anywhere', () => {
  for (const rules of [reelmoor, page, rulesFor('typed-in', 'service')]) expect(codes({}, rules)).toEqual([]);
});

test.each<[string, Partial<ShowFacts>, RuleSheet, Finding['code'][]]>([
  ['101 characters on Reelmoor', { title: 'x'.repeat(101) }, reelmoor, ['title-too-long']],
  ['101 characters on Townfold', { title: 'x'.repeat(101) }, page, []],
  ['100 pictures of two units each count 100', { title: '🌘'.repeat(100) }, reelmoor, []],
  ['no title', { title: '  ' }, reelmoor, ['title-missing']],
  ['2001 characters of text on Townfold', { description: 'x'.repeat(2001) }, page, ['text-too-long']],
  ['an hour ago', { startsAt: instant(NOW - HOUR_MS) }, page, ['start-past']],
  ['in ten minutes on Townfold', { startsAt: instant(NOW + 10 * MINUTE_MS) }, page, ['start-too-soon']],
  ['in three minutes on Reelmoor', { startsAt: instant(Date.UTC(2026, 10, 24, 18, 5)) }, reelmoor, []],
  ['in eleven days on Townfold', { startsAt: instant(NOW + 11 * DAY_MS) }, page, ['start-too-far']],
  ['off the five-minute grid of Reelmoor', { startsAt: instant(Date.UTC(2026, 10, 26, 20, 31)) }, reelmoor, ['start-off-grid']],
  ['the same on Townfold', { startsAt: instant(Date.UTC(2026, 10, 26, 20, 31)) }, page, []],
  ['ten hours on Reelmoor', { lengthMs: 10 * HOUR_MS }, reelmoor, ['recording-cut']],
  ['ten hours on Townfold', { lengthMs: 10 * HOUR_MS }, page, ['length-too-long']],
  ['no length', { lengthMs: Number.NaN }, page, ['length-none']],
  ['no picture', { thumbnail: null }, page, ['thumbnail-missing']],
  ['a small square picture', { thumbnail: { width: 600, height: 600, bytes: 9, type: 'image/jpeg' } }, page, ['thumbnail-too-small', 'thumbnail-shape']],
  ['a PNG on Townfold', { thumbnail: { width: 1280, height: 720, bytes: 9, type: 'image/png' } }, page, ['thumbnail-type']],
  ['a heavy picture on Reelmoor', { thumbnail: { width: 1280, height: 720, bytes: 2_000_001, type: 'image/jpeg' } }, reelmoor, ['thumbnail-too-heavy']],
])('%s', (_name, show, rules, expected) => {
  expect(codes(show, rules)).toEqual(expected);
});

test('a profile cannot be scheduled, and the words say what can', () => {
  const [finding] = checkShow(goodShow, rulesFor('townfold', 'profile'), NOW);
  expect(finding!.code).toBe('cannot-schedule');
  expect(sayFinding(finding!, 'Townfold', 'Europe/Dublin')).toContain('Choose the page or the group');
});

test('every fix removes its objection and makes no new one', () => {
  const show = fc.record({
    title: fc.string({ minLength: 1, maxLength: 300 }).filter((text) => text.trim() !== ''),
    description: fc.string({ maxLength: 6000 }),
    startsAt: fc.integer({ min: NOW - DAY_MS, max: NOW + 9 * DAY_MS }).map(instant),
    lengthMs: fc.integer({ min: 1, max: 20 * HOUR_MS }),
    thumbnail: fc.constant(goodShow.thumbnail),
  });
  fc.assert(
    fc.property(show, fc.constantFrom(reelmoor, page), (facts, rules) => {
      const before = checkShow(facts, rules, NOW);
      for (const { code, subject, fix } of before) {
        if (!fix) continue;
        const mended: ShowFacts = {
          ...facts,
          ...('text' in fix ? { [subject]: fix.text } : {}),
          ...('startsAt' in fix ? { startsAt: instant(fix.startsAt) } : {}),
          ...('lengthMs' in fix ? { lengthMs: fix.lengthMs } : {}),
        };
        const objections = (findings: Finding[]) => findings.filter(({ severity }) => severity === 'objection').map((finding) => finding.code);
        const after = objections(checkShow(mended, rules, NOW));
        expect(after).not.toContain(code);
        expect(objections(before)).toEqual(expect.arrayContaining(after));
      }
    }),
    { numRuns: 300, seed: 7 },
  );
});

test('a text is cut at a word where one ends late enough', () => {
  expect(shorten('What to look for tonight from the fell', 30)).toBe('What to look for tonight from…');
  expect([...shorten('🌘'.repeat(40), 10)]).toHaveLength(10);
});
