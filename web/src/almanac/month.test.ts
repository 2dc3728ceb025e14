import { monthOn, readMonth, weeksOf } from './month';

const show = (iso: string) => ({ startsAt: Date.parse(iso), title: iso });

test('a month is whole weeks from Monday on, with the days around it', () => {
  const weeks = weeksOf('2026-12', [], 'UTC');
  expect(weeks.map((week) => [week[0]!.date, week.length])).toEqual(
    ['2026-11-30', '2026-12-07', '2026-12-14', '2026-12-21', '2026-12-28'].map((date) => [date, 7]),
  );
  expect(weeks.flat().filter(({ inMonth }) => inMonth)).toHaveLength(31);
  // From a day on: five weeks, all of them meant.
  const ahead = weeksOf('2026-11-26', [], 'UTC');
  expect([ahead.length, ahead[0]![0]!.date, ahead.flat().every(({ inMonth }) => inMonth)]).toEqual([5, '2026-11-23', true]);
  // A February that fits four weeks exactly.
  expect(weeksOf('2027-02', [], 'UTC').map((week) => week[0]!.date)).toEqual(['2027-02-01', '2027-02-08', '2027-02-15', '2027-02-22']);
});

test('a show stands on its day by the clocks of the zone, the earlier first', () => {
  const shows = [show('2026-12-03T20:30:00Z'), show('2026-12-03T09:00:00Z'), show('2026-12-03T23:30:00Z'), show('2027-01-20T12:00:00Z')];
  const titles = (zone: string, date: string) =>
    weeksOf('2026-12', shows, zone)
      .flat()
      .find((day) => day.date === date)!
      .shows.map(({ title }) => title);
  expect(titles('UTC', '2026-12-03')).toEqual(['2026-12-03T09:00:00Z', '2026-12-03T20:30:00Z', '2026-12-03T23:30:00Z']);
  expect(titles('Asia/Kolkata', '2026-12-04')).toEqual(['2026-12-03T20:30:00Z', '2026-12-03T23:30:00Z']);
});

test('months go on over the turn of the year, and an odd address is none', () => {
  expect([monthOn('2026-12', 1), monthOn('2026-01', -1), monthOn('2026-06', 18)]).toEqual(['2027-01', '2025-12', '2027-12']);
  expect(['2026-12', '2026-13', '12', null, '1850-01', 'x'].map(readMonth)).toEqual(['2026-12', null, null, null, null, null]);
});
