import fc from 'fast-check';
import { DAY_MS } from '../time/instant';
import { datesOf, repeatTrouble, type Pattern, type Repeat } from './repeat';
import { WEEKDAYS } from '../time/days';
import { patternDatesBefore, splitRepeat } from './split';

const TO = '2034-12-31';
const all = (repeat: Repeat) => datesOf(repeat, '2000-01-01', TO);
const someDate = fc.integer({ min: 0, max: 900 }).map((days) => new Date(Date.UTC(2026, 0, 1) + days * DAY_MS).toISOString().slice(0, 10));
const somePattern: fc.Arbitrary<Pattern> = fc.oneof(
  fc.record({ every: fc.constant('day' as const), interval: fc.integer({ min: 1, max: 9 }) }),
  fc.record({
    every: fc.constant('week' as const),
    interval: fc.integer({ min: 1, max: 3 }),
    on: fc.uniqueArray(fc.constantFrom(...WEEKDAYS), { minLength: 1 }),
  }),
  fc.record({ every: fc.constant('month' as const), interval: fc.integer({ min: 1, max: 3 }), onDate: fc.integer({ min: 1, max: 31 }) }),
);
const someRepeat: fc.Arbitrary<Repeat> = fc.record({
  pattern: somePattern,
  from: someDate,
  ends: fc.oneof(
    fc.record({ kind: fc.constant('count' as const), count: fc.integer({ min: 2, max: 30 }) }),
    fc.record({ kind: fc.constant('until' as const), date: someDate }),
  ),
  also: fc.array(someDate, { maxLength: 3 }),
  dropped: fc.array(someDate, { maxLength: 3 }),
});

test('a rule that is parted at one of its own dates and not changed keeps exactly its dates, dropped and added ones too', () => {
  fc.assert(
    fc.property(someRepeat, fc.nat(), fc.array(fc.nat(), { maxLength: 3 }), (drawn, at, drop) => {
      fc.pre(repeatTrouble(drawn) === null);
      const plain = all({ ...drawn, also: [], dropped: [] });
      fc.pre(plain.length > 1);
      // Some of the dropped dates are really among those of the pattern.
      const repeat = { ...drawn, dropped: [...drawn.dropped, ...drop.map((index) => plain[index % plain.length]!)] };
      const date = plain.slice(1)[at % (plain.length - 1)]!;
      fc.pre(date > repeat.from);
      const parted = splitRepeat(repeat, date, repeat);
      if ('refused' in parted) throw new Error(parted.refused);
      expect(repeatTrouble(parted.earlier)).toBeNull();
      expect([...all(parted.earlier), ...all(parted.later)]).toEqual(all(repeat));
    }),
  );
});

test('ten dates stay ten, also where one of them was dropped, and a count that leaves nothing is refused with what is there', () => {
  const weekly: Repeat = {
    pattern: { every: 'week', interval: 1, on: ['TH'] },
    from: '2027-03-04',
    ends: { kind: 'count', count: 10 },
    also: [],
    dropped: ['2027-03-11', '2027-04-15'],
  };
  const parted = splitRepeat(weekly, '2027-04-01', weekly);
  expect(parted).toMatchObject({ later: { ends: { kind: 'count', count: 6 }, dropped: ['2027-04-15'] }, earlier: { dropped: ['2027-03-11'] } });
  expect(patternDatesBefore(weekly, '2027-04-01')).toBe(4);
  expect(splitRepeat(weekly, '2027-04-01', { ...weekly, ends: { kind: 'count', count: 4 } })).toEqual({
    refused: expect.stringContaining('more than 4 times in all'),
  });
});
