import type { PlanView } from '@lantern/contract';
import { nextOn } from './next-show';

const plan = {
  uses: [
    { channelId: 'a', showId: 'later', startsAt: 500, lengthMs: 10 },
    { channelId: 'a', showId: 'next', startsAt: 200, lengthMs: 100 },
    { channelId: 'b', showId: 'other', startsAt: 150, lengthMs: 10 },
  ],
  shows: ['later', 'next', 'other'].map((id) => ({ id, title: id, startsAt: 0, lengthMs: 0, people: [], room: '' })),
} as unknown as PlanView;

test('the next show of a channel is the one that is on or begins first there', () => {
  expect([100, 250, 300, 600].map((now) => nextOn(plan, 'a', now)?.id ?? null)).toEqual(['next', 'next', 'later', null]);
  expect(nextOn(plan, 'c', 0)).toBeNull();
});
