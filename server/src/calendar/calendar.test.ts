// The calendar that goes out, read by a second library, and calendars of every kind that come in.
import type { CalendarReading, ShowView } from '@lantern/contract';
import { datesOf, instant, occurrencesOf, repeatTrouble, seriesEvents, toRRule, writeCalendar, type CalendarEvent, type Repeat } from '@lantern/core';
import fc from 'fast-check';
import type request from 'supertest';
import { OWNER, TestStation } from '../test/station';
import { readCalendar, type CalendarLibrary } from '../foreign/read-calendar';

let ICAL: CalendarLibrary;
beforeAll(async () => {
  ICAL = (await import('ical.js')).default;
});

const event = (change: Partial<CalendarEvent> = {}): CalendarEvent => ({
  uid: 'x@noble-lantern',
  title: 'Dusk Report',
  text: '',
  startsAt: instant(Date.parse('2027-03-04T20:30:00Z')),
  lengthMs: 40 * 60_000,
  zone: 'Europe/Dublin',
  url: '',
  sequence: 1,
  changedAt: instant(0),
  status: 'CONFIRMED',
  repeat: null,
  insteadOf: null,
  ...change,
});
const parsed = (text: string) => new ICAL.Component(ICAL.parse(text) as never);

describe('a calendar that goes out', () => {
  test('says any text in lines of 75 octets, and a second library reads the same text back', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 300 }), fc.constantFrom('', '; , \\ "quoted" : ', '\n'), (words, awkward) => {
        const text = `${words}${awkward}${words}`;
        const file = writeCalendar('Alderfell; Sky, Club', [event({ text, title: words })], instant(0));
        for (const line of file.split('\r\n')) expect(Buffer.byteLength(line)).toBeLessThanOrEqual(75);
        const read = parsed(file).getFirstSubcomponent('vevent')!;
        const kept = text.replace(/\r\n?/g, '\n').replace(/[\u0000-\u0008\u000b-\u001f\u007f]/g, '');
        expect(read.getFirstPropertyValue('description') ?? '').toBe(kept);
      }),
    );
  });

  test.each<[string, Repeat, string, string]>([
    [
      'weekly over both clock changes',
      { pattern: { every: 'week', interval: 1, on: ['TH'] }, from: '2027-03-04', ends: { kind: 'count', count: 45 }, also: [], dropped: ['2027-03-18'] },
      '20:30',
      'Europe/Dublin',
    ],
    [
      'the last Saturday in the south',
      { pattern: { every: 'month', interval: 1, nth: -1, on: 'SA' }, from: '2027-01-30', ends: { kind: 'until', date: '2028-02-26' }, also: [], dropped: [] },
      '10:00',
      'Pacific/Auckland',
    ],
    [
      'with a half-hour zone and more dates',
      { pattern: { every: 'day', interval: 9 }, from: '2027-01-30', ends: { kind: 'count', count: 20 }, also: ['2027-07-01'], dropped: [] },
      '23:45',
      'Australia/Lord_Howe',
    ],
  ])('a series %s comes at the same instants by the second library’s own reckoning', (_name, repeat, time, zone) => {
    const own = occurrencesOf(repeat, time, zone, instant(0), instant(4e12));
    const at = (date: string) =>
      occurrencesOf({ ...repeat, pattern: null, from: date, also: [], dropped: [] }, time, zone, instant(0), instant(4e12))[0]!.startsAt;
    const until = repeat.ends.kind === 'until' ? new Date(at(repeat.ends.date)).toISOString().replace(/[-:]|\.\d{3}/g, '') : null;
    const file = writeCalendar(
      'x',
      [event({ startsAt: at(repeat.from), zone, repeat: { rule: toRRule(repeat, until), added: repeat.also.map(at), taken: repeat.dropped.map(at) } })],
      instant(0),
    );
    const calendar = parsed(file);
    const zoneOfFile = new ICAL.Timezone(calendar.getFirstSubcomponent('vtimezone')!);
    const iterator = new ICAL.Event(calendar.getFirstSubcomponent('vevent')!).iterator();
    const seen: number[] = [];
    for (let next = iterator.next(); next; next = iterator.next()) {
      seen.push(Date.UTC(next.year, next.month - 1, next.day, next.hour, next.minute) - zoneOfFile.utcOffset(next) * 1000);
    }
    expect(seen).toEqual(own.map(({ startsAt }) => startsAt));
  });
});

