import { silentUntil, takesTalk, TALK_OPENS_BEFORE_MS, waitsBecause } from './house-talk';

const START = 1_800_000_000_000;

test.each<[string, number, boolean]>([
  ['placed', START - TALK_OPENS_BEFORE_MS - 1, false],
  ['placed', START - TALK_OPENS_BEFORE_MS, true],
  ['placed', START + 60_000, true],
  ['onAir', START - 2 * TALK_OPENS_BEFORE_MS, true],
  ['interrupted', START, true],
  ['over', START, false],
  ['withdrawn', START, false],
  ['draft', START, false],
])('a show that is %s takes messages at %d: %s', (state, now, takes) => {
  expect(takesTalk({ state, startsAt: START }, now)).toBe(takes);
});

test.each<[string, number | null, number | null, number, number | null]>([
  ['has written nothing yet', null, null, 15, null],
  ['wrote a moment ago', START - 1_000, null, 15, START + 14_000],
  ['wrote long enough ago', START - 15_000, null, 15, null],
  ['may write as fast as they like', START, null, 0, null],
  ['is silent for ten minutes more', START - 60_000, START + 600_000, 15, START + 600_000],
  ['was silent', START - 60_000, START - 1, 15, null],
])('somebody who %s', (_, last, silenced, everyS, until) => {
  expect(silentUntil(last, silenced, { everyS }, START)).toBe(until);
});

test.each(['none', 'first', 'every'] as const)('where %s is looked at first', (lookedAt) => {
  expect([false, true].map((before) => waitsBecause({ lookedAt }, before) !== null)).toEqual(
    { none: [false, false], first: [true, false], every: [true, true] }[lookedAt],
  );
});
