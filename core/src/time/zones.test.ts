import fc from 'fast-check';
import { instant } from './instant';
import { isZone, readWallTime, sayClock, sayDistance, sayLength, sayTime, sayWhen, wallTimeOf } from './zones';

const ZONES = ['Europe/Dublin', 'America/Santiago', 'Asia/Kolkata', 'Pacific/Auckland', 'Australia/Lord_Howe', 'Pacific/Apia', 'UTC', 'America/St_Johns'];
const minutes = fc.integer({ min: Date.UTC(2000, 0, 1) / 60_000, max: Date.UTC(2040, 0, 1) / 60_000 });

test('a wall time read back stands for the instant that it was taken from', () => {
  fc.assert(
    fc.property(fc.constantFrom(...ZONES), minutes, (zone, minute) => {
      const at = instant(minute * 60_000);
      const reading = readWallTime(wallTimeOf(at, zone), zone);
      const meant = reading.kind === 'twice' ? [reading.instant, reading.later] : reading.kind === 'once' ? [reading.instant] : [];
      expect(meant).toContain(at);
    }),
    { numRuns: 400, seed: 20261124 },
  );
});

test.each([
  // Clocks forward: an hour, or half of one, does not exist.
  ['2027-03-28', '01:30', 'Europe/Dublin', 'skipped'],
  ['2026-10-04', '02:15', 'Australia/Lord_Howe', 'skipped'],
  // Clocks back: the same reading comes twice.
  ['2026-10-25', '01:30', 'Europe/Dublin', 'twice'],
  ['2026-04-05', '02:30', 'Pacific/Auckland', 'twice'],
  // A whole day that an island never had.
  ['2011-12-30', '12:00', 'Pacific/Apia', 'skipped'],
  ['2028-02-29', '20:30', 'Europe/Dublin', 'once'],
  ['2027-02-29', '20:30', 'Europe/Dublin', 'unreadable'],
  ['2026-11-26', '24:00', 'Europe/Dublin', 'unreadable'],
  ['2026-11-26', '20:30', 'Europe/Nowhere', 'unreadable'],
])('%s %s in %s is there %s', (date, time, zone, kind) => {
  expect(readWallTime({ date, time }, zone).kind).toBe(kind);
});

test('a skipped time points to the first moment after the gap', () => {
  const reading = readWallTime({ date: '2027-03-28', time: '01:30' }, 'Europe/Dublin');
  expect(reading).toEqual({ kind: 'skipped', instant: Date.UTC(2027, 2, 28, 1) });
});

test('offsets and nonsense are not zones', () => {
  expect(['Europe/Dublin', 'UTC'].every(isZone)).toBe(true);
  expect(['+01:00', '', 'Mars/Olympus', '../etc'].some(isZone)).toBe(false);
});

test('times are said with their zone at that moment', () => {
  expect(sayWhen(instant(Date.UTC(2026, 11, 3, 20, 30)), 'Europe/Dublin')).toBe('Thursday, 3 December 2026, 20:30 GMT');
  expect(sayTime(instant(Date.UTC(2026, 6, 2, 19, 30)), 'Europe/Dublin')).toContain('20:30');
});

test('lengths and distances are said as people say them', () => {
  expect([40, 60, 570].map((min) => sayLength(min * 60_000))).toEqual(['40 min', '1 h', '9 h 30 min']);
  expect(sayDistance(18 * 60_000)).toBe('in 18 min');
  expect(sayDistance(-3 * 24 * 3_600_000)).toBe('3 days ago');
  expect(sayDistance(10_000)).toBe('now');
  expect([sayClock(3_909_000), sayClock(59_001, true), sayClock(-5)]).toEqual(['1:05:09', '01:00', '00:00']);
});

test.each([
  ['Europe/Dublin', 'IST'],
  ['Europe/London', 'BST'],
  ['Europe/Paris', 'CEST'],
  ['America/New_York', 'EDT'],
  ['Australia/Sydney', 'AEST'],
  ['UTC', 'UTC'],
  // Nobody who lives there has a name for it.
  ['America/Santiago', 'GMT-4'],
])('the time of %s in July is said as those who live there say it: %s', (zone, name) => {
  expect(sayTime(instant(Date.UTC(2026, 6, 1, 12)), zone)).toMatch(new RegExp(`^\\d\\d:\\d\\d ${name}$`));
  expect(sayTime(instant(Date.UTC(2026, 6, 1, 12)), zone, false)).toMatch(/^\d\d:\d\d$/);
});

test('nobody counts hours by the hundred', () => {
  expect([47.5, 48, 646.3].map((hours) => sayClock(hours * 3_600_000, true))).toEqual(['47:30:00', '2 days', '26 days 22 h']);
});
