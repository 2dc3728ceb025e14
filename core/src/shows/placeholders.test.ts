import { instant } from '../time/instant';
import fc from 'fast-check';
import { asPlainText, fillPlaceholders, withoutPlaceholder, type Filling } from './placeholders';
import { shortenToFit, countCharacters, filled } from './wording';

const filling: Filling = {
  startsAt: instant(Date.UTC(2026, 11, 3, 20, 30)),
  zone: 'Europe/Dublin',
  cities: [{ name: 'Santiago', zone: 'America/Santiago' }],
  watchUrl: null,
  houseUrl: 'https://alderfell.example/on/x',
  episode: 41,
  guests: ['Dr Oriel Vance', 'Tomasz Wren'],
};

test('fills what it knows, for a city or a zone, with the house page until the channel gives its address', () => {
  expect(fillPlaceholders('{start in Santiago} / {Start in Asia/Kolkata}', filling).text).toMatch(
    /^Thursday, 3 December 2026, 17:30 .* \/ Friday, 4 December 2026, 02:00 /,
  );
  expect(fillPlaceholders('No. {episode} with { guests }: {watch  link}', filling)).toEqual({
    text: 'No. 41 with Dr Oriel Vance and Tomasz Wren: https://alderfell.example/on/x',
    troubles: [],
  });
  expect(fillPlaceholders('{watch link}', { ...filling, watchUrl: 'https://there.example/1' }).text).toBe('https://there.example/1');
});

test('names what is unknown or empty, and leaves it standing', () => {
  const { text, troubles } = fillPlaceholders('{moon} {guests} {moon}', { ...filling, guests: [] });
  expect(text).toBe('{moon} {guests} {moon}');
  expect(troubles).toEqual([
    { name: 'moon', why: 'unknown' },
    { name: 'guests', why: 'empty' },
  ]);
  expect(fillPlaceholders('{start in Atlantis}', filling).troubles).toEqual([{ name: 'start in Atlantis', why: 'unknown' }]);
});

test('one is taken out with its gap', () => {
  expect(withoutPlaceholder('With {guests} tonight\nand {episode}', 'guests')).toBe('With tonight\nand {episode}');
});

test('a text is shortened so that it fits when filled, and no placeholder is cut in two', () => {
  const text = `${'sky '.repeat(20)}{start in Santiago} ${'stars '.repeat(20)}`;
  for (let max = 10; max < 260; max += 7) {
    const cut = shortenToFit(text, max, null, filling);
    expect(countCharacters(filled(cut, filling))).toBeLessThanOrEqual(max);
    expect(fillPlaceholders(cut, filling).troubles).toEqual([]);
  }
});

test('a text that is meant as it stands comes out as it stands, whatever brackets it has', () => {
  const piece = fc.constantFrom('{', '}', '{start}', '{{', '}}', 'x', ' ', '{nobody}', '\n');
  fc.assert(
    fc.property(fc.array(piece, { maxLength: 14 }), (parts) => {
      const text = parts.join('');
      expect(fillPlaceholders(asPlainText(text), filling)).toEqual({ text, troubles: [] });
    }),
  );
  expect(withoutPlaceholder('{{episode}} and {episode}', 'episode')).toBe('{{episode}} and');
});
