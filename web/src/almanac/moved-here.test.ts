import type { ShowSummary } from '@lantern/contract';
import { asMovedHere } from './moved-here';

const show = { id: 'dusk', version: 4, startsAt: 100, lengthMs: 60 } as ShowSummary;
const other = { id: 'walk', version: 1, startsAt: 7, lengthMs: 8 } as ShowSummary;
const startOf = (version: number, put: number | null) =>
  asMovedHere([{ ...show, version }, other], new Map([['dusk', { startsAt: 200, lengthMs: 60, version: put }]])).map(({ startsAt }) => startsAt);

test('a show stays where it was put while nothing newer is known of it', () => {
  // The server has not answered, whatever it tells meanwhile.
  expect(startOf(4, null)).toEqual([200, 7]);
  expect(startOf(5, null)).toEqual([200, 7]);
  // It has answered, and an older list arrives.
  expect(startOf(4, 5)).toEqual([200, 7]);
});

test('what the server tells holds as soon as it is of that move, or of a later one by anybody', () => {
  expect(startOf(5, 5)).toEqual([100, 7]);
  expect(startOf(6, 5)).toEqual([100, 7]);
});
