import fc from 'fast-check';
import { rulesFor, type RuleSheet } from '../channels/rules';
import { DAY_MS, HOUR_MS, instant, MINUTE_MS } from '../time/instant';
import { sayFinding } from '../words/findings';
import type { Finding } from '../channels/finding';
import { checkAgainstChange, checkShow, factsToCheck, type AiringToCheck, type ShowFacts } from './check';
import type { Filling } from './placeholders';
import { shorten } from './wording';

const NOW = instant(Date.UTC(2026, 10, 24, 18, 2));
const reelmoor = rulesFor('reelmoor', 'library channel');
const page = rulesFor('townfold', 'page');
const guild = rulesFor('guildhand', 'organisation');
const pipwire = rulesFor('pipwire', 'handle');

const goodShow: ShowFacts = {
  title: 'Dusk Report',
  description: 'What to look for tonight.',
  startsAt: instant(Date.UTC(2026, 10, 26, 20, 30)),
  lengthMs: 40 * MINUTE_MS,
  thumbnail: { width: 1600, height: 900 },
  thumbnailAlternative: 'The dome at dusk.',
  placedAt: null,
};
const codes = (show: Partial<ShowFacts>, rules: RuleSheet) => checkShow({ ...goodShow, ...show }, rules, NOW).map(({ code }) => code);

test('a good show meets no objection anywhere', () => {
  for (const rules of [reelmoor, page, rulesFor('typed-in', 'service')]) expect(codes({}, rules)).toEqual([]);
  expect(codes({ startsAt: instant(Date.UTC(2026, 10, 29, 20, 30)) }, guild)).toEqual([]);
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
  ['a small picture', { thumbnail: { width: 1199, height: 2000 } }, page, ['thumbnail-too-small']],
  ['a picture that is enough elsewhere, on Guildhand', { thumbnail: { width: 1280, height: 720 } }, guild, ['thumbnail-too-small', 'start-late']],
  ['a picture without words on Guildhand', { thumbnailAlternative: ' ' }, guild, ['alternative-missing', 'start-late']],
  ['no picture and no words for it on Guildhand', { thumbnail: null, thumbnailAlternative: '' }, guild, ['start-late', 'thumbnail-missing']],
  ['twenty past on Guildhand', { startsAt: instant(Date.UTC(2026, 10, 29, 20, 20)) }, guild, ['start-off-grid']],
  ['a long text on Pipwire', { description: 'The sky over the fell. '.repeat(20) }, pipwire, ['text-shortened', 'begins-on-air']],
  ['three hours on Pipwire', { lengthMs: 3 * HOUR_MS }, pipwire, ['length-too-long', 'begins-on-air']],
])('%s', (_name, show, rules, expected) => {
  expect(codes(show, rules)).toEqual(expected);
});

test('a profile takes nothing in advance, and the words say what does', () => {
  const [finding] = checkShow(goodShow, rulesFor('townfold', 'profile'), NOW);
  expect(finding).toMatchObject({ code: 'begins-on-air', severity: 'caution' });
  expect(sayFinding(finding!, 'Townfold', 'Europe/Dublin')).toContain('choose the page or the group');
});

test('where it stands already, its lead time is kept; Guildhand does not move it, Townfold does', () => {
  const placedAt = instant(Date.UTC(2026, 10, 24, 18, 5));
  expect(codes({ startsAt: placedAt, placedAt }, page)).toEqual([]);
  expect(codes({ placedAt }, guild)).toEqual(['start-locked']);
  expect(codes({ placedAt }, page)).toEqual([]);
});

test('an announced change concerns the shows after it that would newly meet an objection', () => {
  const from = instant(Date.UTC(2026, 10, 26));
  const then = rulesFor('reelmoor', 'library channel', [{ id: 'n', limit: 'titleMax', value: 60, from }], from);
  const touched = (change: Partial<ShowFacts>) => checkAgainstChange({ ...goodShow, ...change }, reelmoor, then, from, NOW).map(({ code }) => code);
  expect(touched({ title: 'x'.repeat(61) })).toEqual(['title-too-long']);
  expect(touched({ title: 'x'.repeat(60) })).toEqual([]);
  expect(touched({ title: 'x'.repeat(101) })).toEqual([]); // It is too long already.
  expect(touched({ title: 'x'.repeat(61), startsAt: instant(from - 1) })).toEqual([]);
});

const filling: Filling = { startsAt: NOW, zone: 'UTC', cities: [], watchUrl: null, houseUrl: 'https://alderfell.example/on/x', episode: null, guests: [] };

