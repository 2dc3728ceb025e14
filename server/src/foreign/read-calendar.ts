// Reads calendar files of any origin (RFC 5545): nothing in them is believed before it was looked at.
import { CALENDAR_MAX_EVENTS, EARLIEST_START, LATEST_START, TEXT_MAX, TITLE_MAX, type CalendarEntry } from '@lantern/contract';
import {
  DAY_MS,
  dateOfDay,
  datesOf,
  EARLIEST_DATE,
  dayNumber,
  instant,
  isZone,
  LATEST_DATE,
  MINUTE_MS,
  offsetMsAt,
  readRRule,
  readWallTime,
  repeatTrouble,
  sayRepeat,
  wallTimeOf,
  type Repeat,
} from '@lantern/core';
import { PlainError } from '../foundation/errors';

/** What one date of a series is instead of what its rule says. `date` is the one by the rule. */
export interface ReadChange {
  date: string;
  startsAt: number;
  lengthMin: number;
  title: string;
  text: string;
}

/** An event of the file with what a draft of it needs. */
export interface ReadEvent extends CalendarEntry {
  text: string;
  repeat: Repeat | null;
  /** Wall time of the start of a series, HH:MM in `zone`. */
  time: string;
  changes: ReadChange[];
}

/** The library is an ES module; its types are reached as one. */
export type CalendarLibrary = (typeof import('ical.js', { with: { 'resolution-mode': 'import' } }))['default'];
type Component = InstanceType<CalendarLibrary['Component']>;
type Time = InstanceType<CalendarLibrary['Time']>;
type Timezone = InstanceType<CalendarLibrary['Timezone']>;

/** Nesting beyond this is no calendar but an attack on its reader. */
const DEEPEST = 4;
const LONGEST_MIN = 2_880;
/** Dates that one event may list: more is a slip. */
const MOST_LISTED = 400;

/**
 * The events of a file, in order of time; dates that differ from their series stand with it. `zone` is taken for times that name none.
 * Throws PlainError where the file as a whole cannot be used; what is wrong with one event is said at that event.
 */
export async function readCalendar(file: string, zone: string): Promise<ReadEvent[]> {
  const { default: ICAL } = await import('ical.js');
  const text = file.replace(/^\ufeff/, '');
  const depth = nesting(text);
  if (depth === 0) throw new PlainError(422, 'This is not a calendar file: it has no beginning. Export it again as iCalendar (.ics).');
  if (depth > DEEPEST) throw new PlainError(422, 'This calendar is nested in a way that no calendar is. Export it again from where it came.');
  let calendars: Component[];
  try {
    const parsed = ICAL.parse(text) as unknown[];
    calendars = (typeof parsed[0] === 'string' ? [parsed] : parsed).map((each) => new ICAL.Component(each as never));
  } catch {
    throw new PlainError(422, 'This calendar is damaged and cannot be read to its end. Export it again and choose the new file.');
  }
  const found = calendars.map((calendar) => ({ calendar, events: calendar.getAllSubcomponents('vevent') }));
  const count = found.reduce((sum, { events }) => sum + events.length, 0);
  if (!count) throw new PlainError(422, 'There are no events in this calendar.');
  if (count > CALENDAR_MAX_EVENTS) {
    throw new PlainError(
      422,
      `This calendar has ${count.toLocaleString('en-GB')} events; ${CALENDAR_MAX_EVENTS} can be read at a time. Export a shorter time.`,
    );
  }
  let number = 0;
  const entries = found.flatMap(({ calendar, events }) => {
    const reader = new EventReader(ICAL, zone, calendar);
    return reader.read(events, () => `${number++}`);
  });
  return entries.sort((a, b) => (a.startsAt ?? Infinity) - (b.startsAt ?? Infinity));
}

function nesting(text: string): number {
  let depth = 0;
  let deepest = 0;
  for (const [, what] of text.matchAll(/^(BEGIN|END):/gim)) {
    depth += what!.toUpperCase() === 'BEGIN' ? 1 : -1;
    deepest = Math.max(deepest, depth);
  }
  return deepest;
}

const pad = (n: number, digits = 2) => String(n).padStart(digits, '0');
const dayOf = (time: Time): string => `${pad(time.year, 4)}-${pad(time.month)}-${pad(time.day)}`;
const timeOf = (time: Time): string => `${pad(time.hour)}:${pad(time.minute)}`;

