// How many watched over the time of a show: all channels on one grid of moments, how long they watched, and when most came and went.
import { instant, MINUTE_MS, type Instant } from '../time/instant';
import { LONGEST_SAMPLE_GAP_MS, type AirSample } from './figures';

/** One moment. `by`: for each airing how many watched; null: its network did not tell at that time. */
export interface WatchingAt {
  at: Instant;
  by: (number | null)[];
}

/**
 * All airings at the same moments, `everyMs` apart from `from` on. Each figure stands until the next one of its airing, and no longer than
 * nobody looking is allowed to take. Samples of each airing in order of time. Linear in samples and moments.
 */
export function watchingTogether(byAiring: readonly (readonly AirSample[])[], from: number, to: number, everyMs: number): WatchingAt[] {
  const next = byAiring.map(() => 0);
  const moments: WatchingAt[] = [];
  for (let at = from; at <= to; at += everyMs) {
    const by = byAiring.map((samples, airing) => {
      while (next[airing]! < samples.length && samples[next[airing]!]!.at <= at) next[airing]! += 1;
      const last = samples[next[airing]! - 1];
      return last && at - last.at <= LONGEST_SAMPLE_GAP_MS ? last.watching : null;
    });
    moments.push({ at: instant(at), by });
  }
  return moments;
}

/** All together; null: no network told. */
export const totalOf = ({ by }: WatchingAt): number | null => {
  const told = by.filter((watching) => watching !== null);
  return told.length ? told.reduce((sum, watching) => sum + watching, 0) : null;
};

export interface WatchTime {
  /** What all who watched watched, in ms: ten for a minute are ten minutes. */
  watchedMs: number;
  /** For how long it was told how many they were, in ms. */
  toldMs: number;
}

/** Of one airing; `samples` in order of time. */
export function watchTimeOf(samples: readonly AirSample[]): WatchTime {
  const time: WatchTime = { watchedMs: 0, toldMs: 0 };
  samples.forEach(({ at, watching }, index) => {
    const next = samples[index + 1];
    if (watching === null || !next || next.at - at > LONGEST_SAMPLE_GAP_MS) return;
    time.watchedMs += watching * (next.at - at);
    time.toldMs += next.at - at;
  });
  return time;
}

/** Something in a show that may be why people came or went. */
export interface ShowPart {
  kind: 'break' | 'fault' | 'cue';
  name: string;
  from: number;
  to: number;
}

export interface Moment {
  /** How many more, or fewer (negative), watched at its end than at its beginning. */
  by: number;
  from: Instant;
  to: Instant;
  /** What was going on; null: nothing that is known. */
  during: ShowPart | null;
}

const WINDOW_MS = 4 * MINUTE_MS;
/** Everybody comes at the beginning and goes at the end. */
const BEGINNING_MS = 3 * MINUTE_MS;
const ENDING_MS = 2 * MINUTE_MS;
/** Fewer are a coming and going that means nothing. */
const LEAST = 3;
const LEAST_SHARE = 0.1;
const WEIGHT: Record<ShowPart['kind'], number> = { break: 3, fault: 2, cue: 1 };

/** The four minutes in which most came, and those in which most went, where that was more than the usual coming and going. */
export function momentsOf(moments: readonly WatchingAt[], parts: readonly ShowPart[]): { gain: Moment | null; loss: Moment | null } {
  const [first, last] = [moments[0], moments.at(-1)];
  if (!first || !last) return { gain: null, loss: null };
  const totals = moments.map(totalOf);
  const peak = Math.max(0, ...totals.map((total) => total ?? 0));
  const least = Math.max(LEAST, peak * LEAST_SHARE);
  const windows: { from: Instant; to: Instant; by: number }[] = [];
  let end = 0;
  moments.forEach(({ at }, begin) => {
    if (at < first.at + BEGINNING_MS) return;
    while (end < moments.length && moments[end]!.at < at + WINDOW_MS) end += 1;
    const after = moments[end];
    const [had, has] = [totals[begin], after && totals[end]];
    if (!after || after.at > last.at - ENDING_MS || had === null || had === undefined || has === null || has === undefined) return;
    windows.push({ from: at, to: after.at, by: has - had });
  });
  /** Of several that are the same, the one in the middle: in it stands what they have in common. */
  const most = (sign: 1 | -1): Moment | null => {
    const best = Math.max(0, ...windows.map(({ by }) => sign * by));
    const same = windows.filter(({ by }) => sign * by === best);
    const window = same[same.length >> 1];
    return best >= least && window ? { ...window, during: partAt(parts, window.from, window.to) } : null;
  };
  return { gain: most(1), loss: most(-1) };
}

/** What was going on: a break before a fault, that before a cue that began; of several the one that began first. */
function partAt(parts: readonly ShowPart[], from: number, to: number): ShowPart | null {
  const there = parts.filter((part) => (part.kind === 'cue' ? part.from >= from - MINUTE_MS && part.from < to : part.from < to && part.to > from));
  return there.sort((a, b) => WEIGHT[b.kind] - WEIGHT[a.kind] || a.from - b.from)[0] ?? null;
}

/** "31 fewer in the four minutes of the break." */
export function sayChange({ by, to, during }: Moment): string {
  const count = `${Math.abs(by)} ${by < 0 ? 'fewer' : 'more'}`;
  // Whoever comes back comes as it ends.
  const ends = by > 0 && during !== null && during.to <= to;
  if (ends && during.kind === 'break') return `${count} as a break ended`;
  if (ends && during.kind === 'fault') return `${count} as the trouble of ${during.name} ended`;
  if (during?.kind === 'break') return `${count} in the four minutes around a break`;
  if (during?.kind === 'fault') return `${count} while ${during.name} was in trouble`;
  return during ? `${count} as “${during.name}” began` : `${count} within four minutes`;
}

/** The times in which an airing was in trouble, of `name`; `samples` in order of time. */
export function timesOfFault(samples: readonly AirSample[], name: string): ShowPart[] {
  const parts: ShowPart[] = [];
  samples.forEach(({ at, lamp }, index) => {
    if (lamp !== 'fault') return;
    const next = samples[index + 1];
    const to = next && next.at - at <= LONGEST_SAMPLE_GAP_MS ? next.at : at;
    const open = parts.at(-1);
    if (open && open.to === at) open.to = to;
    else parts.push({ kind: 'fault', name, from: at, to });
  });
  return parts;
}
