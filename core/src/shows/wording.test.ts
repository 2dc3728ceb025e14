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
