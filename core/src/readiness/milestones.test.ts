import { DAY_MS, HOUR_MS, instant } from '../time/instant';
import { milestonesOf, USUAL_TIMES, type MilestoneFacts } from './milestones';

const START = instant(Date.UTC(2026, 11, 17, 20, 30));
const facts: MilestoneFacts = {
  startsAt: START,
  lengthMs: 40 * 60_000,
  madeAt: instant(0),
  begunAt: null,
  endedAt: null,
  withdrawn: false,
  hasPicture: false,
  guests: 0,
  channels: [{ ready: false, name: 'Guildhand', leadMs: 5 * DAY_MS, furthestAheadMs: null }],
  ticked: [],
};
const at = (now: number, change: Partial<MilestoneFacts> = {}, times = USUAL_TIMES) =>
  Object.fromEntries(milestonesOf({ ...facts, ...change }, times, instant(now)).map(({ name, state }) => [name, state]));

test('steps are later, then due, then late as the start comes near', () => {
  expect(at(START - 30 * DAY_MS)).toMatchObject({ artwork: 'later', place: 'later', 'on air': 'later' });
  expect(at(START - 8 * DAY_MS)).toMatchObject({ artwork: 'due', place: 'due', announce: 'due', 'on air': 'later' });
  expect(at(START - 4.5 * DAY_MS)).toMatchObject({ artwork: 'due', place: 'late', announce: 'due' });
  expect(at(START - HOUR_MS / 2)).toMatchObject({ artwork: 'late', 'tech check': 'late', 'on air': 'due' });
});

test('facts make a step done, ticks only what no fact tells', () => {
  const done = { hasPicture: true, channels: [{ ...facts.channels[0]!, ready: true }], ticked: ['announce', 'place', 'on air'] as const };
  expect(at(START - DAY_MS, { ...done, ticked: [...done.ticked] })).toMatchObject({ artwork: 'done', place: 'done', announce: 'done', 'on air': 'due' });
  expect(at(START - DAY_MS, { channels: [], ticked: ['place'] })).toMatchObject({ place: 'late' });
});

test('what is not needed is not asked for: no guests, no replay to take down, a withdrawn show', () => {
  expect(at(START - DAY_MS)).toMatchObject({ guests: 'not needed', 'replay down': 'not needed' });
  expect(at(START - DAY_MS, { guests: 2, ticked: ['guests'] })).toMatchObject({ guests: 'done' });
  expect(Object.values(at(START - DAY_MS, { withdrawn: true }))).not.toContain('late');
});

test('after going on air only wrapping and the replay remain, counted from what really happened', () => {
  const begunAt = instant(START + 5 * 60_000);
  const on = milestonesOf({ ...facts, begunAt }, { ...USUAL_TIMES, 'replay down': 30 * DAY_MS }, begunAt);
  expect(on.filter(({ state }) => state !== 'done').map(({ name }) => name)).toEqual(['wrap', 'replay down']);
  expect(on.find(({ name }) => name === 'wrap')!.at).toBe(begunAt + facts.lengthMs);
});

test('steps stand in the order of their time, and the channel that wants to know first sets the day of placing', () => {
  const steps = milestonesOf(facts, USUAL_TIMES, instant(0));
  const times = steps.map((step) => step.at ?? Infinity);
  expect(times).toEqual([...times].sort((a, b) => a - b));
  expect(steps[0]).toMatchObject({ name: 'place', at: START - 5 * DAY_MS, missing: ['Guildhand'] });
});

test('what was due before the show was drafted is due now, at short notice, and reproaches nobody', () => {
  const madeAt = instant(START - 2.5 * DAY_MS);
  expect(at(START - 2.4 * DAY_MS, { madeAt })).toMatchObject({ artwork: 'short notice', place: 'short notice', announce: 'short notice', 'on air': 'due' });
  // What came due since is late like anything else.
  expect(at(START - HOUR_MS / 2, { madeAt, guests: 1 })).toMatchObject({ artwork: 'short notice', guests: 'late', 'tech check': 'late' });
});
