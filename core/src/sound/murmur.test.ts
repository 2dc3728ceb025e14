import { MURMUR_S, murmurAt } from './murmur';

test('the murmur has sentences with pauses between them, and goes round without a click', () => {
  const levels = Array.from({ length: MURMUR_S * 1_000 }, (_, ms) => murmurAt(ms / 1_000));
  expect(Math.max(...levels)).toBeLessThanOrEqual(1);
  expect(Math.max(...levels)).toBeGreaterThan(0.8);
  expect(Math.min(...levels)).toBe(0);
  const silent = levels.filter((level) => level === 0).length / levels.length;
  expect(silent).toBeGreaterThan(0.15);
  expect(silent).toBeLessThan(0.5);
  levels.forEach((level, at) => expect(Math.abs(level - levels.at(at - 1)!)).toBeLessThan(0.05));
});
