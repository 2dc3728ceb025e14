import fc from 'fast-check';
import { Playout } from './playout';

test('what arrives unevenly is due evenly, and never before it has arrived while it comes within the delay', () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: 0, max: 90 }), { minLength: 30, maxLength: 300 }),
      fc.integer({ min: -5_000_000, max: 5_000_000 }),
      (late, ahead) => {
        const playout = new Playout(120);
        let now = 0;
        late.forEach((ms, at) => {
          now = Math.max(now, at * 33 + ms);
          expect(playout.note(at * 33 + ahead, now)).toBe(false);
          const due = playout.due(at * 33 + ahead)!;
          expect(due).toBeGreaterThanOrEqual(now - 90);
          expect(due - now).toBeLessThanOrEqual(120);
          // One picture after the other, whatever the line did.
          expect(playout.due((at + 1) * 33 + ahead)! - due).toBeCloseTo(33);
        });
      },
    ),
    { numRuns: 60, seed: 26 },
  );
});

test('a clock that runs otherwise is followed, and a source that begins anew is taken from its beginning', () => {
  const playout = new Playout(100);
  // Half a thousandth slow, for ten minutes: 300 ms by the end.
  for (let at = 0; at < 600_000; at += 40) playout.note(at * 0.9995, at);
  expect(playout.due(600_000 * 0.9995)! - 600_000).toBeLessThan(110);
  expect(playout.due(600_000 * 0.9995)! - 600_000).toBeGreaterThan(80);
  expect(playout.note(0, 600_040)).toBe(true);
  expect(playout.due(0)).toBe(600_140);
  expect(new Playout(100).due(5)).toBeNull();
});

test('what comes slower than it was taken is never due before it is here: its sound has gaps, and is not lost', () => {
  const playout = new Playout(150);
  const waits: number[] = [];
  for (let media = 0; media < 20_000; media += 20) {
    const now = Math.ceil(media / 0.57);
    playout.note(media, now);
    waits.push(playout.due(media)! - now);
  }
  expect(Math.min(...waits)).toBeGreaterThanOrEqual(0);
  expect(Math.max(...waits)).toBeLessThanOrEqual(150);
  // Once it keeps up again, nothing waits longer than it has to.
  for (let at = 0; at < 1_000; at += 20) playout.note(20_000 + at, Math.ceil(20_000 / 0.57) + at);
  expect(playout.due(21_000)! - (Math.ceil(20_000 / 0.57) + 1_000)).toBeLessThanOrEqual(150);
});
