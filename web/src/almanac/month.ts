// A month as a page of a calendar: whole weeks, Monday first, and the shows of each day on the clocks of one zone.
import { dateOfDay, dayNumber, instant, wallTimeOf, weekdayOf } from '@lantern/core';

export interface Day<Show> {
  /** YYYY-MM-DD. */
  date: string;
  /** Whether it belongs to the month, and not to the one before or after. */
  inMonth: boolean;
  /** In the order of their starts. */
  shows: Show[];
}

/** As many weeks as a page without a month has. */
const WEEKS_AHEAD = 5;

/** The weeks that a month (YYYY-MM) touches, or those from the week of a day (YYYY-MM-DD) on. */
export function weeksOf<Show extends { startsAt: number }>(from: string, shows: readonly Show[], zone: string): Day<Show>[][] {
  const isMonth = from.length === 7;
  const first = dayNumber(isMonth ? `${from}-01` : from)!;
  const begin = first - weekdayOf(first);
  const last = isMonth ? dayNumber(`${monthOn(from, 1)}-01`)! - 1 : begin + WEEKS_AHEAD * 7 - 1;
  const end = last + 6 - weekdayOf(last);
  const days = Array.from({ length: end - begin + 1 }, (_, at): Day<Show> => ({
    date: dateOfDay(begin + at),
    inMonth: !isMonth || (begin + at >= first && begin + at <= last),
    shows: [],
  }));
  const byDate = new Map(days.map((day) => [day.date, day]));
  for (const show of [...shows].sort((a, b) => a.startsAt - b.startsAt)) byDate.get(wallTimeOf(instant(show.startsAt), zone).date)?.shows.push(show);
  return Array.from({ length: days.length / 7 }, (_, week) => days.slice(week * 7, week * 7 + 7));
}

/** The month (YYYY-MM) so many months on. */
export function monthOn(month: string, by: number): string {
  const count = Number(month.slice(0, 4)) * 12 + Number(month.slice(5, 7)) - 1 + by;
  return `${String(Math.floor(count / 12)).padStart(4, '0')}-${String((count % 12) + 1).padStart(2, '0')}`;
}

/** What an address says of a month; null: nothing that is one. */
export const readMonth = (text: string | null): string | null => (text && /^(20|21)\d{2}-(0[1-9]|1[0-2])$/.test(text) ? text : null);
