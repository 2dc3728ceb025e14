import fc from 'fast-check';
import { DAY_MS, instant } from '../time/instant';
import { wallTimeOf } from '../time/zones';
import { occurrencesOf, shiftsFor } from './occurrences';
import { datesOf, readRRule, repeatTrouble, sayRepeat, toRRule, walk, type Ending, type Nth, type Pattern, type Repeat } from './repeat';
import { dayNumber, WEEKDAYS } from '../time/days';

const rule = (pattern: Pattern | null, from: string, more: Partial<Repeat> = {}): Repeat => ({
  pattern,
  from,
  ends: { kind: 'never' },
  also: [],
  dropped: [],
  ...more,
});

/** Asks every day of the calendar in turn, by the calendar of the engine alone, whether the rule means it. */
function oracle({ pattern, from, ends, also, dropped }: Repeat, to: string): string[] {
  const days: string[] = [];
  const start = new Date(`${from}T12:00:00Z`);
  const last = new Date(`${to}T12:00:00Z`);
  const mondayOf = (date: Date) => new Date(date.getTime() - ((date.getUTCDay() + 6) % 7) * DAY_MS);
  let left = ends.kind === 'count' ? ends.count : Infinity;
  for (let date = new Date(start); date <= last; date = new Date(date.getTime() + DAY_MS)) {
    const name = date.toISOString().slice(0, 10);
    if (!pattern || left === 0 || (ends.kind === 'until' && name > ends.date)) break;
    const weekday = WEEKDAYS[(date.getUTCDay() + 6) % 7]!;
    const months = (date.getUTCFullYear() - start.getUTCFullYear()) * 12 + date.getUTCMonth() - start.getUTCMonth();
    let meant = false;
    if (pattern.every === 'day') meant = Math.round((date.getTime() - start.getTime()) / DAY_MS) % pattern.interval === 0;
    if (pattern.every === 'week') {
      const weeks = Math.round((mondayOf(date).getTime() - mondayOf(start).getTime()) / DAY_MS / 7);
      meant = weeks % pattern.interval === 0 && pattern.on.includes(weekday);
    }
    if (pattern.every === 'month' && months % pattern.interval === 0) {
      const inAWeek = new Date(date.getTime() + 7 * DAY_MS);
      if ('onDate' in pattern) meant = date.getUTCDate() === pattern.onDate;
      else if (weekday === pattern.on) {
        meant = pattern.nth === -1 ? inAWeek.getUTCMonth() !== date.getUTCMonth() : Math.ceil(date.getUTCDate() / 7) === pattern.nth;
      }
    }
    if (meant) {
      left -= 1;
      days.push(name);
    }
  }
  const all = new Set([...days, ...(pattern ? [] : [from]), ...also]);
  return [...all].filter((date) => date <= to && !dropped.includes(date)).sort();
}

const someDate = fc.integer({ min: 0, max: 3_000 }).map((days) => new Date(Date.UTC(2023, 0, 1) + days * DAY_MS).toISOString().slice(0, 10));
const somePattern: fc.Arbitrary<Pattern> = fc.oneof(
  fc.record({ every: fc.constant('day' as const), interval: fc.integer({ min: 1, max: 9 }) }),
  fc.record({
    every: fc.constant('week' as const),
    interval: fc.integer({ min: 1, max: 5 }),
    on: fc.uniqueArray(fc.constantFrom(...WEEKDAYS), { minLength: 1 }),
  }),
  fc.record({ every: fc.constant('month' as const), interval: fc.integer({ min: 1, max: 5 }), onDate: fc.integer({ min: 1, max: 31 }) }),
  fc.record({
    every: fc.constant('month' as const),
    interval: fc.integer({ min: 1, max: 5 }),
    nth: fc.constantFrom<Nth>(1, 2, 3, 4, 5, -1),
    on: fc.constantFrom(...WEEKDAYS),
  }),
);
const someEnding: fc.Arbitrary<Ending> = fc.oneof(
  fc.constant({ kind: 'never' as const }),
  fc.record({ kind: fc.constant('count' as const), count: fc.integer({ min: 1, max: 40 }) }),
  fc.record({ kind: fc.constant('until' as const), date: someDate }),
);
const someRepeat = fc.record({
  pattern: fc.option(somePattern, { freq: 8 }),
  from: someDate,
  ends: someEnding,
  also: fc.array(someDate, { maxLength: 4 }),
  dropped: fc.array(someDate, { maxLength: 4 }),
});

