import { sayStanding, standingAmong } from './comparison';

test.each([
  [50, [10, 20, 60, 40], 'more than 3 of the last 4'],
  [50, [10, null, 20], 'more than each of the last 2'],
  [5, [10, 20], 'more than none of the last 2'],
  [10, [10], 'not more than the last time'],
  [11, [10], 'more than the last time'],
  [11, [null], null],
  [11, [], null],
])('%p among %p is %p', (own, earlier, words) => expect(sayStanding(standingAmong(own, earlier))).toBe(words));
