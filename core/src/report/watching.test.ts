import fc from 'fast-check';
import { instant, MINUTE_MS } from '../time/instant';
import { LONGEST_SAMPLE_GAP_MS, type AirSample } from './figures';
import { timesOfFault, momentsOf, sayChange, totalOf, watchingTogether, watchTimeOf, type ShowPart, type WatchingAt } from './watching';

const sample = (at: number, watching: number | null, lamp: AirSample['lamp'] = 'lit'): AirSample => ({ at: instant(at), lamp, watching });
const someSamples = fc
  .array(fc.record({ gap: fc.integer({ min: 1, max: 20_000 }), watching: fc.option(fc.integer({ min: 0, max: 500 })) }), { maxLength: 60 })
  .map((all) => {
    let at = 0;
    return all.map(({ gap, watching }) => sample((at += gap), watching));
  });

test('how long all watched is what adding it up second by second gives', () => {
  fc.assert(
    fc.property(someSamples, (samples) => {
      let watchedMs = 0;
      let toldMs = 0;
      for (let at = 0; at + 1 < samples.length; at++) {
        const [one, next] = [samples[at]!, samples[at + 1]!];
        if (one.watching === null || next.at - one.at > LONGEST_SAMPLE_GAP_MS) continue;
        for (let ms: number = one.at; ms < next.at; ms++) [watchedMs, toldMs] = [watchedMs + one.watching, toldMs + 1];
      }
      expect(watchTimeOf(samples)).toEqual({ watchedMs, toldMs });
    }),
    { numRuns: 25 },
  );
});

test('on the grid each figure is the last that was told, while somebody was looking', () => {
  fc.assert(
    fc.property(fc.array(someSamples, { minLength: 1, maxLength: 4 }), fc.integer({ min: 500, max: 30_000 }), (byAiring, everyMs) => {
      for (const { at, by } of watchingTogether(byAiring, 0, 200_000, everyMs)) {
        byAiring.forEach((samples, airing) => {
          const last = samples.filter((each) => each.at <= at).at(-1);
          expect(by[airing]).toBe(last && at - last.at <= LONGEST_SAMPLE_GAP_MS ? last.watching : null);
        });
      }
    }),
    { numRuns: 40 },
  );
  expect(totalOf({ at: instant(0), by: [null, 4, 3] })).toBe(7);
  expect(totalOf({ at: instant(0), by: [null, null] })).toBeNull();
});

describe('when most came and went', () => {
  const curve = (of: (minute: number) => number | null): WatchingAt[] =>
    Array.from({ length: 121 }, (_, half) => ({ at: instant((half * MINUTE_MS) / 2), by: [of(half / 2)] }));
  const at = (minutes: number) => minutes * MINUTE_MS;
  const pause: ShowPart = { kind: 'break', name: 'Break', from: at(29), to: at(32) };
  const cue: ShowPart = { kind: 'cue', name: 'The comet', from: at(41), to: at(50) };

  test('is named with what was going on', () => {
    const { gain, loss } = momentsOf(
      curve((minute) => (minute < 30 ? 100 : minute < 41 ? 69 : 90)),
      [pause, cue],
    );
    expect([loss!.by, sayChange(loss!)]).toEqual([-31, '31 fewer in the four minutes around a break']);
    expect([gain!.by, sayChange(gain!)]).toEqual([21, '21 more as “The comet” began']);
  });

  test('the coming at the beginning and the going at the end are no news, nor is a handful', () => {
    const usual = curve((minute) => (minute < 3 ? minute * 30 : minute > 58 ? 10 : 90 + (Math.round(minute) % 3)));
    expect(momentsOf(usual, [])).toEqual({ gain: null, loss: null });
    expect(momentsOf([], [])).toEqual({ gain: null, loss: null });
    expect(
      momentsOf(
        curve(() => null),
        [],
      ),
    ).toEqual({ gain: null, loss: null });
  });

  test('where nothing is known of why, it is said when, and trouble is said by the name of its channel', () => {
    const fall = curve((minute) => (minute < 30 ? 100 : 60));
    expect(sayChange(momentsOf(fall, []).loss!)).toBe('40 fewer within four minutes');
    const faults = timesOfFault([sample(at(29), 1), sample(at(30), 1, 'fault'), sample(at(30) + 5_000, 1, 'fault'), sample(at(30) + 10_000, 1)], 'Reelmoor');
    expect(faults).toEqual([{ kind: 'fault', name: 'Reelmoor', from: at(30), to: at(30) + 10_000 }]);
    expect(sayChange(momentsOf(fall, faults).loss!)).toBe('40 fewer while Reelmoor was in trouble');
    const back = momentsOf(
      curve((minute) => (minute < 31 ? 60 : 100)),
      faults,
    ).gain!;
    expect(sayChange(back)).toBe('40 more as the trouble of Reelmoor ended');
    expect(sayChange({ ...back, during: pause })).toBe('40 more as a break ended');
  });
});
