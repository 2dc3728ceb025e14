// Fewer samples that say the same: an evening is looked at every few seconds, and read about for years.
import { LONGEST_SAMPLE_GAP_MS, type AirSample } from './figures';

/**
 * The places in `samples`, which are of one airing and in order of time, that have to stay so that `figuresOf` comes to the same:
 * the ends, both sides of each change of lamp and of each time in which nobody looked, the highest figure, and of the rest as many as
 * keep the others within `LONGEST_SAMPLE_GAP_MS`.
 */
export function thinned(samples: readonly AirSample[]): number[] {
  const kept: number[] = [];
  let peak = -1;
  samples.forEach(({ watching }, at) => {
    if (watching !== null && (peak < 0 || watching > samples[peak]!.watching!)) peak = at;
  });
  samples.forEach((sample, at) => {
    const before = samples[at - 1];
    const after = samples[at + 1];
    const parts = (other: AirSample | undefined) => !other || other.lamp !== sample.lamp || Math.abs(other.at - sample.at) > LONGEST_SAMPLE_GAP_MS;
    const tooFar = after !== undefined && kept.length > 0 && after.at - samples[kept.at(-1)!]!.at > LONGEST_SAMPLE_GAP_MS;
    if (at === peak || parts(before) || parts(after) || tooFar) kept.push(at);
  });
  return kept;
}
