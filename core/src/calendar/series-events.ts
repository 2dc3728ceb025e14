// A series as a calendar says it: its rule in one event, and what differs on single dates in others beside it.
import { instant, type Instant } from '../time/instant';
import { occurrenceOn } from '../series/occurrences';
import { datesOf, toRRule, type Repeat } from '../series/repeat';
import { EARLIEST_DATE, LATEST_DATE } from '../time/days';
import { utcStamp, type CalendarEvent } from './write';

/** The words and the length that a date of a series has in a calendar. */
export interface CalendarWords {
  title: string;
  text: string;
  lengthMs: number;
  url: string;
  sequence: number;
  changedAt: Instant;
}

export interface SeriesInCalendar extends CalendarWords {
  uid: string;
  repeat: Repeat;
  /** Wall time of the start, HH:MM in `zone`. */
  time: string;
  zone: string;
}

/** One date as it really is: `date` is the one by the rule. */
export interface DateInCalendar extends CalendarWords {
  date: string;
  startsAt: Instant;
  status: CalendarEvent['status'];
}

/**
 * The events of a series (RFC 5545, section 3.8.5): its rule, and one for each of `differing`. Empty where the rule has no
 * date. A calendar takes the start of the first event for a date of the series whether the rule meets it or not, so that it
 * must be one: the first that the pattern has.
 */
export function seriesEvents(series: SeriesInCalendar, differing: readonly DateInCalendar[]): CalendarEvent[] {
  const { uid, repeat, time, zone, title, text, lengthMs, url, sequence, changedAt } = series;
  const at = (date: string) => occurrenceOn(date, time, zone).startsAt;
  const [first] = datesOf({ ...repeat, dropped: [] }, EARLIEST_DATE, LATEST_DATE, 1);
  const [met] = repeat.pattern ? datesOf({ ...repeat, dropped: [], also: [] }, repeat.from, LATEST_DATE, 1) : [first];
  const begins = met ?? first;
  if (begins === undefined) return [];
  const until = repeat.ends.kind === 'until' ? utcStamp(at(repeat.ends.date)) : null;
  const rule = met === undefined ? null : toRRule(repeat, until);
  const listed = repeat.pattern ? repeat.also : [...new Set([repeat.from, ...repeat.also])].sort();
  const master: CalendarEvent = {
    ...{ uid, title, text, lengthMs, zone, url, sequence, changedAt, startsAt: at(begins), status: 'CONFIRMED', insteadOf: null },
    repeat: { rule, added: listed.filter((date) => date !== begins).map(at), taken: repeat.dropped.map(at) },
  };
  return [
    master,
    ...differing.map(({ date, ...own }): CalendarEvent => ({ ...own, uid, zone, startsAt: instant(own.startsAt), repeat: null, insteadOf: at(date) })),
  ];
}
