/** @jest-environment ./jest.browser.cjs */
// What is said before a show goes out, what is sent by the press, and what is said after it.
import type { ChannelView, PlanView, ShowDraft, ShowView } from '@lantern/contract';
import { BLANK_SHEET, DAY_MS, defaultsFor, instant, rulesFor, whenOf, type AccountKind, type NetworkId } from '@lantern/core';
import { act, fireEvent, screen, within } from '@testing-library/react';
import { Answers, show as shown } from '../test/page';
import { Checks } from './Checks';
import type { Outcome } from './sheet-acts';

const START = instant(Math.ceil((Date.now() + 3 * DAY_MS) / DAY_MS) * DAY_MS + 20 * 3_600_000);
function channel(network: NetworkId, kind: AccountKind, name: string): ChannelView {
  const rules = rulesFor(network, kind);
  const standing = { access: 'good' as const, notices: [], limits: null, conditions: [], conditionsAt: null, pictureUrl: null, watchUrl: null };
  return { id: network, network, kind, name, rules, defaults: defaultsFor(rules), lines: [{ id: `${network}-1`, name: 'Main' }], ...standing };
}
const CHANNELS = [channel('reelmoor', 'library channel', 'Sky Club'), channel('townfold', 'page', 'Sky Club'), channel('guildhand', 'organisation', 'Guild')];
const draft: ShowDraft = {
  ...BLANK_SHEET,
  ...{ title: 'Dusk Report', description: 'What to look for.', ...whenOf(START, 'UTC'), zone: 'UTC', lengthMin: 40, room: 'Dome' },
  channelIds: CHANNELS.map(({ id }) => id),
};
const airing = (channelId: string) => ({ id: `airing-${channelId}`, channel: CHANNELS.find(({ id }) => id === channelId)!, placing: 'none' as const });
const show = {
  ...draft,
  ...{ id: 's', state: 'draft', startsAt: START, lengthMs: 2_400_000, thumbnail: { url: '', width: 1600, height: 900, recipe: null, follows: false } },
  airings: CHANNELS.map(({ id }) => ({ ...airing(id), placedAt: null, visibility: 'everyone', lineId: null, refusal: '', title: null, description: null })).map(
    (each) => ({ ...each, choices: {}, watchUrl: null, untold: [], drift: null }),
  ),
} as unknown as ShowView;

let server: Answers;
let plan: PlanView;
beforeEach(() => {
  server = new Answers();
  plan = { uses: [], lines: [], channels: CHANNELS.map(({ id, name, rules }) => ({ id, name, ...rules })), shows: [] };
  server.to('GET /api/plan', () => ({ body: plan }));
  server.to('POST /api/shows/s/place', () => ({ body: {} }));
});

function checks(change: Partial<ShowDraft> = {}, outcome: Outcome = { refused: '', results: [] }) {
  const typed = { ...draft, ...change };
  const filling = { startsAt: START, zone: 'UTC', cities: [], watchUrl: null, houseUrl: '', episode: null, guests: [] };
  const cities = [{ name: 'Santiago', zone: 'America/Santiago' }];
  const run = async (work: () => Promise<unknown>) => void (await work());
  return shown(
    <Checks
      {...{ show, draft: typed, filling, cities, outcome, run }}
      channels={CHANNELS.filter(({ id }) => typed.channelIds.includes(id))}
      busy={false}
      editable
      onAir={false}
    />,
  );
}
const press = (name: RegExp) => act(async () => void fireEvent.click(screen.getByRole('button', { name })));
const summary = async () => {
  await press(/^Place on 3 channels/);
  return within(screen.getByRole('dialog'));
};

test('before anything goes out, who and when is said, in the cities too, and what cannot be undone', async () => {
  checks({ thumbnailAlternative: 'The dome at dusk.' });
  const said = await summary();
  expect(said.getByText(/Santiago/)).toBeTruthy();
  expect(said.getAllByRole('listitem')).toHaveLength(3);
  expect(said.getByText(/Cannot be changed there afterwards/)).toBeTruthy();
  await press(/^Place all 3$/);
  expect(server.of('POST /api/shows/s/place').map(({ body }) => body)).toEqual([{}]);
  expect(screen.queryByText('This goes out')).toBeNull();
});

test('where one channel objects, the others are placed by name, and what stays locked there is said', async () => {
  checks(); // Guildhand wants words for the picture.
  const said = await summary();
  expect(said.getByText(/Guildhand wants words for those who cannot see the picture/)).toBeTruthy();
  await press(/^Place on 2 of 3$/);
  expect(server.of('POST /api/shows/s/place').map(({ body }) => body)).toEqual([{ airingIds: ['airing-reelmoor', 'airing-townfold'] }]);
});

test('where all object, nothing can be placed', async () => {
  checks({ title: '' });
  await summary();
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Place on none yet' }).disabled).toBe(true);
  await press(/^Not yet$/);
  expect(server.of('POST /api/shows/s/place')).toEqual([]);
});

test('a line that another show holds is an objection like any rule', async () => {
  const rival = {
    airingId: 'r',
    showId: 'other',
    channelId: 'townfold',
    lineId: 'townfold-1',
    startsAt: START,
    lengthMs: 2_400_000,
    onAir: false,
    stands: true,
  };
  plan = {
    ...plan,
    uses: [rival],
    channels: plan.channels.map((each) => ({ ...each, severalAtOnce: false })),
    shows: [{ id: 'other', title: 'Members’ Evening', startsAt: START, lengthMs: 2_400_000, people: [], room: 'Dome' }],
  };
  checks({ thumbnailAlternative: 'The dome at dusk.' });
  const said = await summary();
  // One of a channel, one of the whole show: the room is wanted twice.
  expect(said.getAllByText(/Members’ Evening/).length).toBeGreaterThanOrEqual(2);
  expect(screen.getByRole('button', { name: /^Place on 2 of 3$/ })).toBeTruthy();
});

test('what a channel answered is told with what was read back from it, and where that differs', async () => {
  const proof = { title: 'Dusk Report', startsAt: START, lengthMs: 2_400_000, visibility: 'everyone' as const, watchUrl: null, same: false };
  checks({}, { refused: '', results: [{ airingId: 'a', channelName: 'Sky Club (Townfold)', done: true, words: 'Placed on Sky Club (Townfold).', proof }] });
  expect(screen.getByText(/Placed on Sky Club \(Townfold\)\./).textContent).toMatch(/Read back: “Dusk Report”.*which is not what was sent/);
});
