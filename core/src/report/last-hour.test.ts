import { HOUR_MS, instant, MINUTE_MS } from '../time/instant';
import type { AirSample } from './figures';
import { lastHour, lastHourTogether } from './last-hour';

const NOW = instant(Date.UTC(2030, 0, 15, 21));
const ago = (minutes: number, watching: number | null): AirSample => ({ at: instant(NOW - minutes * MINUTE_MS), lamp: 'lit', watching });

test('now is what was told last, if that is young enough; the hour has a point for each half minute', () => {
  const { now, most, points } = lastHour([ago(70, 99), ago(2, 5), ago(1.9, 7), ago(0.1, 6)], NOW);
  expect(now).toEqual({ watching: 6, at: NOW - 0.1 * MINUTE_MS });
  // What is longer ago than an hour is not of this hour.
  expect(most).toEqual({ watching: 7, at: NOW - 1.9 * MINUTE_MS });
  expect(points.map(({ watching }) => watching)).toEqual([7, null, null, 6]);
  expect(lastHour([ago(5, 5)], NOW).now).toBeNull();
  expect(lastHour([], NOW)).toEqual({ points: [], now: null, most: null });
  expect(lastHour([ago(1, null)], NOW)).toEqual({ points: [], now: null, most: null });
});

test('an hour of samples every two seconds is a hundred and twenty points', () => {
  const samples = Array.from({ length: HOUR_MS / 2_000 }, (_, at) => ago((HOUR_MS - (at + 1) * 2_000) / MINUTE_MS, at));
  expect(lastHour(samples, NOW).points.length).toBeLessThanOrEqual(121);
});

test('together is the sum of what is known at the same time, and never of what is not', () => {
  const [library, town] = [lastHour([ago(3, 10), ago(2, 20), ago(0.2, 12)], NOW), lastHour([ago(2.9, 5), ago(0.3, 8)], NOW)];
  const together = lastHourTogether([library, town]);
  expect(together.now).toEqual({ watching: 20, at: NOW - 0.3 * MINUTE_MS });
  expect(together.points.map(({ watching }) => watching)).toEqual([15, 20, 20]);
  expect(together.most!.watching).toBe(20);
  // A network that has fallen silent is left out of the sum.
  expect(lastHourTogether([library, lastHour([ago(9, 500)], NOW)]).now!.watching).toBe(12);
  expect(lastHourTogether([]).now).toBeNull();
});
