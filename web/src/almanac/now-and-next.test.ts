import type { ShowSummary } from '@lantern/contract';
import { HOUR_MS, instant, MINUTE_MS } from '@lantern/core';
import { nowAndNext } from './NowAndNext';

const NOW = instant(1_800_000_000_000);
const show = (id: string, state: ShowSummary['state'], fromNowMs: number) => ({ id, state, startsAt: NOW + fromNowMs }) as ShowSummary;
const told = (...shows: ShowSummary[]) => nowAndNext(shows, NOW).map(({ show: { id }, as }) => `${as} ${id}`);

test('what is on air comes first, then what should have begun, then the next to come', () => {
  expect(
    told(show('later', 'placed', 5 * HOUR_MS), show('next', 'draft', HOUR_MS), show('missed', 'placed', -10 * MINUTE_MS), show('on', 'onAir', -HOUR_MS)),
  ).toEqual(['now on', 'late missed', 'next next']);
});

test('shows that begin together are all next; what is long past, withdrawn or an old draft is spoken of no more', () => {
  expect(told(show('a', 'placed', HOUR_MS), show('b', 'draft', HOUR_MS), show('c', 'placed', HOUR_MS + 1))).toEqual(['next a', 'next b']);
  expect(
    told(show('old', 'placed', -30 * HOUR_MS), show('draft', 'draft', -HOUR_MS), show('off', 'withdrawn', HOUR_MS), show('over', 'over', -HOUR_MS)),
  ).toEqual([]);
});
