import fc from 'fast-check';
import { dateOfDay, dayNumber } from './days';
import { DATE_ORDERS, readTypedDate, readTypedLength, readTypedMoment, readTypedTime, sayTypedDate, sayTypedLength } from './typed';

const TODAY = '2026-11-26'; // a Thursday

test.each([
  ['17 Dec', '2026-12-17'],
  ['thu 17 december', '2026-12-17'],
  ['Dec 17, 2027', '2027-12-17'],
  ['17th of', null],
  ['17th december', '2026-12-17'],
  ['3 sept', '2027-09-03'],
  ['17.12.', '2026-12-17'],
  ['1/2', '2027-02-01'],
  ['17/12/26', '2026-12-17'],
  ['2026-12-17', '2026-12-17'],
  ['2026/12/17', '2026-12-17'],
  ['29 feb', '2028-02-29'],
  ['26 nov', '2026-11-26'],
  ['25 nov', '2027-11-25'],
  ['today', '2026-11-26'],
  ['Tomorrow', '2026-11-27'],
  ['thu', '2026-11-26'],
  ['next thursday', '2026-12-03'],
  ['fri', '2026-11-27'],
  ['in 2 weeks', '2026-12-10'],
  ['31 april', null],
  ['17', null],
  ['dec', null],
  ['someday', null],
  ['', null],
  ['17 dec 1850', null],
  ['2026-13-01', null],
])('“%s” typed on a Thursday in November is %s', (typed, date) => {
  expect(readTypedDate(typed, TODAY)).toBe(date);
});

test('numbers alone are read in the order of the station', () => {
  expect(readTypedDate('3/4/2027', TODAY, 'day first')).toBe('2027-04-03');
  expect(readTypedDate('3/4/2027', TODAY, 'month first')).toBe('2027-03-04');
  expect(readTypedDate('27-3-4', TODAY, 'year first')).toBe('2027-03-04');
});

test('what a field shows is understood when it is left as it is, in every order', () => {
  fc.assert(
    fc.property(fc.integer({ min: dayNumber('2000-01-01')!, max: dayNumber('2199-12-31')! }), fc.constantFrom(...DATE_ORDERS), (day, order) => {
      const date = dateOfDay(day);
      expect(readTypedDate(sayTypedDate(date, order), TODAY, order)).toBe(date);
    }),
  );
  expect(sayTypedDate('2026-12-17')).toBe('Thu 17 December 2026');
  expect(sayTypedDate('2026-12-17', 'month first')).toBe('Thu, December 17, 2026');
});

test.each([
  ['20:30', '20:30'],
  ['20.30', '20:30'],
  ['2030', '20:30'],
  ['8:30 pm', '20:30'],
  ['8pm', '20:00'],
  ['12 am', '00:00'],
  ['12:15 p.m.', '12:15'],
  ['20h30', '20:30'],
  ['20h', '20:00'],
  ['9', '09:00'],
  ['930', '09:30'],
  ['noon', '12:00'],
  ['Midnight', '00:00'],
  ['24:00', null],
  ['20:61', null],
  ['13 pm', null],
  ['20m', null],
  ['evening', null],
  ['', null],
])('the time “%s” is %s', (typed, time) => {
  expect(readTypedTime(typed)).toBe(time);
});

test.each([
  ['5', 300],
  ['5:30', 330],
  ['90:00', 5_400],
  ['1:05:09', 3_909],
  ['90 s', 90],
  ['90s', 90],
  ['5 min', 300],
  ['1 h', 3_600],
  ['1 h 10', 4_200],
  ['2 min 30 s', 150],
  ['5:75', null],
  ['1:75:00', null],
  ['soon', null],
  ['', null],
  ['-5', null],
])('“%s” typed as a length is %s seconds', (typed, seconds) => {
  expect(readTypedLength(typed)).toBe(seconds);
});

test('a length is read again as it is said', () => {
  expect([sayTypedLength(330), sayTypedLength(3_909), sayTypedLength(0)]).toEqual(['5:30', '1:05:09', '0:00']);
  fc.assert(fc.property(fc.integer({ min: 0, max: 99 * 3_600 }), (seconds) => expect(readTypedLength(sayTypedLength(seconds))).toBe(seconds)));
});

test.each([
  ['21:22:09', '21:22:09'],
  ['21.22.09', '21:22:09'],
  ['9:05:00', '09:05'],
  ['9.05 pm', '21:05'],
  ['21:22:75', null],
  ['25:00:01', null],
])('“%s” typed as a moment is %s', (typed, moment) => {
  expect(readTypedMoment(typed)).toBe(moment);
});