const file = (...lines: string[]) => ['BEGIN:VCALENDAR', 'VERSION:2.0', ...lines, 'END:VCALENDAR'].join('\r\n');
const vevent = (...lines: string[]) => ['BEGIN:VEVENT', 'UID:1', ...lines, 'END:VEVENT'].join('\r\n');

describe('a calendar that comes in', () => {
  test.each([
    ['nothing', '', 'no beginning'],
    ['a picture', '\u0089PNG\r\n\u001a', 'no beginning'],
    ['half a file', 'BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nDTSTART:2027', 'damaged'],
    ['no events', file(), 'no events'],
    ['a tower of components', `${'BEGIN:VEVENT\r\n'.repeat(50)}${'END:VEVENT\r\n'.repeat(50)}`, 'nested'],
    ['too many events', file(...Array.from({ length: 501 }, () => vevent('DTSTART:20270304T203000Z'))), '500 can be read'],
  ])('%s is refused as a whole, in words', async (_name, text, words) => {
    await expect(readCalendar(text, 'UTC')).rejects.toMatchObject({ words: expect.stringContaining(words) });
  });

  test.each([
    ['no start', vevent('SUMMARY:A'), 'no start'],
    ['a whole day', vevent('DTSTART;VALUE=DATE:20270304'), 'all day'],
    ['an unknown zone', vevent('DTSTART;TZID=Ocean/Atlantis:20270304T203000'), 'Ocean/Atlantis'],
    ['an hour that is jumped over', vevent('DTSTART;TZID=Europe/Dublin:20270328T013000'), 'jump over'],
    ['no length', vevent('DTSTART:20270304T203000Z', 'DTEND:20270304T203000Z'), 'no length'],
    ['a length of days', vevent('DTSTART:20270304T203000Z', 'DURATION:P9D'), '48 hours'],
  ])('an event with %s is shown with its reason and cannot be taken', async (_name, text, words) => {
    const [entry] = await readCalendar(file(text), 'UTC');
    expect(entry).toMatchObject({ possible: false, trouble: expect.stringContaining(words) });
  });

  const weekly = async (...lines: string[]) => (await readCalendar(file(vevent(...lines)), 'Europe/Dublin'))[0]!;
  const dates = ({ repeat }: { repeat: Repeat | null }) => datesOf(repeat!, '2027-01-01', '2027-12-31');

  test.each([
    [
      'UNTIL at midnight UTC is the evening before in New York',
      ['DTSTART;TZID=America/New_York:20270304T203000', 'RRULE:FREQ=WEEKLY;UNTIL=20270319T003000Z'],
      ['2027-03-04', '2027-03-11', '2027-03-18'],
    ],
    [
      'UNTIL just before the start leaves that day out',
      ['DTSTART;TZID=Europe/Dublin:20270304T203000', 'RRULE:FREQ=WEEKLY;UNTIL=20270318T202900Z'],
      ['2027-03-04', '2027-03-11'],
    ],
    [
      'EXDATE in UTC is the day on the clock of the series',
      ['DTSTART;TZID=America/New_York:20270304T203000', 'RRULE:FREQ=WEEKLY;COUNT=3', 'EXDATE:20270312T013000Z'],
      ['2027-03-04', '2027-03-18'],
    ],
    [
      'a start that the rule does not meet is a date all the same',
      ['DTSTART;TZID=Europe/Dublin:20270302T203000', 'RRULE:FREQ=WEEKLY;BYDAY=TH;COUNT=3'],
      ['2027-03-02', '2027-03-04', '2027-03-11'],
    ],
  ])('%s', async (_name, lines, expected) => {
    expect(dates(await weekly(...lines))).toEqual(expected);
  });

  test('a mark of the order of bytes is no damage, and a second calendar in the file is read too', async () => {
    const two = `\ufeff${file(vevent('DTSTART:20270304T203000Z', 'SUMMARY:One'))}\r\n${file(vevent('DTSTART:20270305T203000Z', 'SUMMARY:Two'))}`;
    expect((await readCalendar(two, 'UTC')).map(({ title }) => title)).toEqual(['One', 'Two']);
  });

  test('a series in UTC repeats by UTC, and one in a zone of the file’s own by the zone whose clocks go as it says', async () => {
    expect(await weekly('DTSTART:20270304T203000Z', 'RRULE:FREQ=WEEKLY;COUNT=8')).toMatchObject({ zone: 'UTC', time: '20:30' });
    const own = (hours: string, ...rest: string[]) =>
      [
        'BEGIN:VTIMEZONE',
        'TZID:Club time',
        'BEGIN:STANDARD',
        'DTSTART:19701025T020000',
        'TZOFFSETFROM:+0100',
        `TZOFFSETTO:${hours}`,
        'RRULE:FREQ=YEARLY;BYMONTH=10;BYDAY=-1SU',
        'END:STANDARD',
      ]
        .concat([
          'BEGIN:DAYLIGHT',
          'DTSTART:19700329T010000',
          `TZOFFSETFROM:${hours}`,
          'TZOFFSETTO:+0100',
          'RRULE:FREQ=YEARLY;BYMONTH=3;BYDAY=-1SU',
          'END:DAYLIGHT',
          'END:VTIMEZONE',
        ])
        .concat(rest);
    const event = vevent('DTSTART;TZID=Club time:20270304T203000', 'RRULE:FREQ=WEEKLY;COUNT=8');
    expect((await readCalendar(file(...own('+0000'), event), 'Europe/Dublin'))[0]).toMatchObject({ zone: 'Europe/Dublin', repeats: 'Every Thursday, 8 times' });
    // Nobody's clocks go like these: the first date is all that can be known.
    expect((await readCalendar(file(...own('-0330'), event), 'Europe/Dublin'))[0]).toMatchObject({
      repeat: null,
      trouble: expect.stringContaining('Only its first date'),
    });
  });

  test('a rule that happens no times is no rule without end', async () => {
    expect(await weekly('DTSTART:20270304T203000Z', 'RRULE:FREQ=WEEKLY;COUNT=0')).toMatchObject({ repeat: null, trouble: expect.stringContaining('no times') });
  });

  test('what was written of any series is read back as the same dates, with those moved, dropped and changed', async () => {
    const TIMES = ['00:15', '09:00', '20:30', '23:45'];
    const ZONES = ['Europe/Dublin', 'America/Santiago', 'Pacific/Auckland', 'Asia/Kolkata', 'Australia/Lord_Howe', 'UTC'];
    const someDay = fc.integer({ min: 0, max: 400 }).map((days) => new Date(Date.UTC(2027, 0, 1) + days * 86_400_000).toISOString().slice(0, 10));
    const somePattern: fc.Arbitrary<Repeat['pattern']> = fc.oneof(
      fc.record({ every: fc.constant('day' as const), interval: fc.integer({ min: 1, max: 9 }) }),
      fc.record({
        every: fc.constant('week' as const),
        interval: fc.integer({ min: 1, max: 3 }),
        on: fc.uniqueArray(fc.constantFrom('MO', 'TH', 'SU'), { minLength: 1 }),
      }),
      fc.record({ every: fc.constant('month' as const), interval: fc.integer({ min: 1, max: 12 }), onDate: fc.integer({ min: 1, max: 31 }) }),
      fc.record({
        every: fc.constant('month' as const),
        interval: fc.integer({ min: 1, max: 3 }),
        nth: fc.constantFrom(1 as const, 5 as const, -1 as const),
        on: fc.constantFrom('MO', 'SA'),
      }),
      fc.constant(null),
    );
    const someRepeat = fc.record({
      pattern: somePattern,
      from: someDay,
      ends: fc.oneof(
        fc.record({ kind: fc.constant('count' as const), count: fc.integer({ min: 1, max: 20 }) }),
        fc.record({ kind: fc.constant('until' as const), date: someDay }),
      ),
      also: fc.array(someDay, { maxLength: 2 }),
      dropped: fc.array(someDay, { maxLength: 2 }),
    });
    const everything = (repeat: Repeat, time: string, zone: string) => occurrencesOf(repeat, time, zone, instant(0), instant(Date.UTC(2035, 0, 1)));
    await fc.assert(
      fc.asyncProperty(
        someRepeat,
        fc.constantFrom(...TIMES),
        fc.constantFrom(...ZONES),
        fc.array(fc.tuple(fc.nat(), fc.integer({ min: -2_000, max: 2_000 })), { maxLength: 4 }),
        fc.nat(),
        async (drawn, time, zone, moves, drop) => {
          const repeat = drawn as Repeat;
          fc.pre(repeatTrouble(repeat) === null);
          const plain = everything(repeat, time, zone);
          fc.pre(plain.length > 1);
          const ruled = { ...repeat, dropped: [...repeat.dropped, plain[drop % plain.length]!.date] };
          const own = everything(ruled, time, zone);
          fc.pre(own.length > 0);
          // Some dates are moved, some have only another title.
          const moved = new Map(moves.map(([at, minutes]) => [own[at % own.length]!.date, minutes]));
          const words = { title: 'Dusk Report', text: '', lengthMs: 2_400_000, url: '', sequence: 1, changedAt: instant(0) };
          const differing = [...moved].map(([date, minutes]) => {
            const { startsAt } = own.find((each) => each.date === date)!;
            return { ...words, date, startsAt: instant(startsAt + minutes * 60_000), status: 'CONFIRMED' as const, title: 'Otherwise' };
          });
          const text = writeCalendar('x', seriesEvents({ ...words, uid: 'a', repeat: ruled, time, zone }, differing), instant(0));
          const [back, ...others] = await readCalendar(text, 'Europe/Dublin');
          expect(others).toEqual([]);
          expect(back).toMatchObject({ possible: true, ...(back!.repeat && { zone, time }) });
          const changed = new Map(back!.changes.map(({ date, startsAt, title }) => [date, { startsAt, title }]));
          // A list of one date is one show.
          const dates = back!.repeat ? everything(back!.repeat, back!.time, back!.zone) : [{ date: '', startsAt: back!.startsAt! }];
          const seen = dates.map(({ date, startsAt }) => changed.get(date)?.startsAt ?? startsAt);
          expect(seen).toEqual(own.map(({ date, startsAt }) => startsAt + (moved.get(date) ?? 0) * 60_000));
          expect([...changed.values()].every(({ title }) => title === 'Otherwise')).toBe(true);
        },
      ),
      { numRuns: 150 },
    );
  });

  test('zones, lengths and rules are understood; a rule that is not ours leaves the first date', async () => {
    const [weekly, odd] = await readCalendar(
      file(
        vevent(
          'DTSTART;TZID=Europe/Dublin:20270304T203000',
          'DURATION:PT40M',
          'SUMMARY:Dusk Report',
          'RRULE:FREQ=WEEKLY;BYDAY=TH',
          'EXDATE;TZID=Europe/Dublin:20270311T203000',
        ),
        vevent('DTSTART:20270401T203000Z', 'DTEND:20270401T213000Z', 'RRULE:FREQ=YEARLY;BYWEEKNO=20'),
      ),
      'UTC',
    );
    expect(weekly).toMatchObject({
      startsAt: Date.parse('2027-03-04T20:30:00Z'),
      zone: 'Europe/Dublin',
      lengthMin: 40,
      repeats: 'Every Thursday, without 1 dropped',
    });
    expect(odd).toMatchObject({ possible: true, repeats: '', lengthMin: 60, title: 'Untitled', trouble: expect.stringContaining('Only its first date') });
  });
});