class EventReader {
  private readonly zones: ReadonlyMap<string, Timezone>;
  private readonly knownAs = new Map<string, string | null>();

  constructor(
    private readonly library: CalendarLibrary,
    private readonly zone: string,
    calendar: Component,
  ) {
    this.zones = new Map(
      calendar
        .getAllSubcomponents('vtimezone')
        .filter(isOrdinaryZone)
        .map((each) => [String(each.getFirstPropertyValue('tzid')), new library.Timezone(each)]),
    );
  }

  read(events: Component[], number: () => string): ReadEvent[] {
    const uid = (event: Component) => String(event.getFirstPropertyValue('uid') ?? '');
    const repeating = new Set(events.filter((event) => !instead(event) && (event.getFirstProperty('rrule') || event.getFirstProperty('rdate'))).map(uid));
    const changes = events.filter((event) => instead(event) && repeating.has(uid(event)));
    return events
      .filter((event) => !changes.includes(event))
      .map((event) =>
        this.entry(
          event,
          number(),
          changes.filter((each) => uid(each) === uid(event)),
        ),
      );
  }

  private entry(event: Component, id: string, changes: Component[]): ReadEvent {
    const base: ReadEvent = {
      ...{ id, ...this.words(event), startsAt: null, zone: this.zone, lengthMin: 60, repeats: '', repeat: null, time: '', changes: [] },
      ...{ trouble: '', possible: false },
    };
    const no = (trouble: string): ReadEvent => ({ ...base, trouble });
    try {
      const property = event.getFirstProperty('dtstart');
      const start = event.getFirstPropertyValue('dtstart') as Time | null;
      if (!property || !start || typeof start !== 'object' || !('isDate' in start)) return no('It has no start that can be read.');
      if (event.getFirstPropertyValue('status') === 'CANCELLED') return no('It is cancelled.');
      if (start.isDate) return no('It lasts all day. A show needs a time.');
      const tzid = property.getFirstParameter('tzid') ?? null;
      const repeats = event.getFirstProperty('rrule') !== null || event.getFirstProperty('rdate') !== null;
      const own = this.zoneOf(start, tzid, repeats);
      const at = this.instantOf(start, tzid, own ?? this.zone);
      if (typeof at === 'string') return no(at);
      if (!(at >= EARLIEST_START && at <= LATEST_START)) return no(`It lies in the year ${start.year}. Shows are planned between 2000 and 2199.`);
      const lengthMin = this.lengthMin(event, at, tzid, own ?? this.zone);
      if (!(lengthMin >= 1)) return no('It has no length. A show lasts at least a minute.');
      if (lengthMin > LONGEST_MIN) return no('It is longer than 48 hours.');
      const found: ReadEvent = { ...base, startsAt: at, zone: own ?? this.zone, lengthMin, possible: true, title: base.title || 'Untitled' };
      if (!repeats) return found;
      if (own === null)
        return { ...found, trouble: 'Only its first date can be taken over: clocks in its zone are changed like those of no zone that is known here.' };
      return this.withRule(found, event, changes);
    } catch {
      return no('It cannot be read.');
    }
  }

  private words(event: Component): { title: string; text: string } {
    const words = (name: string, most: number) =>
      String(event.getFirstPropertyValue(name) ?? '')
        .slice(0, most)
        .trim();
    return { title: words('summary', TITLE_MAX), text: words('description', TEXT_MAX) };
  }

  /**
   * The zone on whose clock an event keeps its time. What is written in UTC repeats by UTC, and not by the station's clock;
   * a zone that the file describes itself is taken for the one whose clocks go as it says, null where there is none.
   */
  private zoneOf(time: Time, tzid: string | null, repeats: boolean): string | null {
    if (time.zone === this.library.Timezone.utcTimezone) return repeats ? 'UTC' : this.zone;
    if (tzid === null) return this.zone;
    if (isZone(tzid)) return tzid;
    const told = this.zones.get(tzid);
    if (!told) return this.zone; // Said where its start is read.
    let known = this.knownAs.get(tzid);
    if (known === undefined) this.knownAs.set(tzid, (known = this.sameClocks(told, time)));
    return known;
  }