test('who may see it is checked against what the channel offers and what it locked', () => {
  expect(codes({ visibility: 'supporters' }, reelmoor)).toEqual([]);
  expect(codes({ visibility: 'supporters' }, page)).toEqual(['visibility-not-offered']);
  const placed = { placedAt: goodShow.startsAt, placedVisibility: 'everyone' as const };
  expect(codes({ ...placed, visibility: 'invited people' }, guild)).toEqual(['visibility-locked']);
  expect(codes({ ...placed, visibility: 'invited people' }, reelmoor)).toEqual([]);
  // Said where it matters: silence is not to be had by calling a show one for children.
  expect(codes({ audience: 'children', messages: 'everyone' }, reelmoor)).toEqual(['children-no-messages']);
  expect(codes({ audience: 'children', messages: 'off' }, reelmoor)).toEqual([]);
});

test('the length of a text is that of what it says when filled in, and placeholders that say nothing are objected to', () => {
  const text = { description: `${'x'.repeat(1_985)} {start}`, filling };
  expect(codes(text, page)).toEqual(['text-too-long']);
  expect(codes({ ...text, filling: null }, page)).toEqual([]);
  expect(codes({ title: 'No. {episode}', description: '{moon}', filling }, page)).toEqual(['placeholder-empty', 'placeholder-unknown']);
});

test('a way in, or a link that is somebody’s own, is kept out of what everybody reads', () => {
  expect(codes({ description: 'Ingest: rtmp://x.example/live/key' }, page)).toEqual(['private-in-text']);
  expect(codes({ title: 'https://alderfell.example/on/x?pass=abc' }, page)).toEqual(['private-in-text']);
  // The address that a placeholder stands for is the station's own.
  expect(codes({ description: '{house page}', filling }, page)).toEqual([]);
});

test('every fix removes its objection and makes no new one', () => {
  const show = fc.record({
    title: fc.string({ minLength: 1, maxLength: 300 }).filter((text) => text.trim() !== ''),
    description: fc
      .tuple(
        fc.string({ maxLength: 3000 }),
        fc.constantFrom('', '{start}', '{episode}', '{guests}', '{moon} {moon}', '{start in Nowhere} {guests}'),
        fc.string({ maxLength: 3000 }),
      )
      .map((parts) => parts.join(' ')),
    startsAt: fc.integer({ min: NOW - DAY_MS, max: NOW + 9 * DAY_MS }).map(instant),
    lengthMs: fc.integer({ min: 1, max: 20 * HOUR_MS }),
    thumbnail: fc.constant(goodShow.thumbnail),
    thumbnailAlternative: fc.constant(''),
    placedAt: fc.option(fc.constant(instant(Date.UTC(2026, 10, 26, 20, 30)))),
    visibility: fc.constantFrom('everyone' as const, 'supporters' as const, 'group members' as const),
    placedVisibility: fc.option(fc.constantFrom('everyone' as const, 'invited people' as const)),
    filling: fc.option(fc.constant(filling)),
  });
  fc.assert(
    fc.property(show, fc.constantFrom(reelmoor, page, guild, pipwire), ({ placedVisibility, ...rest }, rules) => {
      // Nothing stands on a channel in a way that the channel does not offer.
      const facts = { ...rest, placedVisibility: placedVisibility && rules.visibilities.includes(placedVisibility) ? placedVisibility : null };
      const before = checkShow(facts, rules, NOW);
      for (const { code, subject, fix } of before) {
        if (!fix) continue;
        const mended: ShowFacts = {
          ...facts,
          ...('text' in fix ? { [subject]: fix.text } : {}),
          ...('startsAt' in fix ? { startsAt: instant(fix.startsAt) } : {}),
          ...('lengthMs' in fix ? { lengthMs: fix.lengthMs } : {}),
          ...('visibility' in fix ? { visibility: fix.visibility } : {}),
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

describe('an airing as rules see it', () => {
  const airing: AiringToCheck = {
    ...{ title: 'Dusk Report', description: 'All say this.', startsAt: NOW, lengthMs: 1, thumbnail: null, thumbnailAlternative: '' },
    variant: { title: 'For the guild', description: null },
    filling: {} as Filling,
    settings: { visibility: 'everyone', audience: null, messages: null },
    stands: { placing: 'placed', placedAt: NOW, visibility: 'link holders' },
  };

  test('says its own words where it has some, and the common ones elsewhere', () => {
    expect(factsToCheck(airing)).toMatchObject({ title: 'For the guild', description: 'All say this.' });
    expect(factsToCheck({ ...airing, variant: null })).toMatchObject({ title: 'Dusk Report', description: 'All say this.' });
    // An empty text is a text: it was typed.
    expect(factsToCheck({ ...airing, variant: { title: '', description: '' } })).toMatchObject({ title: '', description: '' });
  });

  test('stands somewhere only once that is known', () => {
    expect(factsToCheck(airing)).toMatchObject({ placedAt: NOW, placedVisibility: 'link holders', visibility: 'everyone' });
    for (const placing of ['unsure', 'refused', 'none', 'awaits air'])
      expect(factsToCheck({ ...airing, stands: { ...airing.stands!, placing } })).toMatchObject({ placedAt: null, placedVisibility: null });
    expect(factsToCheck({ ...airing, stands: null, startsAt: null })).toMatchObject({ placedAt: null, startsAt: null });
  });
});
