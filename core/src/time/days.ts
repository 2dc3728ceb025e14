// Days of the calendar, whatever clocks show on them.
import { DAY_MS } from './instant';

/** Days of the week as RFC 5545 writes them, Monday first. */
export const WEEKDAYS = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'] as const;
export type Weekday = (typeof WEEKDAYS)[number];

/** Dates outside of these are slips of the keys. */
export const EARLIEST_DATE = '2000-01-01';
export const LATEST_DATE = '2199-12-31';

/** Days since 1970-01-01 of a day of the calendar; null where there is no such day. */
export function dayNumber(date: string): number | null {
  const read = /^(\d{4})-(\d{2})-(\d{2})$/.exec(date);
  if (!read) return null;
  const ms = Date.UTC(+read[1]!, +read[2]! - 1, +read[3]!);
  return new Date(ms).toISOString().startsWith(date) ? ms / DAY_MS : null;
}

/** Days are named once: all series of a station fall on the same few hundred. */
const names = new Map<number, string>();

export function dateOfDay(day: number): string {
  let name = names.get(day);
  if (name === undefined) names.set(day, (name = new Date(day * DAY_MS).toISOString().slice(0, 10)));
  return name;
}

/** 0 for a Monday. 1970-01-01 was a Thursday. */
export const weekdayOf = (day: number): number => (((day + 3) % 7) + 7) % 7;
export const weekdayOfDate = (date: string): Weekday => WEEKDAYS[weekdayOf(dayNumber(date)!)]!;
