// Rules by which a show repeats: the part of RFC 5545, section 3.3.10, that hosts speak of. Rules are about
// days of the calendar; what instants they stand for is worked out in occurrences.ts.
import { listed as listWords } from '../text/listed';
import { dateOfDay, dayNumber, EARLIEST_DATE, LATEST_DATE, WEEKDAYS, weekdayOf, weekdayOfDate, type Weekday } from '../time/days';
import { DAY_MS } from '../time/instant';

const WEEKDAY_NAMES: Record<Weekday, string> = {
  MO: 'Monday',
  TU: 'Tuesday',
  WE: 'Wednesday',
  TH: 'Thursday',
  FR: 'Friday',
  SA: 'Saturday',
  SU: 'Sunday',
};

/** Which of a month's days of one name; -1 is the last. */
export type Nth = 1 | 2 | 3 | 4 | 5 | -1;

/** How often: in whole days, weeks (beginning on Monday) or months, every `interval` of them. */
export type Pattern =
  | { every: 'day'; interval: number }
  | { every: 'week'; interval: number; on: readonly Weekday[] }
  | { every: 'month'; interval: number; onDate: number }
  | { every: 'month'; interval: number; nth: Nth; on: Weekday };

/** `until` is the last day that may be one, YYYY-MM-DD; `count` counts the dates of the pattern, the dropped ones too. */
export type Ending = { kind: 'never' } | { kind: 'until'; date: string } | { kind: 'count'; count: number };

/**
 * A rule of repetition from its first day on. `pattern` null: only the listed days. `also` adds days and
 * `dropped` takes days away, wherever they came from (RDATE and EXDATE of RFC 5545, sections 3.8.5.2 and 3.8.5.1).
 */
export interface Repeat {
  pattern: Pattern | null;
  from: string;
  ends: Ending;
  also: readonly string[];
  dropped: readonly string[];
}

export const INTERVAL_MAX = 60;
/** What one series may hold: more is a slip of the keys. */
export const COUNT_MAX = 1_000;
export const LISTED_MAX = 366;

/** What is wrong with a rule, in words with the way out; null: nothing. `from` must be a day. */
export function repeatTrouble({ pattern, from, ends, also, dropped }: Repeat): string | null {
  const listed = [...also, ...dropped].find((date) => dayNumber(date) === null);
  if (dayNumber(from) === null) return 'Choose the first date.';
  if (from < EARLIEST_DATE || from > LATEST_DATE) return `The first date lies in the year ${Number(from.slice(0, 4))}. Choose one from 2000 on.`;
  if (listed !== undefined) return `“${listed.slice(0, 20)}” is not a day of the calendar. Write dates as 2026-12-31.`;
  if (also.length > LISTED_MAX || dropped.length > LISTED_MAX) return `A series can list at most ${LISTED_MAX} dates. Use a rule for the rest.`;
  if (!pattern) return null;
  if (!Number.isInteger(pattern.interval) || pattern.interval < 1 || pattern.interval > INTERVAL_MAX) {
    return `Repeat every 1 to ${INTERVAL_MAX} ${pattern.every}s.`;
  }
  if (pattern.every === 'week' && pattern.on.length === 0) return 'Tick at least one day of the week.';
  if ('onDate' in pattern && !(Number.isInteger(pattern.onDate) && pattern.onDate >= 1 && pattern.onDate <= 31))
    return 'Choose a day of the month from 1 to 31.';
  if (pattern.every === 'month') {
    const never = neverMet(pattern, from);
    if (never !== null) return never;
  }
  if (ends.kind === 'count' && !(Number.isInteger(ends.count) && ends.count >= 1 && ends.count <= COUNT_MAX)) {
    return `Say how often, from once to ${COUNT_MAX} times; or let the series go on until a date.`;
  }
  if (ends.kind === 'until') {
    if (dayNumber(ends.date) === null) return 'Choose the last date.';
    if (ends.date < from) return 'The last date lies before the first. Choose a later one.';
  }
  return null;
}

