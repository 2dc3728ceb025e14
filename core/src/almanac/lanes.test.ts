import fc from 'fast-check';
import { rulesFor } from '../channels/rules';
import { DAY_MS, HOUR_MS, instant } from '../time/instant';
import { wallTimeOf } from '../time/zones';
import { isNight, nightsBetween, onGrid, packRows, startsTaken } from './lanes';

test('no two spans of a row overlap, and there are no more rows than spans at one moment', () => {
  const someSpan = fc.tuple(fc.integer({ min: 0, max: 50 }), fc.integer({ min: 1, max: 20 })).map(([from, length]) => ({ from, to: from + length }));
  fc.assert(
    fc.property(fc.array(someSpan, { maxLength: 25 }), (spans) => {
      const rows = packRows(spans);
      spans.forEach((a, i) => spans.forEach((b, j) => expect(i < j && rows[i] === rows[j] && a.from < b.to && b.from < a.to).toBe(false)));
      const most = Math.max(0, ...spans.map(({ from }) => spans.filter((other) => other.from <= from && other.to > from).length));
      expect(Math.max(-1, ...rows) + 1).toBe(most);
    }),
  );
});

test('nights go by the wall clock, also when it is changed in one', () => {
  const nights = nightsBetween('Europe/Dublin', instant(Date.UTC(2027, 2, 26)), instant(Date.UTC(2027, 2, 30)));
  for (const { from, to } of nights) {
    expect([wallTimeOf(from, 'Europe/Dublin').time, wallTimeOf(to, 'Europe/Dublin').time]).toEqual(['22:00', '06:00']);
    expect(isNight(from, 'Europe/Dublin') && isNight(instant(to - 1), 'Europe/Dublin') && !isNight(to, 'Europe/Dublin')).toBe(true);
  }
  expect(nights.map(({ from, to }) => (to - from) / HOUR_MS)).toEqual([8, 8, 7, 8, 8]);
});

test('what starts a channel takes at a moment', () => {
  const now = instant(Date.UTC(2026, 11, 3));
  expect(startsTaken(rulesFor('townfold', 'page'), now)).toEqual({ from: now + 15 * 60_000, to: now + 10 * DAY_MS });
  expect(startsTaken(rulesFor('pipwire', 'handle'), now)).toBeNull();
  expect(onGrid(8 * 60_000, [5 * 60_000, 15 * 60_000])).toBe(15 * 60_000);
});
