// Reads calendar files of any origin (RFC 5545): nothing in them is believed before it was looked at.
import { CALENDAR_MAX_EVENTS, TEXT_MAX, TITLE_MAX, type CalendarEntry } from '@lantern/contract';
import { instant, isZone, MINUTE_MS, readRRule, readWallTime, repeatTrouble, sayRepeat, wallTimeOf, type Repeat } from '@lantern/core';
import { PlainError } from '../foundation/errors';

/** An event of the file with what a draft of it needs. */
export interface ReadEvent extends CalendarEntry {
  text: string;
  repeat: Repeat | null;
}

/** The library is an ES module; its types are reached as one. */
export type CalendarLibrary = (typeof import('ical.js', { with: { 'resolution-mode': 'import' } }))['default'];
type Component = InstanceType<CalendarLibrary['Component']>;
type Time = InstanceType<CalendarLibrary['Time']>;
type Timezone = InstanceType<CalendarLibrary['Timezone']>;

/** Nesting beyond this is no calendar but an attack on its reader. */
const DEEPEST = 4;
const LONGEST_MIN = 2_880;

/**
 * The events of a file, in order of time. `zone` is taken for times that name none. Throws PlainError where the file as
 * a whole cannot be used; what is wrong with one event is said at that event.
 */
export async function readCalendar(text: string, zone: string): Promise<ReadEvent[]> {
  const { default: ICAL } = await import('ical.js');
  const depth = nesting(text);
  if (depth === 0) throw new PlainError(422, 'This is not a calendar file: it has no beginning. Export it again as iCalendar (.ics).');
  if (depth > DEEPEST) throw new PlainError(422, 'This calendar is nested in a way that no calendar is. Export it again from where it came.');
  let calendar: Component;
  try {
    const parsed = ICAL.parse(text) as unknown[];
    // A file may hold several calendars; the first is taken.
    calendar = new ICAL.Component((typeof parsed[0] === 'string' ? parsed : parsed[0]) as never);
  } catch {
    throw new PlainError(422, 'This calendar is damaged and cannot be read to its end. Export it again and choose the new file.');
  }
  const events = calendar.getAllSubcomponents('vevent');
  if (!events.length) throw new PlainError(422, 'There are no events in this calendar.');
  if (events.length > CALENDAR_MAX_EVENTS) {
    throw new PlainError(
      422,
      `This calendar has ${events.length.toLocaleString('en-GB')} events; ${CALENDAR_MAX_EVENTS} can be read at a time. Export a shorter time.`,
    );
  }
  const zones = new Map(calendar.getAllSubcomponents('vtimezone').map((each) => [String(each.getFirstPropertyValue('tzid')), new ICAL.Timezone(each)]));
  return events.map((event, index) => entryOf(ICAL, event, index, zone, zones)).sort((a, b) => (a.startsAt ?? Infinity) - (b.startsAt ?? Infinity));
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

function entryOf(library: CalendarLibrary, event: Component, index: number, zone: string, zones: ReadonlyMap<string, Timezone>): ReadEvent {
  const words = (name: string, most: number) =>
    String(event.getFirstPropertyValue(name) ?? '')
      .slice(0, most)
      .trim();
  const base: ReadEvent = {
    id: `${index}`,
    title: words('summary', TITLE_MAX),
    text: words('description', TEXT_MAX),
    startsAt: null,
    zone,
    lengthMin: 60,
    repeats: '',
    repeat: null,
    trouble: '',
    possible: false,
  };
  const no = (trouble: string): ReadEvent => ({ ...base, trouble });
  try {
    const property = event.getFirstProperty('dtstart');
    const start = event.getFirstPropertyValue('dtstart') as Time | null;
    if (!property || !start || typeof start !== 'object' || !('isDate' in start)) return no('It has no start that can be read.');
    if (event.getFirstPropertyValue('status') === 'CANCELLED') return no('It is cancelled.');
    if (event.getFirstProperty('recurrence-id')) return no('It changes one date of a series. Change that date by hand after taking over the series.');
    if (start.isDate) return no('It lasts all day. A show needs a time.');
    const tzid = property.getFirstParameter('tzid');
    const own = tzid && isZone(tzid) ? tzid : zone;
    const at = instantOf(library, start, tzid ?? null, own, zones);
    if (typeof at === 'string') return no(at);
    const lengthMin = Math.round(lengthOf(event, at, (time) => instantOf(library, time, tzid ?? null, own, zones)) / MINUTE_MS);
    if (!(lengthMin >= 1)) return no('It has no length. A show lasts at least a minute.');
    if (lengthMin > LONGEST_MIN) return no('It is longer than 48 hours.');
    const found: ReadEvent = { ...base, startsAt: at, zone: own, lengthMin, possible: true, title: base.title || 'Untitled' };
    return withRule(found, event);
  } catch {
    return no('It cannot be read.');
  }
}

/** The instant of a time of the file, or what keeps it from being one, in words. */
function instantOf(ICAL: CalendarLibrary, time: Time, tzid: string | null, zone: string, zones: ReadonlyMap<string, Timezone>): number | string {
  if (time.zone === ICAL.Timezone.utcTimezone) return time.toUnixTime() * 1000;
  if (tzid && !isZone(tzid)) {
    const told = zones.get(tzid);
    // The file's own description of a zone that nobody else knows by this name.
    if (told) return Date.UTC(time.year, time.month - 1, time.day, time.hour, time.minute) - told.utcOffset(time) * 1000;
    return `Its zone “${tzid.slice(0, 40)}” is not known.`;
  }
  const pad = (n: number) => String(n).padStart(2, '0');
  const date = `${String(time.year).padStart(4, '0')}-${pad(time.month)}-${pad(time.day)}`;
  const reading = readWallTime({ date, time: `${pad(time.hour)}:${pad(time.minute)}` }, zone);
  if (reading.kind === 'unreadable') return 'Its start is no date.';
  if (reading.kind === 'skipped') return 'Its start is an hour that clocks jump over there.';
  return reading.instant;
}

function lengthOf(event: Component, startsAt: number, at: (time: Time) => number | string): number {
  const duration = event.getFirstPropertyValue('duration') as { toSeconds(): number } | null;
  if (duration && typeof duration === 'object' && 'toSeconds' in duration) return duration.toSeconds() * 1000;
  const end = event.getFirstPropertyValue('dtend') as Time | null;
  if (!end) return 60 * MINUTE_MS;
  const read = at(end);
  return typeof read === 'number' ? read - startsAt : NaN;
}

function withRule(found: ReadEvent, event: Component): ReadEvent {
  const rules = event.getAllProperties('rrule');
  const from = wallTimeOf(instant(found.startsAt!), found.zone).date;
  const dates = (name: string) =>
    event
      .getAllProperties(name)
      .flatMap((property) => property.getValues() as Time[])
      .slice(0, 400)
      .map((time) => `${time.year}-${String(time.month).padStart(2, '0')}-${String(time.day).padStart(2, '0')}`);
  const [also, dropped] = [dates('rdate'), dates('exdate')];
  if (!rules.length && !also.length) return found;
  const single = (why: string): ReadEvent => ({ ...found, trouble: `Only its first date can be taken over: ${why}.` });
  if (rules.length > 1) return single('it repeats by more than one rule');
  let repeat: Repeat = { pattern: null, from, ends: { kind: 'never' }, also, dropped };
  if (rules.length) {
    const read = readRRule(String(rules[0]!.getFirstValue()), from);
    if ('refused' in read) return single(read.refused.replace(/\.$/, ''));
    repeat = { ...repeat, ...read };
  }
  const trouble = repeatTrouble(repeat);
  if (trouble !== null) return single(trouble.replace(/\.$/, ''));
  return { ...found, repeat, repeats: sayRepeat(repeat) };
}
