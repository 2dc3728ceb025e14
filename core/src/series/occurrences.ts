// The instants of a series, and what its wall time is for people in other zones.
import { DAY_MS, instant, MINUTE_MS, type Instant } from '../time/instant';
import { offsetMsAt, readWallTime, wallTimeOf } from '../time/zones';
import { datesOf, type Repeat } from './repeat';
import { dateOfDay, dayNumber } from '../time/days';

/** A city of the audience. */
export interface City {
  name: string;
  /** IANA zone. */
  zone: string;
}

/**
 * One date of a series. It keeps its wall time in the show's zone. `wall` tells where that time is skipped by
 * a clock change or shown twice; `startsAt` is then the reading of RFC 5545, section 3.3.5 (the offset before
 * a gap; the first of two), which the host is asked about before it is placed.
 */
export interface Occurrence {
  date: string;
  startsAt: Instant;
  wall: 'once' | 'skipped' | 'twice';
}

export function occurrenceOn(date: string, time: string, zone: string): Occurrence {
  const reading = readWallTime({ date, time }, zone);
  if (reading.kind === 'unreadable') throw new RangeError(`${date} ${time} in ${zone} is no wall time`);
  if (reading.kind === 'skipped') {
    const asUtc = Date.parse(`${date}T${time}:00Z`);
    return { date, startsAt: instant(asUtc - offsetMsAt(reading.instant - 1, zone)), wall: 'skipped' };
  }
  return { date, startsAt: reading.instant, wall: reading.kind };
}

/** The occurrence where clocks are not changed for a day on either side; null where they are. Most days, and the quick way. */
function onAnOrdinaryDay(date: string, inTheDayMs: number, zone: string): Occurrence | null {
  const asUtc = Date.UTC(Number(date.slice(0, 4)), Number(date.slice(5, 7)) - 1, Number(date.slice(8))) + inTheDayMs;
  const offset = offsetMsAt(asUtc - DAY_MS, zone);
  if (offset !== offsetMsAt(asUtc + DAY_MS, zone)) return null;
  return { date, startsAt: instant(asUtc - offset), wall: 'once' };
}

/** The occurrences that start within [from, to), `most` of them at the most. `time` is HH:MM in `zone`. */
export function occurrencesOf(repeat: Repeat, time: string, zone: string, from: Instant, to: Instant, most = Infinity): Occurrence[] {
  // A day of slack at either end: zones are up to 14 hours from UTC.
  const days = datesOf(repeat, dateOfDay(Math.floor(from / DAY_MS) - 1), dateOfDay(Math.floor(to / DAY_MS) + 1), most === Infinity ? most : most + 3);
  const inTheDayMs = (Number(time.slice(0, 2)) * 60 + Number(time.slice(3))) * MINUTE_MS;
  return days
    .map((date) => onAnOrdinaryDay(date, inTheDayMs, zone) ?? occurrenceOn(date, time, zone))
    .filter(({ startsAt }) => startsAt >= from && startsAt < to)
    .slice(0, most);
}

/** From `from` on, viewers in `city` find the show `byMs` later (negative: earlier) on their clocks than before. */
export interface Shift {
  city: City;
  from: string;
  byMs: number;
}

/** How far the wall clock of `zone` shows from midnight UTC of the occurrence's own date, in ms. */
function wallFrom(date: string, startsAt: Instant, zone: string): number {
  const wall = wallTimeOf(startsAt, zone);
  const [hours, minutes] = wall.time.split(':').map(Number) as [number, number];
  return (dayNumber(wall.date)! - dayNumber(date)!) * DAY_MS + (hours * 60 + minutes) * 60_000;
}

/** Where the clock time of the series changes for viewers in `cities`, in order of time; none for cities that go with the show's zone. */
export function shiftsFor(occurrences: readonly Occurrence[], cities: readonly City[]): Shift[] {
  const shifts: Shift[] = [];
  for (const city of cities) {
    let before: number | null = null;
    for (const { date, startsAt } of occurrences) {
      const wall = wallFrom(date, startsAt, city.zone);
      if (before !== null && wall !== before) shifts.push({ city, from: date, byMs: wall - before });
      before = wall;
    }
  }
  return shifts.sort((a, b) => (a.from < b.from ? -1 : a.from > b.from ? 1 : 0));
}