/**
 * The days of a series within [from, to], in order, each once: `most` of them at the most. Days that a month
 * does not have are left out (RFC 5545, section 3.3.10: invalid dates are ignored). The first day counts only
 * where the pattern meets it. A rule with trouble has no days.
 */
export function datesOf(repeat: Repeat, from: string, to: string, most = Infinity): string[] {
  if (repeatTrouble(repeat) !== null) return [];
  const [first, last] = [dayNumber(from), dayNumber(to)];
  if (first === null || last === null) return [];
  const dropped = new Set(repeat.dropped);
  const listed = [...(repeat.pattern ? [] : [repeat.from]), ...repeat.also].filter((date) => date >= from && date <= to && !dropped.has(date)).sort();
  const found: string[] = [];
  const take = (date: string): boolean => {
    if (found[found.length - 1] !== date) found.push(date);
    return found.length < most;
  };
  let at = 0;
  for (const day of repeat.pattern ? patternDays(repeat, first, last) : []) {
    const date = dateOfDay(day);
    if (dropped.has(date)) continue;
    while (at < listed.length && listed[at]! < date) if (!take(listed[at++]!)) return found;
    if (!take(date)) return found;
  }
  while (at < listed.length) if (!take(listed[at++]!)) return found;
  return found;
}

/** The days of the pattern within [first, last]. Where the rule counts, it is counted from its beginning. */
function* patternDays(repeat: Repeat, first: number, last: number): Generator<number> {
  const begins = dayNumber(repeat.from)!;
  const ends = repeat.ends.kind === 'until' ? Math.min(last, dayNumber(repeat.ends.date)!) : last;
  let left = repeat.ends.kind === 'count' ? repeat.ends.count : Infinity;
  for (const day of walk(repeat.pattern!, begins, left === Infinity ? Math.max(begins, first) : begins, ends)) {
    if (day === null) continue;
    if (left <= 0) return;
    left -= 1;
    if (day >= first) yield day;
  }
}

/**
 * The days of a pattern that begins on `begins`, from `from` to `last`. Each step is yielded, one that meets no day as null,
 * so that whoever walks can count the steps; a walk ends with `last`, whether it has met a day or not.
 */
export function* walk(pattern: Pattern, begins: number, from: number, last: number): Generator<number | null> {
  const { interval } = pattern;
  switch (pattern.every) {
    case 'day':
      for (let day = begins + Math.ceil((from - begins) / interval) * interval; day <= last; day += interval) yield day;
      return;
    case 'week': {
      const on = WEEKDAYS.flatMap((name, index) => (pattern.on.includes(name) ? [index] : []));
      const monday = begins - weekdayOf(begins);
      for (let week = Math.floor((from - monday) / 7 / interval) * interval; monday + week * 7 <= last; week += interval) {
        for (const index of on) {
          const day = monday + week * 7 + index;
          if (day > last) return;
          yield day >= from ? day : null;
        }
      }
      return;
    }
    case 'month': {
      const beginMonth = monthOf(begins);
      for (let month = beginMonth + Math.floor((monthOf(from) - beginMonth) / interval) * interval; firstOf(month) <= last; month += interval) {
        const day = dayOfMonth(pattern, month);
        if (day !== null && day > last) return;
        yield day !== null && day >= from ? day : null;
      }
    }
  }
}

function dayOfMonth(pattern: Extract<Pattern, { every: 'month' }>, month: number): number | null {
  return 'onDate' in pattern ? nthDate(month, pattern.onDate) : nthWeekday(month, pattern.nth, WEEKDAYS.indexOf(pattern.on));
}

/** After so many months the calendar comes round again: 400 years (ISO 8601, the Gregorian calendar). */
const MONTHS_OF_THE_CALENDAR = 4_800;

