import type { StationChanges } from '@lantern/contract';
import { outOfDate } from './changes';

const nothing: StationChanges = {
  shows: [],
  air: [],
  recordings: [],
  questions: [],
  messages: [],
  polls: [],
  channels: false,
  library: false,
  jobs: false,
  team: false,
};

test('only what was heard of is asked for anew', () => {
  expect(outOfDate(nothing)).toEqual([]);
  expect(outOfDate({ ...nothing, air: ['a'] })).toEqual([['on-air']]);
  expect(outOfDate({ ...nothing, jobs: true })).toEqual([['jobs']]);
  expect(outOfDate({ ...nothing, recordings: ['a'] })).toEqual([['report', 'a']]);
});

test('a show that changed puts its sheet, the lists and the plan out of date, and no other sheet', () => {
  const keys = outOfDate({ ...nothing, shows: ['a'] });
  expect(keys).toEqual(expect.arrayContaining([['show', 'a'], ['shows'], ['plan'], ['on-air']]));
  expect(keys).not.toContainEqual(['channels']);
});