describe('the days of a series', () => {
  test('are those that asking every day of the calendar finds, from anywhere on', () => {
    fc.assert(
      fc.property(someRepeat, someDate, (repeat, from) => {
        fc.pre(repeatTrouble(repeat) === null);
        const to = '2033-12-31';
        const known = oracle(repeat, to);
        expect(datesOf(repeat, '2000-01-01', to)).toEqual(known);
        expect(datesOf(repeat, from, to, 5)).toEqual(known.filter((date) => date >= from).slice(0, 5));
      }),
    );
  });

  test.each([
    ['29 February', rule({ every: 'month', interval: 12, onDate: 29 }, '2024-02-29'), ['2024-02-29', '2028-02-29', '2032-02-29']],
    ['the 31st', rule({ every: 'month', interval: 1, onDate: 31 }, '2026-01-31'), ['2026-01-31', '2026-03-31', '2026-05-31']],
    ['the last Thursday', rule({ every: 'month', interval: 1, nth: -1, on: 'TH' }, '2026-01-01'), ['2026-01-29', '2026-02-26', '2026-03-26']],
    ['a list', rule(null, '2026-12-11', { also: ['2027-01-08', '2026-11-13'] }), ['2026-11-13', '2026-12-11', '2027-01-08']],
  ])('%s', (_name, repeat, days) => {
    expect(datesOf(repeat, '2020-01-01', '2040-01-01', 3)).toEqual(days);
  });

  test.each([
    ['ends before it begins', rule({ every: 'day', interval: 1 }, '2026-12-01', { ends: { kind: 'until', date: '2026-11-30' } }), 'before the first'],
    ['counts nothing', rule({ every: 'day', interval: 1 }, '2026-12-01', { ends: { kind: 'count', count: 0 } }), 'from once to'],
    ['counts too much', rule({ every: 'day', interval: 1 }, '2026-12-01', { ends: { kind: 'count', count: 10_000 } }), '1000 times'],
    ['has no day of the week', rule({ every: 'week', interval: 1, on: [] }, '2026-12-01'), 'at least one day'],
    ['lists a day that there is not', rule(null, '2026-12-01', { also: ['2027-02-29'] }), '2027-02-29'],
    ['has a broken interval', rule({ every: 'day', interval: 0.5 }, '2026-12-01'), 'every 1 to 60 days'],
  ])('a rule that %s is refused with the way out, and has no days', (_name, repeat, words) => {
    expect(repeatTrouble(repeat)).toContain(words);
    expect(datesOf(repeat, '2026-01-01', '2030-01-01')).toEqual([]);
  });

  test.each([
    ['the 31st of each February', { every: 'month', interval: 12, onDate: 31 }, '2027-02-28', 'No February has a 31st'],
    ['the 30th of every second February', { every: 'month', interval: 24, onDate: 30 }, '2027-02-28', 'No February has a 30th'],
    ['leap days of odd years', { every: 'month', interval: 24, onDate: 29 }, '2027-02-28', 'No February of these years has a 29th'],
    ['the fifth Sunday of odd Februaries', { every: 'month', interval: 24, nth: 5, on: 'SU' }, '2027-02-28', 'a fifth Sunday'],
  ] as [string, Pattern, string, string][])('a rule that no month meets is told as such: %s', (_name, pattern, from, words) => {
    expect(repeatTrouble(rule(pattern, from))).toContain(words);
    expect(datesOf(rule(pattern, from), '2027-01-01', '2190-01-01', 1)).toEqual([]);
  });

  test('a walk takes no more steps than there are days, whatever the rule, and ends with its last day', () => {
    const anyPattern: fc.Arbitrary<Pattern> = fc.oneof(
      somePattern,
      fc.record({ every: fc.constant('month' as const), interval: fc.integer({ min: 1, max: 60 }), onDate: fc.integer({ min: 28, max: 31 }) }),
      fc.record({
        every: fc.constant('month' as const),
        interval: fc.constantFrom(12, 24, 48, 60),
        nth: fc.constant<Nth>(5),
        on: fc.constantFrom(...WEEKDAYS),
      }),
    );
    fc.assert(
      fc.property(anyPattern, someDate, someDate, fc.integer({ min: 0, max: 4_000 }), (pattern, begins, from, span) => {
        const first = Math.max(dayNumber(begins)!, dayNumber(from)!);
        const last = first + span;
        let steps = 0;
        for (const day of walk(pattern, dayNumber(begins)!, first, last)) {
          steps += 1;
          // An end that is missed is a failure here and not a test that never ends.
          if (steps > span + 8) throw new Error(`more than ${span + 8} steps`);
          if (day !== null) expect(day >= first && day <= last).toBe(true);
        }
      }),
    );
  });

  test('are said as people say them', () => {
    const weekly = rule({ every: 'week', interval: 1, on: ['TH'] }, '2026-12-03', { dropped: ['2026-12-24'] });
    expect(sayRepeat(weekly)).toBe('Every Thursday, without 1 dropped');
    expect(sayRepeat({ ...weekly, dropped: [], ends: { kind: 'until', date: '2027-03-12' } })).toBe('Every Thursday, until 12 March 2027');
    expect(sayRepeat(rule({ every: 'month', interval: 1, nth: -1, on: 'SA' }, '2026-12-03', { ends: { kind: 'count', count: 12 } }))).toBe(
      'The last Saturday of each month, 12 times',
    );
    expect(sayRepeat(rule({ every: 'month', interval: 2, onDate: 31 }, '2026-12-03'))).toBe('The 31st of every 2 months that has one');
    expect(sayRepeat(rule(null, '2026-12-03', { also: ['2027-01-08'] }))).toBe('On 2 listed dates');
  });

  test('a rule written for a calendar is read back as the same rule', () => {
    fc.assert(
      fc.property(someRepeat, (repeat) => {
        fc.pre(repeat.pattern !== null && repeatTrouble(repeat) === null);
        const until = repeat.ends.kind === 'until' ? `${repeat.ends.date.replaceAll('-', '')}T203000Z` : null;
        const read = readRRule(toRRule(repeat, until)!, repeat.from);
        expect(read).not.toHaveProperty('refused');
        expect(datesOf({ ...repeat, ...(read as { pattern: Pattern; ends: Ending }) }, '2020-01-01', '2030-01-01')).toEqual(
          datesOf(repeat, '2020-01-01', '2030-01-01'),
        );
      }),
    );
  });

  test.each(['FREQ=SECONDLY', 'FREQ=YEARLY;BYWEEKNO=20', 'FREQ=MONTHLY;BYDAY=MO,TU;BYSETPOS=-1', 'FREQ=DAILY;COUNT=0', 'nonsense'])(
    'a calendar’s rule that is not ours, "%s", is refused in words',
    (text) => {
      expect(readRRule(text, '2026-12-03')).toHaveProperty('refused');
    },
  );
});

