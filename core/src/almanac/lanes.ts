// Where things stand in the almanac: rows within a lane, nights, and what a channel does not allow.
import type { RuleSheet } from '../channels/rules';
import { DAY_MS, instant, type Instant } from '../time/instant';
import { readWallTime, wallTimeOf } from '../time/zones';

export interface Span {
  from: number;
  to: number;
}

/**
 * A row for each span, so that no two in a row overlap; as few rows as there are spans at one moment.
 * `spans` in any order; the answer has the same order. n log n.
 */
export function packRows(spans: readonly Span[]): number[] {
  const order = spans.map((_, index) => index).sort((a, b) => spans[a]!.from - spans[b]!.from || spans[a]!.to - spans[b]!.to);
  const rows = new Array<number>(spans.length).fill(0);
  const ends: number[] = [];
  for (const index of order) {
    const { from, to } = spans[index]!;
    let row = ends.findIndex((end) => end <= from);
    if (row < 0) row = ends.length;
    ends[row] = to;
    rows[index] = row;
  }
  return rows;
}

/** When most people are asleep, by the clock of their zone. */
export const NIGHT_FROM = '22:00';
export const NIGHT_TO = '06:00';

/** The nights of `zone` that touch [from, to). */
export function nightsBetween(zone: string, from: Instant, to: Instant): { from: Instant; to: Instant }[] {
  const nights = [];
  for (let at = from - DAY_MS; at < to + DAY_MS; at += DAY_MS) {
    const evening = wallTimeOf(instant(at), zone).date;
    const morning = wallTimeOf(instant(at + DAY_MS), zone).date;
    const begins = readWallTime({ date: evening, time: NIGHT_FROM }, zone);
    const ends = readWallTime({ date: morning, time: NIGHT_TO }, zone);
    if (begins.kind === 'unreadable' || ends.kind === 'unreadable') continue;
    if (ends.instant > from && begins.instant < to && ends.instant > begins.instant) nights.push({ from: begins.instant, to: ends.instant });
  }
  return nights;
}

/** Whether it is night in `zone` at `at`. */
export function isNight(at: Instant, zone: string): boolean {
  const { time } = wallTimeOf(at, zone);
  return time >= NIGHT_FROM || time < NIGHT_TO;
}

/** The starts that a channel takes at `now`: none before and none after. Null where it takes nothing in advance. */
export function startsTaken(rules: RuleSheet, now: Instant): { from: Instant; to: Instant | null } | null {
  if (!rules.maySchedule) return null;
  return { from: instant(now + rules.leastLeadMs), to: rules.furthestAheadMs === null ? null : instant(now + rules.furthestAheadMs) };
}

/** `at` brought to the widest grid of `gridsMs`, which divide the hour. */
export function onGrid(at: number, gridsMs: readonly number[]): Instant {
  const grid = Math.max(60_000, ...gridsMs);
  return instant(Math.round(at / grid) * grid);
}