/** What is wrong with a rule by months that no month ever meets; null: one does. */
function neverMet(pattern: Extract<Pattern, { every: 'month' }>, from: string): string | null {
  const begin = monthOf(dayNumber(from)!);
  for (let month = begin; month < begin + MONTHS_OF_THE_CALENDAR; month += pattern.interval) if (dayOfMonth(pattern, month) !== null) return null;
  const name = new Intl.DateTimeFormat('en-GB', { month: 'long', timeZone: 'UTC' }).format(firstOf(begin) * DAY_MS);
  const day = 'onDate' in pattern ? ordinal(pattern.onDate) : `${NTH_WORDS[pattern.nth]} ${WEEKDAY_NAMES[pattern.on]}`;
  // Leap days and fifth weekdays come in some years only.
  const which = 'onDate' in pattern && pattern.onDate > 29 ? `No ${name} has` : `No ${name} of these years has`;
  return `${which} a ${day}. Choose another day of the month, or another distance.`;
}

/** Months since January 1970. */
function monthOf(day: number): number {
  const date = new Date(day * DAY_MS);
  return (date.getUTCFullYear() - 1970) * 12 + date.getUTCMonth();
}

const firstOf = (month: number): number => Date.UTC(1970, month, 1) / DAY_MS;

function nthDate(month: number, date: number): number | null {
  const day = firstOf(month) + date - 1;
  return day < firstOf(month + 1) ? day : null;
}

function nthWeekday(month: number, nth: Nth, weekday: number): number | null {
  if (nth === -1) {
    const last = firstOf(month + 1) - 1;
    return last - ((weekdayOf(last) - weekday + 7) % 7);
  }
  const first = firstOf(month);
  const day = first + ((weekday - weekdayOf(first) + 7) % 7) + (nth - 1) * 7;
  return day < firstOf(month + 1) ? day : null;
}

const NTH_WORDS: Record<Nth, string> = { 1: 'first', 2: 'second', 3: 'third', 4: 'fourth', 5: 'fifth', [-1]: 'last' };
const ordinal = (n: number): string => `${n}${n % 10 === 1 && n !== 11 ? 'st' : n % 10 === 2 && n !== 12 ? 'nd' : n % 10 === 3 && n !== 13 ? 'rd' : 'th'}`;

/** "12 March 2027". */
export function sayDate(date: string, withWeekday = false): string {
  const options = { day: 'numeric', month: 'long', year: 'numeric', timeZone: 'UTC', ...(withWeekday && { weekday: 'long' as const }) } as const;
  return new Intl.DateTimeFormat('en-GB', options).format(new Date(`${date}T00:00:00Z`));
}

/** "Every Thursday, until 12 March 2027", "The last Saturday of each month, 12 times". */
export function sayRepeat(repeat: Repeat): string {
  const { pattern, ends, also, dropped } = repeat;
  const listed = also.length + (pattern ? 0 : 1);
  const said = [pattern ? sayPattern(pattern) : `On ${listed} listed ${listed === 1 ? 'date' : 'dates'}`];
  if (pattern && ends.kind === 'until') said.push(`until ${sayDate(ends.date)}`);
  if (pattern && ends.kind === 'count') said.push(ends.count === 1 ? 'once' : `${ends.count} times`);
  if (pattern && also.length) said.push(`and on ${also.length} more ${also.length === 1 ? 'date' : 'dates'}`);
  if (dropped.length) said.push(`without ${dropped.length} dropped`);
  return said.join(', ');
}

function sayPattern(pattern: Pattern): string {
  const { interval } = pattern;
  if (pattern.every === 'day') return interval === 1 ? 'Every day' : `Every ${interval} days`;
  if (pattern.every === 'week') {
    const days = WEEKDAYS.filter((name) => pattern.on.includes(name)).map((name) => WEEKDAY_NAMES[name]);
    return interval === 1 ? `Every ${listWords(days)}` : `Every ${interval} weeks on ${listWords(days)}`;
  }
  const month = interval === 1 ? 'each month' : `every ${interval} months`;
  if (!('onDate' in pattern)) return `The ${NTH_WORDS[pattern.nth]} ${WEEKDAY_NAMES[pattern.on]} of ${month}${pattern.nth === 5 ? ' that has one' : ''}`;
  return `The ${ordinal(pattern.onDate)} of ${month}${pattern.onDate > 28 ? ' that has one' : ''}`;
}