describe('the instants of a series', () => {
  const ZONES = [
    'Europe/Dublin',
    'America/Santiago',
    'Pacific/Auckland',
    'Asia/Kolkata',
    'Australia/Lord_Howe',
    'America/St_Johns',
    'Africa/Casablanca',
    'UTC',
  ];
  /** The instants at which a clock of the zone, looked at every quarter of an hour, shows this time of that day. */
  const lookedAt = (date: string, time: string, zone: string): number[] => {
    const noon = Date.parse(`${date}T12:00:00Z`);
    const found = [];
    for (let at = noon - 30 * 3_600_000; at < noon + 30 * 3_600_000; at += 900_000) {
      const parts = new Intl.DateTimeFormat('sv-SE', { timeZone: zone, dateStyle: 'short', timeStyle: 'short' }).format(at);
      if (parts === `${date} ${time}`) found.push(at);
    }
    return found;
  };

  test('keep their wall time in every zone and hemisphere, and tell the times that a clock change skips or doubles', () => {
    const someTime = fc.integer({ min: 0, max: 95 }).map((n) => `${String(Math.floor(n / 4)).padStart(2, '0')}:${String((n % 4) * 15).padStart(2, '0')}`);
    fc.assert(
      fc.property(fc.constantFrom(...ZONES), someTime, someDate, (zone, time, from) => {
        const daily = rule({ every: 'day', interval: 1 }, from, { ends: { kind: 'count', count: 3 } });
        for (const { date, startsAt, wall } of occurrencesOf(daily, time, zone, instant(0), instant(4e12))) {
          const seen = lookedAt(date, time, zone);
          expect(wall).toBe(seen.length === 0 ? 'skipped' : seen.length === 1 ? 'once' : 'twice');
          if (seen.length) expect(startsAt).toBe(seen[0]);
        }
      }),
      { numRuns: 60 },
    );
  });

  test('every changed clock of three years is met', () => {
    for (const [zone, time] of [
      ['Europe/Dublin', '01:30'],
      ['America/Santiago', '23:30'],
      ['Australia/Lord_Howe', '02:15'],
    ] as const) {
      const daily = rule({ every: 'day', interval: 1 }, '2026-01-01');
      const odd = occurrencesOf(daily, time, zone, instant(Date.UTC(2026, 0, 1)), instant(Date.UTC(2029, 0, 1))).filter(({ wall }) => wall !== 'once');
      for (const { date, wall } of odd) expect(lookedAt(date, time, zone)).toHaveLength(wall === 'skipped' ? 0 : 2);
      expect(odd.length).toBeGreaterThanOrEqual(3);
    }
  });

  test('a skipped time is read with the offset before the gap (RFC 5545, section 3.3.5)', () => {
    const [only] = occurrencesOf(rule(null, '2027-03-28'), '01:30', 'Europe/Dublin', instant(0), instant(4e12));
    expect(only).toMatchObject({ wall: 'skipped' });
    expect(wallTimeOf(only!.startsAt, 'Europe/Dublin').time).toBe('02:30');
  });

  test('tell from when on viewers elsewhere find the show at another time', () => {
    const weekly = rule({ every: 'week', interval: 1, on: ['TH'] }, '2027-03-04');
    const dates = occurrencesOf(weekly, '20:30', 'Europe/Dublin', instant(Date.UTC(2027, 2, 1)), instant(Date.UTC(2027, 4, 1)));
    const cities = [
      { name: 'Alderfell', zone: 'Europe/Dublin' },
      { name: 'Kolkata', zone: 'Asia/Kolkata' },
      { name: 'Auckland', zone: 'Pacific/Auckland' },
    ];
    const shifts = shiftsFor(dates, cities);
    expect(shifts.map(({ city, from, byMs }) => [city.name, from, byMs / 3_600_000])).toEqual([
      ['Kolkata', '2027-04-01', -1],
      ['Auckland', '2027-04-01', -1],
      ['Auckland', '2027-04-08', -1],
    ]);
  });
});
