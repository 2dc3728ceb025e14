import { DAY_MS, HOUR_MS, MINUTE_MS } from '@lantern/core';
import fc from 'fast-check';
import { drawnTime, quietStretches } from './folds';

const EVENING = Date.UTC(2026, 11, 3, 20, 30);
const show = (startsAt: number, lengthMs = 40 * MINUTE_MS) => ({ startsAt, lengthMs });

const between = (shows: { startsAt: number; lengthMs: number }[]) => quietStretches(shows).slice(1, -1);

test('the hours between shows are quiet, the time around each is not', () => {
  expect(between([show(EVENING + DAY_MS), show(EVENING)])).toEqual([{ from: Date.UTC(2026, 11, 3, 22), to: Date.UTC(2026, 11, 4, 20) }]);
  // Of shows that meet or follow each other closely none is folded away from the other.
  expect(between([show(EVENING), show(EVENING + 2 * HOUR_MS), show(EVENING - HOUR_MS, 6 * HOUR_MS)])).toEqual([]);
  expect(quietStretches([])).toEqual([]);
  // What lies before the first and after the last show is quiet as well.
  expect(quietStretches([show(EVENING)]).map(({ from, to }) => [from < EVENING, to > EVENING])).toEqual([
    [true, false],
    [false, true],
  ]);
});

test('a show of 40 minutes in a week of evenings is drawn several times as wide', () => {
  const week = Array.from({ length: 7 }, (_, day) => show(EVENING + day * DAY_MS));
  const time = drawnTime(EVENING, quietStretches(week));
  const part = (drawn: (at: number) => number) => (drawn(EVENING + 40 * MINUTE_MS) - drawn(EVENING)) / (drawn(EVENING + 7 * DAY_MS) - drawn(EVENING));
  expect(part(time.drawn) / part((at) => at)).toBeGreaterThan(5);
});

test('every moment has one place and every place one moment, in order; the origin stays', () => {
  const shows = fc.array(fc.record({ startsAt: fc.integer({ min: 0, max: 60 * DAY_MS }), lengthMs: fc.integer({ min: MINUTE_MS, max: 2 * DAY_MS }) }), {
    maxLength: 30,
  });
  const moment = fc.integer({ min: -10 * DAY_MS, max: 80 * DAY_MS });
  fc.assert(
    fc.property(shows, moment, moment, moment, (all, origin, one, other) => {
      const time = drawnTime(origin, quietStretches(all));
      expect(time.drawn(origin)).toBeCloseTo(origin, 0);
      expect(time.at(time.drawn(one))).toBeCloseTo(one, 0);
      if (one < other) expect(time.drawn(one)).toBeLessThan(time.drawn(other));
      // No show is in what is folded.
      const fold = time.foldAt(one);
      if (fold) {
        expect(one >= fold.from && one < fold.to).toBe(true);
        for (const { startsAt, lengthMs } of all) expect(startsAt >= fold.to || startsAt + lengthMs <= fold.from).toBe(true);
      }
    }),
  );
});
