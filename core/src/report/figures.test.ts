import fc from 'fast-check';
import { instant } from '../time/instant';
import { figuresOf, LONGEST_SAMPLE_GAP_MS, peakTogether, type AirSample } from './figures';

const at = (seconds: number, lamp: AirSample['lamp'], watching: number | null): AirSample => ({ at: instant(seconds * 1000), lamp, watching });

test('time lit and in trouble is counted from sample to sample', () => {
  const samples = [at(0, 'warm', 0), at(5, 'lit', 3), at(10, 'lit', 9), at(12, 'fault', 4), at(17, 'lit', 6), at(20, 'out', null)];
  expect(figuresOf(samples)).toEqual({ litMs: 10_000, faultMs: 5_000, peakWatching: 9, firstLitAt: 5_000 });
});

test('time in which nobody looked is not counted as lit', () => {
  expect(figuresOf([at(0, 'lit', 1), at(5, 'lit', 1), at(500, 'lit', 1), at(505, 'out', null)]).litMs).toBe(10_000);
});

test('the peak of all channels is of one moment, not the sum of peaks', () => {
  const reelmoor = [at(0, 'lit', 10), at(10, 'lit', 2)];
  const townfold = [at(4, 'lit', 1), at(12, 'lit', 7), at(20, 'out', null)];
  expect(peakTogether([reelmoor, townfold])).toBe(11);
  expect(peakTogether([[at(0, 'warm', null)]])).toBeNull();
  expect(figuresOf([])).toEqual({ litMs: 0, faultMs: 0, peakWatching: null, firstLitAt: null });
});

test('whoever left is not counted with those who came later', () => {
  const left = [at(0, 'lit', 10), at(5, 'out', null)];
  const silent = [at(0, 'lit', 20), at(5, 'lit', 20)];
  expect(peakTogether([left, [at(6, 'lit', 7)]])).toBe(10);
  expect(peakTogether([silent, [at(25, 'lit', 7)]])).toBe(20);
});

describe('against a clock that looks at every second', () => {
  const LAMPS = ['warm', 'lit', 'fault', 'out'] as const;
  const someSamples = fc
    .array(fc.record({ gap: fc.integer({ min: 1, max: 20 }), lamp: fc.constantFrom(...LAMPS), watching: fc.option(fc.integer({ min: 0, max: 500 })) }), {
      maxLength: 40,
    })
    .map((all) => {
      let seconds = 0;
      return all.map(({ gap, lamp, watching }) => at((seconds += gap), lamp, watching));
    });
  const stands = (samples: readonly AirSample[], now: number) => samples.filter((each) => each.at <= now).at(-1);
  const clock = Array.from({ length: 801 }, (_, second) => second * 1_000);

  test('time lit and in trouble, and the most that watched', () => {
    fc.assert(
      fc.property(someSamples, (samples) => {
        const counted: Record<string, number> = Object.fromEntries(LAMPS.map((lamp) => [lamp, 0]));
        for (const now of clock) {
          const last = stands(samples, now);
          const next = samples.find((each) => each.at > now);
          if (last && next && next.at - last.at <= LONGEST_SAMPLE_GAP_MS) counted[last.lamp]! += 1_000;
        }
        const told = samples.flatMap(({ watching }) => (watching === null ? [] : [watching]));
        expect(figuresOf(samples)).toEqual({
          ...{ litMs: counted.lit, faultMs: counted.fault, peakWatching: told.length ? Math.max(...told) : null },
          firstLitAt: samples.find(({ lamp }) => lamp === 'lit')?.at ?? null,
        });
      }),
      { numRuns: 60 },
    );
  });

  test('the most on all channels together', () => {
    fc.assert(
      fc.property(fc.array(someSamples, { minLength: 1, maxLength: 4 }), (byAiring) => {
        let peak: number | null = null;
        for (const now of clock) {
          const told = byAiring.flatMap((samples) => {
            const last = stands(samples, now);
            return last && last.watching !== null && now - last.at <= LONGEST_SAMPLE_GAP_MS ? [last.watching] : [];
          });
          if (told.length)
            peak = Math.max(
              peak ?? 0,
              told.reduce((all, count) => all + count, 0),
            );
        }
        expect(peakTogether(byAiring)).toBe(peak);
      }),
      { numRuns: 60 },
    );
  });
});