  private sameClocks(told: Timezone, around: Time): string | null {
    const first = Date.UTC(around.year, around.month - 1, around.day, 12);
    // Often enough that no change of clocks falls between two looks unseen.
    const looks = Array.from({ length: 48 }, (_, index) => first + index * 16 * DAY_MS).map((noon) => {
      const at = new Date(noon);
      const wall = this.library.Time.fromData({ year: at.getUTCFullYear(), month: at.getUTCMonth() + 1, day: at.getUTCDate(), hour: 12, minute: 0, second: 0 });
      const offsetMs = told.utcOffset(wall) * 1000;
      return { at: noon - offsetMs, offsetMs };
    });
    const goes = (zone: string) => looks.every(({ at, offsetMs }) => offsetMsAt(at, zone) === offsetMs);
    return [this.zone, 'UTC', ...Intl.supportedValuesOf('timeZone')].find(goes) ?? null;
  }

  /** The instant of a time of the file, or what keeps it from being one, in words. */
  private instantOf(time: Time, tzid: string | null, zone: string): number | string {
    if (time.zone === this.library.Timezone.utcTimezone) return time.toUnixTime() * 1000;
    if (tzid !== null && !isZone(tzid)) {
      const told = this.zones.get(tzid);
      // The file's own description of a zone that nobody else knows by this name.
      if (told) return Date.UTC(time.year, time.month - 1, time.day, time.hour, time.minute) - told.utcOffset(time) * 1000;
      return `Its zone “${tzid.slice(0, 40)}” is not known.`;
    }
    const reading = readWallTime({ date: dayOf(time), time: timeOf(time) }, zone);
    if (reading.kind === 'unreadable') return 'Its start is no date.';
    if (reading.kind === 'skipped') return 'Its start is an hour that clocks jump over there.';
    return reading.instant;
  }

  private lengthMin(event: Component, startsAt: number, tzid: string | null, zone: string): number {
    const duration = event.getFirstPropertyValue('duration') as { toSeconds(): number } | null;
    if (duration && typeof duration === 'object' && 'toSeconds' in duration) return Math.round(duration.toSeconds() / 60);
    const end = event.getFirstPropertyValue('dtend') as Time | null;
    if (!end) return 60;
    const read = this.instantOf(end, event.getFirstProperty('dtend')?.getFirstParameter('tzid') ?? tzid, zone);
    return typeof read === 'number' ? Math.round((read - startsAt) / MINUTE_MS) : NaN;
  }

  /** The day, on the clock of the series, of a date that a property names. */
  private dayIn(zone: string, time: Time, tzid: string | null): string {
    if (time.isDate) return dayOf(time);
    const read = this.instantOf(time, tzid, zone);
    return typeof read === 'number' ? wallTimeOf(instant(read), zone).date : dayOf(time);
  }

  private listed(event: Component, name: string): { time: Time; tzid: string | null }[] {
    return event
      .getAllProperties(name)
      .flatMap((property) => (property.getValues() as Time[]).map((time) => ({ time, tzid: property.getFirstParameter('tzid') ?? null })))
      .filter(({ time }) => typeof time === 'object' && 'isDate' in time)
      .slice(0, MOST_LISTED);
  }

