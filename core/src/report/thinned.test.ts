import fc from 'fast-check';
import { instant } from '../time/instant';
import { figuresOf, type AirSample } from './figures';
import { thinned } from './thinned';

const SEED = 20261126;
const sample = fc.record({
  stepMs: fc.oneof(fc.constant(5_000), fc.integer({ min: 0, max: 40_000 })),
  lamp: fc.constantFrom<AirSample['lamp']>('lit', 'lit', 'lit', 'fault', 'warm'),
  watching: fc.option(fc.nat({ max: 500 })),
});

function evening(steps: { stepMs: number; lamp: AirSample['lamp']; watching: number | null }[]): AirSample[] {
  let at = 0;
  return steps.map(({ stepMs, lamp, watching }) => ({ at: instant((at += stepMs)), lamp, watching }));
}

test(`what stays comes to the same figures, and thinning that once more takes nothing away from them (seed ${SEED})`, () => {
  fc.assert(
    fc.property(fc.array(sample, { maxLength: 120 }), (steps) => {
      const all = evening(steps);
      const kept = thinned(all).map((at) => all[at]!);
      expect(figuresOf(kept)).toEqual(figuresOf(all));
      expect(figuresOf(thinned(kept).map((at) => kept[at]!))).toEqual(figuresOf(all));
    }),
    { seed: SEED, numRuns: 300 },
  );
});

test('a quiet evening of two hours keeps a third', () => {
  const all = evening(Array.from({ length: 1_440 }, () => ({ stepMs: 5_000, lamp: 'lit' as const, watching: 20 })));
  expect(thinned(all).length).toBeLessThan(490);
});
