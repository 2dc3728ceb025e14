// Calendar files (RFC 5545). One-off shows are written in UTC; a series in its own zone with the zone's
// changes of clocks, since UTC cannot say "every Thursday at half past eight".
import { DAY_MS, instant, type Instant } from '../time/instant';
import { clockChanges, offsetMsAt, wallTimeOf } from '../time/zones';

export interface CalendarEvent {
  /** The same for all events of a series. */
  uid: string;
  title: string;
  text: string;
  startsAt: Instant;
  lengthMs: number;
  zone: string;
  /** Where it is found; empty: nowhere. */
  url: string;
  /** Grows with every change, so that calendars take the newer. */
  sequence: number;
  changedAt: Instant;
  status: 'CONFIRMED' | 'TENTATIVE' | 'CANCELLED';
  /** The rule part of a series, with the starts that were added to it and taken from it. */
  repeat: { rule: string | null; added: readonly Instant[]; taken: readonly Instant[] } | null;
  /** For an event that stands in for one of a series: that one's start by the rule. */
  insteadOf: Instant | null;
}

/** What a line may hold, in octets (section 3.1). */
const LINE_OCTETS = 75;

/** A whole calendar, lines ended as the standard wants. `now` is the stamp of the writing. */
export function writeCalendar(name: string, events: readonly CalendarEvent[], now: Instant): string {
  const zoned = events.filter(inZone);
  const zones = [...new Set(zoned.map(({ zone }) => zone))].sort();
  return [
    'BEGIN:VCALENDAR',
    'VERSION:2.0',
    'PRODID:-//Noble Lantern//Almanac//EN',
    'CALSCALE:GREGORIAN',
    `NAME:${escaped(name)}`, // RFC 7986, section 5.1
    ...zones.flatMap((zone) =>
      zoneLines(
        zone,
        zoned.filter((event) => event.zone === zone),
      ),
    ),
    ...events.flatMap((event) => eventLines(event, now)),
    'END:VCALENDAR',
  ]
    .map(folded)
    .join('');
}

const inZone = ({ repeat, insteadOf }: CalendarEvent): boolean => repeat !== null || insteadOf !== null;

/** An instant as 20261203T203000Z. */
export const utcStamp = (at: number): string => new Date(at).toISOString().replace(/[-:]|\.\d{3}/g, '');

function localStamp(at: Instant, zone: string): string {
  const { date, time } = wallTimeOf(at, zone);
  return `${date.replaceAll('-', '')}T${time.replace(':', '')}00`;
}

function eventLines(event: CalendarEvent, now: Instant): string[] {
  const { zone, startsAt, repeat, insteadOf } = event;
  const moment = (name: string, ...at: Instant[]) =>
    inZone(event) ? `${name};TZID=${zone}:${at.map((each) => localStamp(each, zone)).join(',')}` : `${name}:${at.map(utcStamp).join(',')}`;
  return [
    'BEGIN:VEVENT',
    `UID:${escaped(event.uid)}`,
    `DTSTAMP:${utcStamp(now)}`,
    `LAST-MODIFIED:${utcStamp(event.changedAt)}`,
    `SEQUENCE:${event.sequence}`,
    moment('DTSTART', startsAt),
    `DURATION:${durationOf(event.lengthMs)}`,
    ...(insteadOf === null ? [] : [moment('RECURRENCE-ID', insteadOf)]),
    ...(repeat?.rule ? [`RRULE:${repeat.rule}`] : []),
    ...(repeat?.added.length ? [moment('RDATE', ...repeat.added)] : []),
    ...(repeat?.taken.length ? [moment('EXDATE', ...repeat.taken)] : []),
    `SUMMARY:${escaped(event.title)}`,
    ...(event.text ? [`DESCRIPTION:${escaped(event.text)}`] : []),
    ...(event.url ? [`URL:${event.url}`] : []),
    `STATUS:${event.status}`,
    'END:VEVENT',
  ];
}

/** Section 3.3.6, in whole minutes. */
function durationOf(lengthMs: number): string {
  return `PT${Math.round(lengthMs / 60_000)}M`;
}

/** Section 3.3.11. Control characters other than line ends and tabs are not text. */
function escaped(text: string): string {
  return text
    .replace(/\r\n?/g, '\n')
    .replace(/[\u0000-\u0008\u000b-\u001f\u007f]/g, '')
    .replace(/[\\;,]/g, '\\$&')
    .replaceAll('\n', '\\n');
}

/** Folds a line by octets without cutting a character in two (section 3.1). */
function folded(line: string): string {
  const parts: string[] = [];
  let part = '';
  let octets = 0;
  for (const character of line) {
    const size = character.codePointAt(0)! < 0x80 ? 1 : character.codePointAt(0)! < 0x800 ? 2 : character.codePointAt(0)! < 0x10000 ? 3 : 4;
    if (octets + size > LINE_OCTETS) {
      parts.push(part);
      part = ' ';
      octets = 1;
    }
    part += character;
    octets += size;
  }
  return `${[...parts, part].join('\r\n')}\r\n`;
}

/** How far ahead a series is taken to go on where it does not end: zones are written for as long. */
const ZONE_AHEAD_MS = 3 * 366 * DAY_MS;

/** A zone as section 3.6.5 wants it, each change of clocks on its own. */
function zoneLines(zone: string, events: readonly CalendarEvent[]): string[] {
  const from = instant(Math.min(...events.map(({ startsAt, insteadOf }) => Math.min(startsAt, insteadOf ?? startsAt))) - 366 * DAY_MS);
  const to = instant(Math.max(...events.map(({ startsAt }) => startsAt)) + ZONE_AHEAD_MS);
  const first = offsetMsAt(from, zone);
  const least = Math.min(first, ...clockChanges(zone, from, to).map(({ afterMs }) => afterMs));
  const part = (at: number, beforeMs: number, afterMs: number) => {
    const name = afterMs === least ? 'STANDARD' : 'DAYLIGHT';
    // The onset is told by the clock that is being changed.
    const onset = new Date(at + beforeMs).toISOString().replace(/[-:]|\.\d{3}Z/g, '');
    return [`BEGIN:${name}`, `DTSTART:${onset}`, `TZOFFSETFROM:${sayOffset(beforeMs)}`, `TZOFFSETTO:${sayOffset(afterMs)}`, `END:${name}`];
  };
  return [
    'BEGIN:VTIMEZONE',
    `TZID:${zone}`,
    ...part(from, first, first),
    ...clockChanges(zone, from, to).flatMap(({ at, beforeMs, afterMs }) => part(at, beforeMs, afterMs)),
    'END:VTIMEZONE',
  ];
}

function sayOffset(ms: number): string {
  const minutes = Math.abs(ms) / 60_000;
  const pad = (n: number) => String(Math.floor(n)).padStart(2, '0');
  return `${ms < 0 ? '-' : '+'}${pad(minutes / 60)}${pad(minutes % 60)}`;
}
