import { audienceAt, WatchCounter } from './audience';

test('the made-up audience is the same every time, grows, and never exceeds its best by much', () => {
  const curve = Array.from({ length: 240 }, (_, at) => audienceAt('show', 140, at * 10_000));
  expect(curve).toEqual(Array.from({ length: 240 }, (_, at) => audienceAt('show', 140, at * 10_000)));
  expect(curve[0]).toBe(0);
  expect(curve[30]!).toBeGreaterThan(curve[5]!);
  expect(Math.max(...curve)).toBeLessThanOrEqual(140 * 1.06);
  expect(audienceAt('show', 140, -1)).toBe(0);
  expect(curve).not.toEqual(curve.map((_, at) => audienceAt('another', 140, at * 10_000)));
});

test('a visitor counts once, and only while asking', () => {
  const counter = new WatchCounter();
  counter.seen('a', 'one', 0);
  counter.seen('a', 'one', 2_000);
  counter.seen('a', 'two', 2_000);
  counter.seen('b', 'one', 2_000);
  expect([counter.count('a', 3_000), counter.count('b', 3_000), counter.count('c', 3_000)]).toEqual([2, 1, 0]);
  expect(counter.count('a', 20_000)).toBe(0);
});
