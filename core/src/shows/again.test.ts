import { instant } from '../time/instant';
import { wallTimeOf } from '../time/zones';
import { datedWords, nextTime } from './again';

test('a show comes again on its weekday and at its wall time, after a clock change too, and never in the past', () => {
  const before = instant(Date.parse('2027-03-25T20:30:00Z')); // A Thursday; Dublin's clocks go forward on the 28th.
  const soon = nextTime(before, 'Europe/Dublin', instant(Date.parse('2027-03-26T09:00:00Z')));
  expect(wallTimeOf(soon.startsAt, 'Europe/Dublin')).toEqual({ date: '2027-04-01', time: '20:30' });
  const late = nextTime(before, 'Europe/Dublin', instant(Date.parse('2027-06-10T09:00:00Z')));
  expect(wallTimeOf(late.startsAt, 'Europe/Dublin')).toEqual({ date: '2027-06-17', time: '20:30' });
  expect(nextTime(instant(Date.parse('2027-03-21T01:30:00Z')), 'Europe/Dublin', before).sure).toBe(false);
});

test('words that may be right for one date only are found, placeholders are not', () => {
  expect(datedWords('Tonight, Thursday 3 December at 20:30: episode 41. {start in Santiago}')).toEqual([
    'Tonight',
    'Thursday',
    '3 December',
    '20:30',
    'episode 41',
  ]);
  expect(datedWords('The sky from the fell, as it may be seen {start}.')).toEqual([]);
});
