// A running order as it is run: which cue is on and since when, how long it has left, and when all that follows would come at this pace.
import { instant, SECOND_MS, type Instant } from '../time/instant';
import type { Cue, CueTimes, RunningOrderTimes } from './times';

/** A cue was begun, at a moment in ms since the epoch. */
export interface CueRan {
  cue: string;
  at: number;
}

/** Of an evening nobody needs more. */
const MOST_RAN = 600;
/** So many of the last are told again and again, so that none is lost while one of two that speak is away. */
const TOLD_AGAIN = 20;

/** What is known of an evening, with what is told of it since. */
export function ranTogether(known: readonly CueRan[], told: readonly CueRan[]): CueRan[] {
  const last = known.at(-1)?.at ?? -Infinity;
  const fresh = told.filter(({ at }) => at > last);
  return fresh.length ? [...known, ...fresh].slice(-MOST_RAN) : [...known];
}

export const ranLately = (ran: readonly CueRan[]): CueRan[] => ran.slice(-TOLD_AGAIN);

/** The name of the cue that was on at a moment; null: none was, or it is in the running order no more. */
export function cueOnAt(cues: readonly Pick<Cue, 'id' | 'name'>[], ran: readonly CueRan[], at: number): string | null {
  const on = ran.findLast((each) => each.at <= at);
  return cues.find(({ id }) => id === on?.cue)?.name.trim() || null;
}

export interface Running {
  /** Null: what was begun last is in the running order no more. */
  on: CueTimes | null;
  since: Instant;
  /** Of the length that is planned for it, in ms; with a minus what it is over. */
  leftMs: number;
  /** The cue that a take begins; null: all have been. */
  next: CueTimes | null;
  /** By how much later than planned the next begins, or without one the end comes, at this pace; with a minus earlier. In ms. */
  lateMs: number;
  /** The end that would come at this pace. */
  endsAt: Instant;
}

/** The cue after the last of those that were begun; the first where none was; null: all have been. */
export function cueAfter<Any extends Pick<Cue, 'id'>>(cues: readonly Any[], begun: readonly string[]): Any | null {
  const known = new Set(cues.map(({ id }) => id));
  const last = begun.findLast((id) => known.has(id));
  return cues[last === undefined ? 0 : cues.findIndex(({ id }) => id === last) + 1] ?? null;
}

/** How the running order stands at `now`; null: none of it has been begun. What is planned for after a fixed time waits for it. */
export function runningNow({ cues, stretches }: RunningOrderTimes, ran: readonly CueRan[], now: Instant): Running | null {
  const last = ran.at(-1);
  if (!last) return null;
  // What was taken out meanwhile is passed over: the next is what follows the last that is still planned.
  const on = cues.find(({ cue }) => cue.id === last.cue) ?? null;
  const after = cueAfter(
    cues.map(({ cue }) => cue),
    ran.map(({ cue }) => cue),
  );
  const known = after ? cues.findIndex(({ cue }) => cue === after) - 1 : cues.length - 1;
  const leftMs = on ? last.at + on.cue.lengthS * SECOND_MS - now : 0;
  const fixed = (at: number): number => stretches.find(({ from }) => from === at)?.begins ?? -Infinity;
  let at: number = now + Math.max(0, leftMs);
  const next = cues[known + 1] ?? null;
  let lateMs = 0;
  for (let following = known + 1; following < cues.length; following++) {
    // A stretch begins where it is fixed to, and not before.
    at = Math.max(at, following > 0 ? fixed(following) : -Infinity);
    if (following === known + 1) lateMs = at - cues[following]!.startsAt;
    at += cues[following]!.cue.lengthS * SECOND_MS;
  }
  const planned = stretches.at(-1)!.until;
  return { on, since: instant(last.at), leftMs, next, lateMs: next ? lateMs : at - planned, endsAt: instant(at) };
}
