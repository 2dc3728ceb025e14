import { instant } from '../time/instant';
import { offsetMsAt } from '../time/zones';
import { utcStamp, writeCalendar, type CalendarEvent } from './write';

const event = (change: Partial<CalendarEvent> = {}): CalendarEvent => ({
  ...{
    uid: 'a@noble-lantern',
    title: 'Dusk Report',
    text: '',
    startsAt: instant(Date.parse('2027-03-04T20:30:00Z')),
    lengthMs: 40 * 60_000,
    zone: 'Europe/Dublin',
  },
  ...{ url: '', sequence: 3, changedAt: instant(0), status: 'CONFIRMED', repeat: null, insteadOf: null },
  ...change,
});
const lines = (...events: CalendarEvent[]) => writeCalendar('Alderfell Sky Club', events, instant(Date.parse('2026-11-25T12:00:00Z'))).split('\r\n');

test('a single show is written in UTC, and needs no zone', () => {
  const written = lines(event({ url: 'https://alderfell.example/on/x' }));
  expect(written).toEqual(
    expect.arrayContaining(['DTSTART:20270304T203000Z', 'DURATION:PT40M', 'SEQUENCE:3', 'DTSTAMP:20261125T120000Z', 'URL:https://alderfell.example/on/x']),
  );
  expect(written.join()).not.toContain('VTIMEZONE');
  expect(written[0]).toBe('BEGIN:VCALENDAR');
  expect(written.slice(-2)).toEqual(['END:VCALENDAR', '']);
});

test('a series is written by its wall time, with dates added, taken away and standing in for others', () => {
  const repeat = { rule: 'FREQ=WEEKLY;BYDAY=TH', added: [instant(Date.parse('2027-03-05T20:30:00Z'))], taken: [instant(Date.parse('2027-04-01T19:30:00Z'))] };
  const written = lines(
    event({ repeat }),
    event({ startsAt: instant(Date.parse('2027-03-12T20:30:00Z')), insteadOf: instant(Date.parse('2027-03-11T20:30:00Z')), status: 'CANCELLED' }),
  );
  expect(written).toEqual(
    expect.arrayContaining([
      'DTSTART;TZID=Europe/Dublin:20270304T203000',
      'RRULE:FREQ=WEEKLY;BYDAY=TH',
      'RDATE;TZID=Europe/Dublin:20270305T203000',
      'EXDATE;TZID=Europe/Dublin:20270401T203000',
      'RECURRENCE-ID;TZID=Europe/Dublin:20270311T203000',
      'STATUS:CANCELLED',
    ]),
  );
  // The zone comes once, before the events, whatever number of them is in it.
  expect(written.filter((line) => line === 'BEGIN:VTIMEZONE')).toHaveLength(1);
});

test.each(['Europe/Dublin', 'America/Santiago', 'Australia/Lord_Howe', 'Asia/Kolkata'])('the changes of clocks in %s are told as they are', (zone) => {
  const written = lines(event({ zone, repeat: { rule: 'FREQ=DAILY', added: [], taken: [] } }));
  const onsets = written.flatMap((line, index) => (/^BEGIN:(STANDARD|DAYLIGHT)$/.test(line) ? [written.slice(index + 1, index + 4)] : []));
  expect(onsets.length).toBeGreaterThan(zone === 'Asia/Kolkata' ? 0 : 5);
  for (const [start, from, to] of onsets as [string, string, string][]) {
    const minutes = (text: string) => (text.includes('-') ? -1 : 1) * (Number(text.slice(-4, -2)) * 60 + Number(text.slice(-2)));
    const [, y, mo, d, h, mi, s] = /(\d{4})(\d{2})(\d{2})T(\d{2})(\d{2})(\d{2})/.exec(start)!.map(Number) as [
      number,
      number,
      number,
      number,
      number,
      number,
      number,
    ];
    const at = Date.UTC(y, mo - 1, d, h, mi, s) - minutes(from.slice(from.indexOf(':') + 1)) * 60_000;
    expect(offsetMsAt(at, zone) / 60_000).toBe(minutes(to.slice(to.indexOf(':') + 1)));
    if (from !== to.replace('TZOFFSETTO', 'TZOFFSETFROM')) expect(offsetMsAt(at - 1, zone) / 60_000).toBe(minutes(from.slice(from.indexOf(':') + 1)));
  }
});

test('what is no text is left out, and separators in it are told apart from those of the file', () => {
  const written = lines(event({ title: 'Sky; sea, \\ and\u0007 land', text: 'One\r\nTwo' }));
  expect(written).toEqual(expect.arrayContaining(['SUMMARY:Sky\\; sea\\, \\\\ and land', 'DESCRIPTION:One\\nTwo']));
  expect(utcStamp(0)).toBe('19700101T000000Z');
});
