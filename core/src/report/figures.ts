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
 */
export function peakTogether(byAiring: readonly (readonly AirSample[])[]): number | null {
  const steps = byAiring.flatMap((samples, airing) => samples.map(({ at, watching }) => ({ airing, at, watching }))).sort((a, b) => a.at - b.at);
  const latest = byAiring.map((): { at: number; watching: number | null } => ({ at: -Infinity, watching: null }));
  let peak: number | null = null;
  steps.forEach((step, index) => {
    latest[step.airing] = step;
    // Of several at one moment the last knows all of them.
    if (steps[index + 1]?.at === step.at) return;
    const told = latest.flatMap(({ at, watching }) => (watching !== null && step.at - at <= LONGEST_SAMPLE_GAP_MS ? [watching] : []));
    if (told.length) peak = Math.max(peak ?? 0, sum(told));
  });
  return peak;
}

const sum = (counts: readonly number[]): number => counts.reduce((all, count) => all + count, 0);
