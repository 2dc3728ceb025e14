// How a show went out, as it was measured where it was made: every few seconds while it is on, and as a line afterwards.
import type { Instant } from '../time/instant';

/** Of the seconds before `at`: pictures made in one, and kbit/s that the server confirmed; null: not measured. The least of them. */
export interface SignalSample {
  at: Instant;
  pictures: number | null;
  kbps: number | null;
}

export const SIGNAL_EVERY_MS = 10_000;
/** Nothing was measured in a gap that is longer than this: no line is drawn across it. */
export const SIGNAL_GAP_MS = 3 * SIGNAL_EVERY_MS;

const least = (all: readonly (number | null)[]): number | null => {
  const known = all.filter((value) => value !== null);
  return known.length ? Math.min(...known) : null;
};

/** What is told of some seconds: the worst of them, so that what was short is still seen. Null: none. */
export function signalOf(seconds: readonly Omit<SignalSample, 'at'>[], at: Instant): SignalSample | null {
  const sample = { at, pictures: least(seconds.map(({ pictures }) => pictures)), kbps: least(seconds.map(({ kbps }) => kbps)) };
  return sample.pictures === null && sample.kbps === null ? null : sample;
}

/** No more than `most` samples, each the worst of those that stand in its stretch of time, at the moment of the last; in order of time as they come. */
export function coarse(samples: readonly SignalSample[], most: number): SignalSample[] {
  if (samples.length <= most) return [...samples];
  const [from, to] = [samples[0]!.at, samples.at(-1)!.at];
  const placeOf = ({ at }: SignalSample) => Math.min(most - 1, Math.floor(((at - from) / (to - from)) * most));
  const stretches: SignalSample[][] = [];
  for (const sample of samples) (stretches[placeOf(sample)] ??= []).push(sample);
  // Of a stretch in which nothing was measured there is no place in the list, and so no sample.
  return stretches.flatMap((stretch) => (stretch ? [signalOf(stretch, stretch.at(-1)!.at)!] : []));
}

/** Its stretches without a gap. */
export function unbroken(samples: readonly SignalSample[], gapMs = SIGNAL_GAP_MS): SignalSample[][] {
  const all: SignalSample[][] = [];
  samples.forEach((sample, at) => {
    const before = samples[at - 1];
    if (before && sample.at - before.at <= gapMs) all.at(-1)!.push(sample);
    else all.push([sample]);
  });
  return all;
}
