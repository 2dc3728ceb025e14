import type { ChannelView, PlanView, ShowDraft, ShowView } from '@lantern/contract';
import { defaultsFor, HOUR_MS, instant, MINUTE_MS, rulesFor } from '@lantern/core';
import { soonestStart } from './soonest';

const NOW = instant(Date.UTC(2026, 10, 24, 18));
const rules = rulesFor('reelmoor', 'library channel');
const channel: ChannelView = {
  id: 'library',
  network: 'reelmoor',
  kind: rules.kind,
  name: 'Club library',
  pictureUrl: null,
  access: 'good',
  rules,
  notices: [],
  defaults: defaultsFor(rules),
  limits: null,
  conditions: [],
  conditionsAt: null,
  watchUrl: null,
  lines: [{ id: 'dome', name: 'Dome' }],
};
const draft = { title: 'Members’ Evening', lengthMin: 40, lines: [] } as unknown as ShowDraft;
const show = { id: 'mine', airings: [] } as unknown as ShowView;

/** Shows on the one line of the channel, each an hour long. */
function planOf(starts: number[]): PlanView {
  const each = starts.map((startsAt, at) => ({ id: `s${at}`, title: `Dusk Report ${at + 1}`, startsAt: instant(startsAt), lengthMs: HOUR_MS }));
  return {
    uses: each.map(({ id, startsAt, lengthMs }) => ({
      airingId: `a-${id}`,
      showId: id,
      channelId: 'library',
      lineId: 'dome',
      startsAt,
      lengthMs,
      onAir: false,
      stands: true,
    })),
    lines: [{ id: 'dome', channelId: 'library', singleUse: false, name: 'Dome' }],
    channels: [{ id: 'library', name: 'Club library', severalAtOnce: true, startGridMs: 5 * MINUTE_MS }],
    shows: each.map((one) => ({ ...one, people: [], room: '' })),
  };
}
const soonest = (plan: PlanView | undefined) => soonestStart([channel], plan, draft, show, NOW);

test('with nothing in the way it is the first start that the channel takes', () => {
  const first = soonest(planOf([]))!;
  expect(first.past).toEqual([]);
  expect(first.startsAt).toBeGreaterThanOrEqual(NOW);
  expect(first.startsAt - NOW).toBeLessThan(HOUR_MS);
  expect(soonest(undefined)).toEqual(first);
});

test('it is after the shows that are on the line already, which are named, and takes a gap that is long enough', () => {
  const first = soonest(planOf([]))!.startsAt;
  const found = soonest(planOf([first, first + HOUR_MS + 5 * MINUTE_MS, first + 5 * HOUR_MS]))!;
  expect(found.past).toEqual(['Dusk Report 1', 'Dusk Report 2']);
  expect(found.startsAt).toBeGreaterThanOrEqual(first + 2 * HOUR_MS + 5 * MINUTE_MS);
  expect(found.startsAt + 40 * MINUTE_MS).toBeLessThanOrEqual(first + 5 * HOUR_MS);
  expect(found.startsAt % (5 * MINUTE_MS)).toBe(0);
});

test('a line that is taken for days is not promised', () => {
  expect(soonest(planOf(Array.from({ length: 90 }, (_, at) => NOW + at * HOUR_MS)))).toBeNull();
});