describe('over the interface', () => {
  let station: TestStation;
  const as = (test: request.Test) => station.as(test);
  beforeAll(async () => {
    station = await TestStation.open();
    station.travelTo(Date.parse('2027-02-20T12:00:00Z'));
    station.cookie = await station.signIn(OWNER.email, OWNER.password);
  });
  afterAll(() => station.close());

  test('chosen events become drafts and series; the station’s own calendar gives them back', async () => {
    const text = file(
      vevent('DTSTART;TZID=Europe/Dublin:20270304T203000', 'DURATION:PT40M', 'SUMMARY:Dusk Report', 'RRULE:FREQ=WEEKLY;COUNT=3'),
      vevent('DTSTART:20270305T203000Z', 'DURATION:PT1H', 'SUMMARY:Not this one'),
    );
    const looked = (await as(station.http().post('/api/calendar')).send({ text }).expect(200)).body as CalendarReading;
    expect(looked.made).toEqual([]);
    const taken = (
      await as(station.http().post('/api/calendar'))
        .send({ text, take: [looked.entries[0]!.id] })
        .expect(200)
    ).body as CalendarReading;
    expect(taken.made).toMatchObject([{ title: 'Dusk Report' }]);
    const shows = (await as(station.http().get('/api/shows'))).body as ShowView[];
    expect(shows.map(({ title }) => title)).toEqual(['Dusk Report', 'Dusk Report', 'Dusk Report']);
    // One date is moved: it stands beside the rule, in its place.
    await as(station.http().post(`/api/shows/${shows[1]!.id}/move`))
      .send({ startsAt: shows[1]!.startsAt + 3_600_000, lengthMs: 2_400_000, base: 1 })
      .expect(200);
    const out = (
      await as(station.http().get('/api/calendar.ics'))
        .expect(200)
        .expect('content-type', /text\/calendar/)
    ).text;
    const events = parsed(out)
      .getAllSubcomponents('vevent')
      .map((each) => new ICAL.Event(each));
    expect(events.map((each) => [each.summary, each.isRecurring(), each.isRecurrenceException()])).toEqual([
      ['Dusk Report', true, false],
      ['Dusk Report', false, true],
    ]);
  });

  test('the station’s own calendar can be taken over again: a moved date stays moved, and nothing is made of an event that cannot be', async () => {
    const out = (await as(station.http().get('/api/calendar.ics')).expect(200)).text;
    const before = ((await as(station.http().get('/api/shows'))).body as ShowView[]).map(({ startsAt }) => startsAt);
    const looked = (await as(station.http().post('/api/calendar')).send({ text: out }).expect(200)).body as CalendarReading;
    expect(looked.entries).toMatchObject([{ possible: true, repeats: 'Every Thursday, 3 times, one date otherwise' }]);
    const past = vevent('UID:old', 'DTSTART;TZID=Europe/Dublin:20250304T203000', 'RRULE:FREQ=WEEKLY;COUNT=3', 'SUMMARY:Long over');
    const taken = (
      await as(station.http().post('/api/calendar'))
        .send({ text: `${out}\r\n${file(past)}`, take: ['0', '1'] })
        .expect(200)
    ).body as CalendarReading;
    expect(taken.made).toMatchObject([{ title: 'Dusk Report' }]);
    expect(taken.refused).toEqual([{ title: 'Long over', words: 'None of its dates lies ahead.' }]);
    const after = ((await as(station.http().get('/api/shows'))).body as ShowView[]).map(({ startsAt }) => startsAt);
    expect(after.sort()).toEqual([...before, ...before].sort());
  });

  test('its address is a secret that is told once, opens without signing in, and can be taken back', async () => {
    const { url } = (await as(station.http().post('/api/station/feed')).expect(201)).body as { url: string };
    const path = new URL(url).pathname;
    expect((await station.http().get(path).expect(200)).text).toContain('BEGIN:VCALENDAR');
    await station.http().get('/calendar/guessed.ics').expect(404);
    expect(JSON.stringify((await as(station.http().get('/api/station'))).body)).not.toContain(path.split('/').at(-1)!.slice(0, 10));
    await as(station.http().delete('/api/station/feed')).expect(204);
    await station.http().get(path).expect(404);
  });

  test('a file that is too large is refused with what to do', async () => {
    const reply = await as(station.http().post('/api/calendar')).send({ text: 'x'.repeat(1_000_001) });
    expect(reply.status).toBe(400);
    expect(reply.body.words).toContain('1 MB');
  });
});
