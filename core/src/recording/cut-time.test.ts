import fc from 'fast-check';
import { readCutTime, sayCutTime } from './cut-time';

test.each([
  ['63', 63_000],
  ['1:03', 63_000],
  ['1:03.5', 63_500],
  ['1:03,25', 63_250],
  ['1:02:03.456', 3_723_456],
  ['90:00', 5_400_000],
  [' 0:00 ', 0],
  ['1:63', null],
  ['1:60:00', null],
  ['', null],
  ['soon', null],
  ['-1', null],
  ['1:2:3:4', null],
])('%j is %p', (typed, ms) => expect(readCutTime(typed)).toBe(ms));

test('what is written is read, to the hundredth', () => {
  fc.assert(fc.property(fc.integer({ min: 0, max: 40_000_000 }), (ms) => Math.abs(readCutTime(sayCutTime(ms))! - ms) <= 5));
});
