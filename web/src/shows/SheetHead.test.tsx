/** @jest-environment ./jest.browser.cjs */
// What is said before a show goes out, what is sent by the press, and what is said after it.
import type { ChannelView, PlanView, ShowDraft, ShowView, StationView } from '@lantern/contract';
import { BLANK_SHEET, DAY_MS, defaultsFor, instant, rulesFor, whenOf, type AccountKind, type NetworkId } from '@lantern/core';
import { act, cleanup, fireEvent, screen, within } from '@testing-library/react';
import { Answers, show as shown } from '../test/page';
import { Answers as AnswersOfChannels } from './Answers';
import { judgedOn, needsOf, type Need } from './judged';
import { NextSteps } from './SheetHead';
import { clashesOfSheet } from './show-clashes';

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

const CITIES = [{ name: 'Santiago', zone: 'America/Santiago' }];
let server: Answers;
let plan: PlanView;
beforeEach(() => {
  server = new Answers();
  plan = { uses: [], lines: [], channels: CHANNELS.map(({ id, name, rules }) => ({ id, name, ...rules })), shows: [] };
  server.to('POST /api/shows/s/place', () => ({ body: {} }));
});

function head(change: Partial<ShowDraft> = {}, state: Partial<ShowView> = {}) {
  const typed = { ...draft, ...change };
  const as = { ...show, ...state };
  const filling = { startsAt: START, zone: 'UTC', cities: [], watchUrl: null, houseUrl: '', episode: null, guests: [] };
  const channels = CHANNELS.filter(({ id }) => typed.channelIds.includes(id));
  const now = instant(Date.now());
  const clashes = clashesOfSheet(plan, typed, as, START, channels, now);
  const judging = { show: as, draft: typed, channels, filling, clashes, changeable: 'all' as const, now };
  const judged = judgedOn(judging);
  const station = { cities: CITIES } as StationView;
  const run = async (work: () => Promise<unknown>) => void (await work());
  shown(<NextSteps {...judging} judged={judged} station={station} startsAt={START} busy={false} run={run} />);
  return needsOf(judged, clashes, typed, 'all');
}
const press = (name: RegExp) => act(async () => void fireEvent.click(screen.getByRole('button', { name })));
const summary = async () => {
  await press(/^Place on 3 channels/);
  return within(screen.getByRole('dialog'));
};

test('before anything goes out, who and when is said, in the cities too, and what cannot be undone', async () => {
  head({ thumbnailAlternative: 'The dome at dusk.' });
  const said = await summary();
  expect(said.getByText(/Santiago/)).toBeTruthy();
  expect(said.getAllByRole('listitem')).toHaveLength(3);
  expect(said.getByText(/Cannot be changed there afterwards/)).toBeTruthy();
  await press(/^Place all 3$/);
  expect(server.of('POST /api/shows/s/place').map(({ body }) => body)).toEqual([{}]);
  expect(screen.queryByText('This goes out')).toBeNull();
});

test('where one channel objects, the others are placed by name, and what stays locked there is said', async () => {
  head(); // Guildhand wants words for the picture.
  const said = await summary();
  expect(said.getByText(/Guildhand wants words for those who cannot see the picture/)).toBeTruthy();
  await press(/^Place on 2 of 3$/);
  expect(server.of('POST /api/shows/s/place').map(({ body }) => body)).toEqual([{ airingIds: ['airing-reelmoor', 'airing-townfold'] }]);
});

test('where all object, nothing can be placed', async () => {
  head({ title: '' });
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
  head({ thumbnailAlternative: 'The dome at dusk.' });
  const said = await summary();
  // One of a channel, one of the whole show: the room is wanted twice.
  expect(said.getAllByText(/Members’ Evening/).length).toBeGreaterThanOrEqual(2);
  expect(screen.getByRole('button', { name: /^Place on 2 of 3$/ })).toBeTruthy();
});

test('what a channel answered is told with what was read back from it, and where that differs', async () => {
  const proof = { title: 'Dusk Report', startsAt: START, lengthMs: 2_400_000, visibility: 'everyone' as const, watchUrl: null, same: false };
  const answer = { airingId: 'a', channelName: 'Sky Club (Townfold)', done: true, words: 'Placed on Sky Club (Townfold).', proof };
  shown(<AnswersOfChannels outcome={{ refused: '', results: [answer] }} zone="UTC" />);
  expect(screen.getByText(/Placed on Sky Club \(Townfold\)\./).textContent).toMatch(/Read back: “Dusk Report”.*which is not what was sent/);
});

test('one step leads: placing a draft, moving what channels were not told, the stage once it is near', () => {
  const lead = () => document.querySelector('.btn-primary')!.textContent;
  head();
  expect(lead()).toMatch(/^Place on 3 channels/);
  cleanup();
  const standing = show.airings.map((each) => ({ ...each, placing: 'placed' as const }));
  head({}, { state: 'placed', airings: standing });
  expect(lead()).toBe('Open the stage');
  cleanup();
  head({}, { state: 'placed', airings: standing.map((each, at) => (at ? each : { ...each, untold: ['title' as const] })) });
  expect(lead()).toBe('Move on its channel');
  cleanup();
  head({}, { state: 'onAir', airings: standing.map((each, at) => (at ? each : { ...each, untold: ['title' as const] })) });
  expect(lead()).toBe('Open the stage');
  cleanup();
  head({}, { state: 'over' });
  expect(lead()).toBe('Read the report');
});

test('what is to be decided stands in the section where it is decided, and what all say alike is said once', () => {
  const of = (needs: Need[]) => needs.map(({ section, kind, words }) => `${section} ${kind}: ${words}`);
  expect(of(head({ thumbnailAlternative: 'The dome.' }))).toEqual([]);
  expect(of(head({ title: '', thumbnailAlternative: 'The dome.' }))).toEqual(['what refusal: The show needs a title before it can be placed.']);
  expect(of(head())).toEqual([expect.stringMatching(/^picture refusal: Guildhand wants words/)]);
  expect(of(head({ toLook: ['description'], description: 'Tonight, 3 December', thumbnailAlternative: 'The dome.' }))).toEqual([
    expect.stringMatching(/^what caution: Look at the text: “.*” may be about another date\.$/),
  ]);
});
