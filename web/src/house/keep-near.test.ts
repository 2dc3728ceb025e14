import { distanceAfter, NEAREST_S, rateFor } from './keep-near';

test('who never stopped keeps near; each stop of the last minute asks for more, up to a bound', () => {
  expect(distanceAfter([], 100_000)).toBe(NEAREST_S);
  expect(distanceAfter([95_000], 100_000)).toBeCloseTo(NEAREST_S + 0.4);
  expect(distanceAfter([30_000, 95_000], 100_000)).toBeCloseTo(NEAREST_S + 0.4);
  expect(
    distanceAfter(
      Array.from({ length: 40 }, (_, at) => 90_000 + at),
      100_000,
    ),
  ).toBe(3);
});

test('it is made faster only where it is behind, and has enough in hand', () => {
  expect(rateFor(1.6, 1, NEAREST_S)).toBe(1);
  expect(rateFor(3, 2, NEAREST_S)).toBe(1.08);
  expect(rateFor(3, 0.5, NEAREST_S)).toBe(1);
  expect(rateFor(NaN, NaN, NEAREST_S)).toBe(1);
});

test('two seconds behind are made good within half a minute, and not overdone', () => {
  let behind = NEAREST_S + 2;
  for (let second = 0; second < 30; second++) behind -= rateFor(behind, behind, NEAREST_S) - 1;
  expect(behind).toBeGreaterThan(NEAREST_S);
  expect(behind).toBeLessThan(NEAREST_S + 0.4);
});
