import type { ChannelView, PlanView, ShowDraft, ShowView } from '@lantern/contract';
import { defaultsFor, HOUR_MS, instant, MINUTE_MS, rulesFor, type NetworkId } from '@lantern/core';
import { clashesOfSheet } from './show-clashes';

const NOW = instant(Date.UTC(2026, 10, 24, 18));
const START = instant(NOW + 24 * HOUR_MS);

function channel(id: string, network: NetworkId, lines: string[]): ChannelView {
  const rules = rulesFor(network, network === 'reelmoor' ? 'library channel' : 'handle');
  return {
    id,
    network,
    kind: rules.kind,
    name: `Club ${id}`,
    pictureUrl: null,
    access: 'good',
    rules,
    notices: [],
    defaults: defaultsFor(rules),
    limits: null,
    conditions: [],
    conditionsAt: null,
    watchUrl: null,
    lines: lines.map((line) => ({ id: line, name: `Line ${line}` })),
  };
}
const TONIGHT = { startsAt: START, lengthMs: HOUR_MS, people: ['Maren Tolliver'], room: 'Dome' };
const library = channel('library', 'reelmoor', ['dome', 'hall']);
const handle = channel('handle', 'pipwire', ['post']);
const plan: PlanView = {
  uses: [
    { airingId: 'a1', showId: 's1', channelId: 'library', lineId: 'dome', startsAt: START, lengthMs: HOUR_MS, onAir: false, stands: true },
    { airingId: 'a2', showId: 's2', channelId: 'handle', lineId: 'post', startsAt: START, lengthMs: HOUR_MS, onAir: false, stands: false },
  ],
  lines: ['dome', 'hall']
    .map((id) => ({ id, channelId: 'library', singleUse: false, name: `Line ${id}` }))
    .concat({ id: 'post', channelId: 'handle', singleUse: false, name: 'Line post' }),
  channels: [
    { id: 'library', name: 'Club library', severalAtOnce: true, startGridMs: 5 * MINUTE_MS },
    { id: 'handle', name: 'Club handle', severalAtOnce: false, startGridMs: MINUTE_MS },
  ],
  shows: [
    { id: 's1', title: 'Dusk Report', ...TONIGHT },
    { id: 's2', title: 'Junior Dome Hour', ...TONIGHT },
  ],
};
const draft = (change: Partial<ShowDraft> = {}) => ({ title: 'Members’ Evening', lengthMin: 40, lines: [], ...change }) as unknown as ShowDraft;
const found = (change: Partial<ShowDraft>, channels: ChannelView[], show: ShowView | null = null, startsAt: typeof START | null = START) =>
  clashesOfSheet(plan, draft(change), show, startsAt, channels, NOW);

test('a new show meets what stands on the channel’s first line, and may take the other', () => {
  const [clash, ...others] = found({}, [library]);
  expect(others).toEqual([]);
  expect(clash).toMatchObject({ severity: 'objection', rivalId: 's1', channelId: 'library', ways: { lineIds: ['hall'] } });
  expect(clash!.words).toContain('Dusk Report and Members’ Evening meet on the line Line dome of Club library');
  expect(found({ lines: [{ channelId: 'library', lineId: 'hall' }] }, [library])).toEqual([]);
});

test('a channel for one show at a time warns of a draft, and has no other line to offer', () => {
  expect(found({}, [handle])).toMatchObject([{ severity: 'caution', rivalTitle: 'Junior Dome Hour', ways: { lineIds: [] } }]);
});

test('a show does not meet itself, and one without a readable start meets nobody', () => {
  const saved = { id: 's1', airings: [{ id: 'a1', channel: library }] } as unknown as ShowView;
  expect(found({ title: 'Dusk Report' }, [library], saved)).toEqual([]);
  expect(found({}, [library], null, null)).toEqual([]);
  expect(found({ lengthMin: Number.NaN }, [library])).toEqual([]);
});

test('somebody who is in another show at that time is named, and so is a room that is taken', () => {
  const people = [{ name: 'maren tolliver', role: 'host' as const, zone: null }];
  expect(found({ people, room: 'Shed' }, []).map(({ words, severity }) => [words, severity])).toEqual([
    ['Maren Tolliver is also in Dusk Report at that time.', 'caution'],
    ['Maren Tolliver is also in Junior Dome Hour at that time.', 'caution'],
  ]);
  expect(found({ room: 'dome' }, [], null, instant(START + 2 * HOUR_MS))).toEqual([]);
});
