// When each cue of a running order begins and must end: forwards from the start and from each fixed time, backwards from the next one and from the
// end. Between two fixed times lies a stretch, which is over, under or on time by itself.
import type { SceneId } from '../scenes/scene';
import { DAY_MS, instant, SECOND_MS, type Instant } from '../time/instant';
import { dateOfDay, dayNumber } from '../time/days';
import { readWallTime, wallTimeOf } from '../time/zones';

/** One part of a show. `lengthS`: planned, in seconds. `hardAt`: when it begins whatever is before it, HH:MM or HH:MM:SS by the clocks of the show; null: after it. */
export interface Cue {
  id: string;
  name: string;
  lengthS: number;
  hardAt: string | null;
  who: string;
  notes: string;
  /** The scene that comes with it; null or missing: the one that is on stays. */
  scene?: SceneId | null;
}

export interface CueTimes {
  cue: Cue;
  startsAt: Instant;
  endsAt: Instant;
  /** The latest moment at which it may end if all that follows is to have its planned length. */
  endBy: Instant;
}

/** Cues `from` up to, not with, `to`, which have from `begins` until `until`. */
export interface Stretch {
  from: number;
  to: number;
  begins: Instant;
  until: Instant;
  /** What is planned beyond the time there is, in ms; with a minus what is left. */
  overMs: number;
}

export interface RunningOrderTimes {
  cues: CueTimes[];
  stretches: Stretch[];
}

/** The whole evening, for whom the clocks show `zone`. */
export interface Evening {
  startsAt: Instant;
  endsAt: Instant;
  zone: string;
}

/**
 * The first moment from `from` on at which clocks in `zone` show `time` (HH:MM or HH:MM:SS), within a day; null: they never do. Of a time that
 * clocks show twice, the first.
 */
export function nextAt(time: string, from: Instant, zone: string): Instant | null {
  const [, clock, seconds] = /^(\d\d:\d\d)(?::(\d\d))?$/.exec(time) ?? [];
  if (clock === undefined) return null;
  const today = dayNumber(wallTimeOf(from, zone).date)!;
  for (const day of [today, today + 1]) {
    const read = readWallTime({ date: dateOfDay(day), time: clock }, zone);
    const found = read.kind === 'once' ? [read.instant] : read.kind === 'twice' ? [read.instant, read.later] : [];
    for (const minute of found) {
      const at = instant(minute + Number(seconds ?? 0) * SECOND_MS);
      if (at >= from && at - from < DAY_MS) return at;
    }
  }
  return null;
}

/** A cue whose fixed time the clocks never show follows the one before it. An evening without cues has one stretch without any. */
export function runningOrderTimes(cues: readonly Cue[], { startsAt, endsAt, zone }: Evening): RunningOrderTimes {
  const fixed = cues.map(({ hardAt }) => (hardAt === null ? null : nextAt(hardAt, startsAt, zone)));
  const stretches: Stretch[] = [];
  let from = 0;
  let begins = startsAt;
  for (let to = 1; to <= cues.length; to++) {
    const until = to === cues.length ? endsAt : fixed[to];
    if (until === undefined || until === null) continue;
    stretches.push({ from, to, begins, until, overMs: 0 });
    [from, begins] = [to, until];
  }
  if (!cues.length) stretches.push({ from: 0, to: 0, begins: startsAt, until: endsAt, overMs: startsAt - endsAt });
  // What begins at a fixed time of its own, alone at the top, has a stretch of nothing before it.
  const first = fixed[0];
  if (first !== undefined && first !== null && first !== startsAt && stretches[0]) {
    stretches[0] = { ...stretches[0], begins: first };
    stretches.unshift({ from: 0, to: 0, begins: startsAt, until: first, overMs: startsAt - first });
  }
  const times: CueTimes[] = [];
  for (const stretch of stretches) {
    const own = cues.slice(stretch.from, stretch.to);
    let at: number = stretch.begins;
    for (const cue of own) {
      const ends = at + cue.lengthS * SECOND_MS;
      times.push({ cue, startsAt: instant(at), endsAt: instant(ends), endBy: stretch.until });
      at = ends;
    }
    if (own.length) stretch.overMs = at - stretch.until;
    let by: number = stretch.until;
    for (let index = stretch.to - 1; index >= stretch.from; index--) {
      times[index]!.endBy = instant(by);
      by -= cues[index]!.lengthS * SECOND_MS;
    }
  }
  return { cues: times, stretches };
}

/** What is due at a moment by the plan, and what comes then; null: nothing is. Of two at once the one that began later. */
export function dueAt({ cues }: RunningOrderTimes, at: Instant): { now: CueTimes | null; then: CueTimes | null } {
  // By their order, not by how many have begun: what is over may begin only after the fixed time that follows it.
  const index = cues.findLastIndex(({ startsAt }) => startsAt <= at);
  const last = cues[index];
  return { now: last && at < last.endsAt ? last : null, then: cues[index + 1] ?? null };
}

/** Of how much of its length a cue is thought to be able to do without. */
const MOST_SHORTENED = 0.5;

/** By how many seconds which cues are made shorter so that `overMs` is made good: the longest first, none to less than half. `rest`: ms that are still over then. */
export function toShorten(cues: readonly Cue[], overMs: number): { by: { cue: Cue; seconds: number }[]; restMs: number } {
  let left = Math.ceil(overMs / SECOND_MS);
  const by: { cue: Cue; seconds: number }[] = [];
  for (const cue of [...cues].sort((a, b) => b.lengthS - a.lengthS)) {
    const seconds = Math.min(left, Math.floor(cue.lengthS * MOST_SHORTENED));
    if (seconds <= 0) break;
    by.push({ cue, seconds });
    left -= seconds;
  }
  return { by, restMs: Math.max(0, left) * SECOND_MS };
}

/** Cues in another order: the one at `from` stands at `to` then. */
export function moved<Item>(items: readonly Item[], from: number, to: number): Item[] {
  const rest = items.filter((_, index) => index !== from);
  const item = items[from];
  return item === undefined ? rest : [...rest.slice(0, to), item, ...rest.slice(to)];
}