/** The rule part of RFC 5545, section 3.3.10, without its name; null where there is only a list. `untilUtc` is the last start, as 20270312T203000Z. */
export function toRRule({ pattern, ends }: Repeat, untilUtc: string | null): string | null {
  if (!pattern) return null;
  const parts = [`FREQ=${{ day: 'DAILY', week: 'WEEKLY', month: 'MONTHLY' }[pattern.every]}`];
  if (pattern.interval > 1) parts.push(`INTERVAL=${pattern.interval}`);
  if (pattern.every === 'week') parts.push(`BYDAY=${WEEKDAYS.filter((name) => pattern.on.includes(name)).join(',')}`);
  if ('onDate' in pattern) parts.push(`BYMONTHDAY=${pattern.onDate}`);
  if ('nth' in pattern) parts.push(`BYDAY=${pattern.nth}${pattern.on}`);
  if (ends.kind === 'count') parts.push(`COUNT=${ends.count}`);
  if (ends.kind === 'until' && untilUtc) parts.push(`UNTIL=${untilUtc}`);
  return parts.join(';');
}

/**
 * Reads a rule of RFC 5545 for a series whose first day is `from`. Answers with the reason, in words, where
 * the rule says something that this product does not repeat by. `lastDay`: the day of the series on which an UNTIL falls,
 * which is written in UTC; otherwise its own day.
 */
export function readRRule(
  text: string,
  from: string,
  lastDay: (until: string) => string = (until) => until.replace(/^(\d{4})(\d{2})(\d{2}).*$/, '$1-$2-$3'),
): { pattern: Pattern; ends: Ending } | { refused: string } {
  const parts = new Map(text.split(';').map((part) => part.split('=', 2).map((word) => word.trim().toUpperCase()) as [string, string]));
  const unknown = [...parts.keys()].find((name) => !['FREQ', 'INTERVAL', 'BYDAY', 'BYMONTHDAY', 'COUNT', 'UNTIL', 'WKST'].includes(name));
  const no = (what: string) => ({ refused: `it repeats by ${what}, which is not done here; plan those dates by hand` });
  if (unknown !== undefined) return no(unknown.slice(0, 20));
  if (![undefined, 'MO'].includes(parts.get('WKST')) && Number(parts.get('INTERVAL') ?? 1) > 1) return no('weeks that do not begin on Monday');
  const interval = Number(parts.get('INTERVAL') ?? 1);
  const days = parts.get('BYDAY')?.split(',') ?? [];
  const date = parts.get('BYMONTHDAY');
  const until = parts.get('UNTIL');
  const ends: Ending = parts.has('COUNT')
    ? { kind: 'count', count: Number(parts.get('COUNT')) }
    : until
      ? { kind: 'until', date: lastDay(until) }
      : { kind: 'never' };
  const plain = (name: string): name is Weekday => (WEEKDAYS as readonly string[]).includes(name);
  let pattern: Pattern;
  switch (parts.get('FREQ')) {
    case 'DAILY':
      if (days.length || date !== undefined) return no('days within days');
      pattern = { every: 'day', interval };
      break;
    case 'WEEKLY':
      if (!days.every(plain) || date !== undefined) return no('numbered days within weeks');
      pattern = { every: 'week', interval, on: days.length ? (days as Weekday[]) : [weekdayOfDate(from)] };
      break;
    case 'MONTHLY': {
      const nth = /^(-1|[1-5])(MO|TU|WE|TH|FR|SA|SU)$/.exec(days[0] ?? '');
      if (days.length > 1 || (days.length && (!nth || date !== undefined))) return no('several days of a month');
      if (nth) pattern = { every: 'month', interval, nth: Number(nth[1]) as Nth, on: nth[2] as Weekday };
      else pattern = { every: 'month', interval, onDate: date === undefined ? Number(from.slice(8)) : Number(date) };
      break;
    }
    default:
      return no(`FREQ=${(parts.get('FREQ') ?? '').slice(0, 12)}`);
  }
  const trouble = repeatTrouble({ pattern, from, ends, also: [], dropped: [] });
  return trouble === null ? { pattern, ends } : { refused: trouble };
}