  private withRule(found: ReadEvent, event: Component, changed: Component[]): ReadEvent {
    const { zone } = found;
    const { date: from, time } = wallTimeOf(instant(found.startsAt!), zone);
    const single = (why: string): ReadEvent => ({ ...found, trouble: `Only its first date can be taken over: ${why.replace(/\.$/, '')}.` });
    const rules = event.getAllProperties('rrule');
    if (rules.length > 1) return single('it repeats by more than one rule');
    const changes: ReadChange[] = [];
    const also = this.listed(event, 'rdate').map(({ time: added, tzid }) => {
      const date = this.dayIn(zone, added, tzid);
      const startsAt = added.isDate ? found.startsAt! : this.instantOf(added, tzid, zone);
      // A date that was added at another hour is one that differs.
      if (typeof startsAt === 'number' && !added.isDate && wallTimeOf(instant(startsAt), zone).time !== time) {
        changes.push({ date, startsAt, lengthMin: found.lengthMin, title: found.title, text: found.text });
      }
      return date;
    });
    const dropped = this.listed(event, 'exdate').map(({ time: taken, tzid }) => this.dayIn(zone, taken, tzid));
    let repeat: Repeat = { pattern: null, from, ends: { kind: 'never' }, also, dropped };
    if (rules.length) {
      const rule = rules[0]!.getFirstValue() as unknown as { count?: number | null };
      // The library writes a rule that happens no times as one without end.
      if ((rules[0]!.jCal as [string, object, string, { count?: unknown }])[3].count === 0) return single('its rule is to happen no times');
      const read = readRRule(String(rule), from, (until) => lastDay(until, zone, time));
      if ('refused' in read) return single(read.refused);
      repeat = { ...repeat, ...read };
      repeat = withItsFirst(repeat);
    }
    for (const each of changed) {
      const property = each.getFirstProperty('recurrence-id')!;
      const date = this.dayIn(zone, property.getFirstValue() as unknown as Time, property.getFirstParameter('tzid') ?? null);
      if (each.getFirstPropertyValue('status') === 'CANCELLED') {
        repeat = { ...repeat, dropped: [...repeat.dropped, date] };
        continue;
      }
      const start = each.getFirstPropertyValue('dtstart') as Time;
      const tzid = each.getFirstProperty('dtstart')?.getFirstParameter('tzid') ?? null;
      const startsAt = this.instantOf(start, tzid, zone);
      if (typeof startsAt === 'string') return single(`one of its dates cannot be read: ${startsAt}`);
      const lengthMin = this.lengthMin(each, startsAt, tzid, zone);
      const { title, text } = this.words(each);
      if (!(lengthMin >= 1 && lengthMin <= LONGEST_MIN)) return single('one of its dates has no length that a show can have');
      changes.push({ date, startsAt, lengthMin, title: title || found.title, text });
    }
    repeat = { ...repeat, also: [...new Set(repeat.also)].sort(), dropped: [...new Set(repeat.dropped)].sort() };
    const trouble = repeatTrouble(repeat);
    if (trouble !== null) return single(trouble);
    const [first] = datesOf(repeat, EARLIEST_DATE, LATEST_DATE, 1);
    if (first === undefined) return { ...found, possible: false, trouble: 'All of its dates are taken out of it.' };
    const own = changes.filter(({ date }) => !repeat.dropped.includes(date));
    const differing = own.length ? `, ${own.length === 1 ? 'one date' : `${own.length} dates`} otherwise` : '';
    return { ...found, repeat, time, changes: own, repeats: `${sayRepeat(repeat)}${differing}` };
  }
}

const instead = (event: Component): boolean => event.getFirstProperty('recurrence-id') !== null;

/** Whether a zone changes its clocks as zones do: by listed moments, or once a year. Any other rule is an attack on its reader. */
function isOrdinaryZone(zone: Component): boolean {
  const parts = [...zone.getAllSubcomponents('standard'), ...zone.getAllSubcomponents('daylight')];
  if (parts.length > 600) return false;
  return parts.every((part) => part.getAllProperties('rrule').every((rule) => (rule.jCal as [string, object, string, { freq?: string }])[3].freq === 'YEARLY'));
}

/** The last day on which a rule with this UNTIL (section 3.3.10) has a date at `time` in `zone`. */
function lastDay(until: string, zone: string, time: string): string {
  const [, year, month, day, hours, minutes, utc] = /^(\d{4})(\d{2})(\d{2})(?:T(\d{2})(\d{2})\d{2}(Z)?)?/.exec(until) ?? [];
  if (hours === undefined) return `${year}-${month}-${day}`;
  const wall = utc
    ? wallTimeOf(instant(Date.UTC(+year!, +month! - 1, +day!, +hours, +minutes!)), zone)
    : { date: `${year}-${month}-${day}`, time: `${hours}:${minutes}` };
  return wall.time >= time ? wall.date : dateOfDay(dayNumber(wall.date)! - 1);
}

/** Calendars take the start of an event for its first date whether its rule meets it or not, and count it (section 3.8.5.3). */
function withItsFirst(repeat: Repeat): Repeat {
  if (datesOf({ ...repeat, also: [], dropped: [] }, repeat.from, repeat.from).length) return repeat;
  const also = [...repeat.also, repeat.from];
  if (repeat.ends.kind !== 'count') return { ...repeat, also };
  return repeat.ends.count > 1
    ? { ...repeat, also, ends: { kind: 'count', count: repeat.ends.count - 1 } }
    : { ...repeat, also, pattern: null, ends: { kind: 'never' } };
}
