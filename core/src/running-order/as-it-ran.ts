// The next plan of a running order, from how long its cues really took.
import type { Cue } from './times';

/** Planned to so many seconds: nobody plans finer. */
const STEP_S = 5;
const LEAST_S = 5;

/**
 * The cues with the lengths that they had. One that was begun several times has all of it; one that was left out, or was still running when
 * the show was wrapped up, keeps its own. `ran`: in ms, by the names of cues; null: it is not known how long.
 */
export function cuesAsTheyRan(cues: readonly Cue[], ran: readonly { name: string; lengthMs: number | null }[]): Cue[] {
  const took = new Map<string, number | null>();
  for (const { name, lengthMs } of ran) {
    const before = took.get(name);
    took.set(name, lengthMs === null || before === null ? null : (before ?? 0) + lengthMs);
  }
  return cues.map((cue) => {
    const lengthMs = took.get(cue.name.trim());
    return lengthMs ? { ...cue, lengthS: Math.max(LEAST_S, Math.round(lengthMs / 1_000 / STEP_S) * STEP_S) } : cue;
  });
}
