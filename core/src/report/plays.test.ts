import fc from 'fast-check';
import { playsByDay } from './plays';

test('what came while nobody asked stands on the day on which it was told', () => {
  expect(
    playsByDay([
      { day: 0, since: 10 },
      { day: 1, since: 16 },
      { day: 4, since: 30 },
    ]),
  ).toEqual([10, 6, 0, 0, 14]);
  expect(playsByDay([{ day: 1, since: null }])).toEqual([0, 0]);
  expect(playsByDay([])).toEqual([]);
});

test('the days come to the most that was told, and none is below nothing', () => {
  fc.assert(
    fc.property(fc.array(fc.option(fc.nat(5_000)), { maxLength: 31 }), (told) => {
      const by = playsByDay(told.map((since, day) => ({ day, since })));
      expect(by).toHaveLength(told.length);
      expect(by.every((count) => count >= 0)).toBe(true);
      expect(by.reduce((all, count) => all + count, 0)).toBe(Math.max(0, ...told.map((since) => since ?? 0)));
    }),
  );
});
