import fc from 'fast-check';
import { rulesFor } from '../channels/rules';
import { countCharacters, shorten, wordingFor } from './wording';

const pipwire = rulesFor('pipwire', 'handle');
const LONG = `https://alderfell.example/${'a'.repeat(300)}`;

test('characters are counted as networks count them', () => {
  expect(countCharacters('🌘🌘')).toBe(2);
  expect(countCharacters(`See ${LONG} tonight`, 24)).toBe('See  tonight'.length + 24);
  expect(countCharacters(LONG)).toBe(LONG.length);
});

test('texts are cut at the end of a word, and an address is never cut', () => {
  expect(shorten('one two three', 9)).toBe('one two…');
  expect(shorten('fits', 4)).toBe('fits');
  expect(shorten(`Look here: ${LONG} and there`, 34, 24)).toBe('Look here:…');
  expect(shorten(`Look here: ${LONG} and there`, 40, 24)).toBe(`Look here: ${LONG} and…`);
});

test('a shortened text has room, however it is written', () => {
  const words = fc.array(fc.oneof(fc.string({ maxLength: 12, unit: 'grapheme' }), fc.constant('https://alderfell.example/on/x')), { maxLength: 40 });
  fc.assert(
    fc.property(words, fc.integer({ min: 30, max: 280 }), fc.constantFrom(24, null), (parts, max, linkCounts) => {
      expect(countCharacters(shorten(parts.join(' '), max, linkCounts), linkCounts)).toBeLessThanOrEqual(max);
    }),
  );
});

test('where there is no title, it leads the text', () => {
  const show = { title: 'Dusk Report ', description: ' The sky. ' };
  expect(wordingFor(show, rulesFor('reelmoor', 'library channel'))).toEqual({ title: 'Dusk Report', text: 'The sky.', shortened: false });
  expect(wordingFor(show, pipwire)).toEqual({ title: '', text: 'Dusk Report\n\nThe sky.', shortened: false });
  const long = wordingFor({ ...show, description: 'dark skies over the fell '.repeat(40) }, pipwire);
  expect(long).toMatchObject({ shortened: true });
  expect(long.text).toMatch(/^Dusk Report\n\ndark skies .*…$/s);
});

test('what looks like one character stays whole, and a link at the end stays', () => {
  const clusters = new Intl.Segmenter('en', { granularity: 'grapheme' });
  const looks = (text: string) => [...clusters.segment(text)].map(({ segment }) => segment);
  const some = fc.constantFrom('👨‍👩‍👧‍👦', '🇮🇪', '👍🏽', 'e\u0301', 'क्षि', '🏴\u{e0067}\u{e0062}\u{e0073}\u{e0063}\u{e0074}\u{e007f}', 'a', ' ', '한');
  fc.assert(
    fc.property(fc.array(some, { minLength: 5, maxLength: 60 }), fc.integer({ min: 2, max: 60 }), (parts, max) => {
      const text = parts.join('');
      const cut = shorten(text, max);
      expect(countCharacters(cut)).toBeLessThanOrEqual(max);
      if (cut === text) return;
      const kept = looks(cut.replace(/…$/, ''));
      expect(looks(text).slice(0, kept.length)).toEqual(kept);
    }),
  );
  const link = 'https://alderfell.example/on/x';
  expect(shorten(`${'word '.repeat(80)}\n\n${link}`, 100, 24)).toMatch(/^word .*word…\s+https:\/\/alderfell\.example\/on\/x$/);
  // Where hardly a word would be left beside it, the words are what is said.
  expect(shorten(`${'word '.repeat(80)}${link}`, 30, 24)).not.toContain('https');
});
