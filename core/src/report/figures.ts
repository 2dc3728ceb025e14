// The figures of a past show, from what each network said at known moments.
import type { Lamp } from '../air/lamp';
import type { Instant } from '../time/instant';

/** What one network said about one airing at one moment. `watching` is null where it does not tell. */
export interface AirSample {
  at: Instant;
  lamp: Lamp;
  watching: number | null;
}

/** Samples further apart than this mean that nobody was looking, and count as not lit. */
export const LONGEST_SAMPLE_GAP_MS = 15_000;

export interface AiringFigures {
  litMs: number;
  faultMs: number;
  /** Null where the network never told. */
  peakWatching: number | null;
  firstLitAt: Instant | null;
}

/** Figures of one airing; `samples` in order of time. Each sample holds until the next. */
export function figuresOf(samples: readonly AirSample[]): AiringFigures {
  const figures: AiringFigures = { litMs: 0, faultMs: 0, peakWatching: null, firstLitAt: null };
  samples.forEach((sample, index) => {
    const next = samples[index + 1];
    const heldMs = next && next.at - sample.at <= LONGEST_SAMPLE_GAP_MS ? next.at - sample.at : 0;
    if (sample.lamp === 'lit') figures.litMs += heldMs;
    if (sample.lamp === 'fault') figures.faultMs += heldMs;
    if (sample.lamp === 'lit' && figures.firstLitAt === null) figures.firstLitAt = sample.at;
    if (sample.watching !== null) figures.peakWatching = Math.max(figures.peakWatching ?? 0, sample.watching);
  });
  return figures;
}

/**
 * The highest number watching on all channels at one time: the sums are compared at every sample, each channel's last figure standing until
 * its next and no longer than nobody looking is allowed to take. Null when no network told.
 * Samples of each channel in order of time.
 */
export function peakTogether(byAiring: readonly (readonly AirSample[])[]): number | null {
  const next = byAiring.map(() => 0);
  let peak: number | null = null;
  for (;;) {
    const now = Math.min(...byAiring.map((samples, airing) => samples[next[airing]!]?.at ?? Infinity));
    if (now === Infinity) return peak;
    let sum: number | null = null;
    byAiring.forEach((samples, airing) => {
      while (next[airing]! < samples.length && samples[next[airing]!]!.at <= now) next[airing]! += 1;
      const last = samples[next[airing]! - 1];
      if (last && last.watching !== null && now - last.at <= LONGEST_SAMPLE_GAP_MS) sum = (sum ?? 0) + last.watching;
    });
    if (sum !== null) peak = Math.max(peak ?? 0, sum);
  }
}
