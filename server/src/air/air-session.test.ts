// One show on air as its networks see it, with a made-up network and a clock that the test moves.
import { instant, type NetworkReport, type RuleSheet } from '@lantern/core';
import type { CarriedState } from '../air-wire/messages';
import { AccessEnded, NetworkRefusal, NetworkSilence, type Connector } from '../channels/connectors/connector';
import type { Airing, Show } from '../shows/show.entities';
import { AirSession, type AirSessionHost } from './air-session';

const START = 1_800_000_000_000;
const RULES = {
  startsThere: 'told',
  startWindow: { earliestMs: -45 * 60_000, latestMs: null },
  longestMs: 2 * 3_600_000,
  recordingStopsMs: null,
  delaysS: [12],
} as unknown as RuleSheet;
let now = START;
let report: () => Promise<NetworkReport>;
let started: number;
let relays: string[];
let kept: unknown[];
let samples: string[];
/** When an earlier process saw it public for the first time. */
let litSince: number | null;
let session: AirSession;

const CARRIED: CarriedState = {
  ran: [],
  lineOnStage: null,
  farEnd: null,
  graphic: null,
  clip: null,
  ...{
    showId: 'show',
    onAirSince: START,
    scene: 'holding',
    source: 'stage',
    reason: 'chosen',
    chosen: 'stage',
    backAt: null,
    cardSince: null,
    aloneSince: null,
  },
  ...{ stageArrives: true, holder: { personId: 'maren', name: 'Maren Tolliver', tab: 'desk' }, connected: true, microphoneOn: true, recordedMs: 0, kept: true },
  relays: [{ airingId: 'airing', state: 'sending', said: '', nextTryAt: null, rendition: null }],
};

beforeEach(() => {
  jest.useFakeTimers();
  now = START;
  started = 0;
  relays = [];
  kept = [];
  samples = [];
  litSince = null;
  report = async () => ({ event: 'planned', pictureArrives: false, watching: null });
  const connector = {
    report: () => report(),
    start: async () => void started++,
  } as unknown as Connector;
  const show = {
    id: 'show',
    stationId: 's',
    slug: 'dusk',
    state: 'onAir',
    pictureFrom: 'stage',
    outsideLineId: null,
    breakMusicId: null,
    onAirSince: START,
    startsAt: START,
    zone: 'UTC',
  } as Show;
  const airing = { id: 'airing', placing: 'placed', remoteId: 'event', watchUrl: 'http://network.example/event', choices: {} } as Airing;
  const channel = { id: 'channel', name: 'Sky Club', network: 'reelmoor', kind: 'library channel', watchUrl: null, defaults: {} } as never;
  const host: AirSessionHost = {
    clock: { now: () => instant(now) } as never,
    access: { connectorOf: () => connector, of: () => ({}) } as never,
    lines: { noteUse: async () => undefined } as never,
    ruleBook: { rules: () => RULES } as never,
    placeNow: async () => undefined,
    placedTooLate: () => undefined,
    relay: (airingId, to) => void relays.push(`${to} ${airingId}`),
    sample: (_, __, lamp) => void samples.push(lamp),
    litSince: async () => litSince,
    changed: () => undefined,
    houseWatching: () => 3,
    recorded: () => undefined,
    keep: (standing) => void kept.push(standing),
    happened: () => undefined,
    roomWords: () => '',
  };
  const holder = { personId: 'maren', name: 'Maren Tolliver', tab: 'desk' };
  session = new AirSession(
    show,
    { standing: { programme: 'holding', ran: [], lineOnStage: null, chosen: 'stage', backAt: null, holder, heldBack: [] }, recordedMs: 0, told: {} },
    [{ airing, channel }],
    host,
  );
  session.start();
});
afterEach(() => {
  session.close();
  jest.useRealTimers();
});

/** Lets time go by in the halves of a second in which networks are asked. */
async function pass(ms: number): Promise<void> {
  for (let gone = 0; gone < ms; gone += 250) {
    now += 250;
    await jest.advanceTimersByTimeAsync(250);
  }
}
const lamp = () => session.view().airings[0]!;

test('a relay is begun, the network is told to start once a picture arrives there, and not before its window', async () => {
  expect(relays).toEqual(['start airing']);
  session.hear(CARRIED);
  now = START - 50 * 60_000;
  report = async () => ({ event: 'planned', pictureArrives: true, watching: null });
  await pass(2_000);
  expect([started, lamp().lamp]).toEqual([0, 'warm']);
  now = START;
  await pass(1_000);
  expect(started).toBeGreaterThan(0);
  report = async () => ({ event: 'public', pictureArrives: true, watching: 12 });
  await pass(1_000);
  expect(lamp()).toMatchObject({ lamp: 'lit', watching: 12 });
  expect(session.hasBeenSeen).toBe(true);
  expect(samples).toContain('lit');
});

test('how late a channel is: as its network says, until it was measured where viewers see it', async () => {
  session.hear(CARRIED);
  const playbackUrl = 'http://network.example/event/live.m3u8';
  await pass(1_000);
  // Before it is public nobody sees anything, late or not.
  expect([lamp().behind, session.playbacks]).toEqual([null, []]);
  report = async () => ({ event: 'public', pictureArrives: true, watching: 12, playbackUrl });
  await pass(1_000);
  expect(lamp().behind).toEqual({ ms: 12_000, at: null });
  expect(session.playbacks).toEqual([{ airingId: 'airing', playbackUrl, watchUrl: 'http://network.example/event' }]);
  session.hearBehind('airing', 9_400);
  session.hearBehind('another', 2_000);
  expect(lamp().behind).toEqual({ ms: 9_400, at: now });
});

test('what a network will do by itself is told an hour before, counted from when it was public first, whichever process saw that', async () => {
  session.hear(CARRIED);
  report = async () => ({ event: 'public', pictureArrives: true, watching: 12 });
  await pass(1_000);
  expect(lamp()).toMatchObject({ lamp: 'lit', ahead: [] });
  now += 3_600_000;
  await pass(1_000);
  expect(lamp().ahead).toEqual([expect.stringMatching(/^Reelmoor ends the show at .*, within the hour\.$/)]);
  // Another event has its whole time before it.
  report = async () => ({ event: 'over', pictureArrives: false, watching: null });
  await pass(1_000);
  session.makeAnew('airing');
  report = async () => ({ event: 'public', pictureArrives: true, watching: 12 });
  litSince = START;
  await pass(2_000);
  expect(lamp()).toMatchObject({ lamp: 'lit', ahead: [] });
});

test('a process that is started in mid-show counts from when the one before saw it', async () => {
  litSince = START - 2 * 3_600_000 + 5 * 60_000;
  session.hear(CARRIED);
  report = async () => ({ event: 'public', pictureArrives: true, watching: 12 });
  await pass(1_000);
  expect(lamp().ahead).toEqual([expect.stringContaining('within ten minutes')]);
});

test('a connection that looks whole from here and empty from there is made anew; while nothing is in the programme it is not', async () => {
  session.hear({ ...CARRIED, source: null });
  await pass(10_000);
  expect(relays).toEqual(['start airing']);
  // The break card is a picture too.
  session.hear({ ...CARRIED, source: 'break card', stageArrives: false });
  await pass(7_000);
  expect(relays).toEqual(['start airing', 'anew airing']);
});

test('silence, the end of access and an event that is gone each say what they are, and are over when they are over', async () => {
  session.hear(CARRIED);
  report = () => Promise.reject(new NetworkSilence('no answer'));
  await pass(7_000);
  expect(lamp().lamp).toBe('fault');
  report = () => Promise.reject(new AccessEnded('withdrawn'));
  await pass(1_000);
  expect(lamp().words).toContain('no longer lets the station act');
  report = () => Promise.reject(new NetworkRefusal('gone', 'There is no such event.', 404));
  await pass(1_000);
  expect(lamp().lamp).toBe('fault');
  report = async () => ({ event: 'public', pictureArrives: true, watching: null });
  await pass(1_000);
  expect(lamp().lamp).toBe('lit');
});

test('without the air process nothing of the picture is claimed; what it had said is what it is ordered again', async () => {
  session.hear({ ...CARRIED, scene: 'host', chosen: 'break card', backAt: START + 600_000, recordedMs: 61_000 });
  expect(kept).toHaveLength(1);
  expect(session.view()).toMatchObject({ programme: 'host', stageArrives: true, recordedMs: 61_000, holder: { connected: true } });
  session.hear(null);
  expect(session.view()).toMatchObject({
    programme: 'host',
    source: null,
    stageArrives: false,
    recordedMs: 61_000,
    holder: { connected: false, name: 'Maren Tolliver' },
  });
  expect(session.order({ cardPath: '/card', musicPath: '/music' })).toMatchObject({
    scene: 'host',
    chosen: 'break card',
    backAt: START + 600_000,
    recordedMs: 61_000,
    cardPath: '/card',
    musicPath: '/music',
    base: 'stage',
  });
  expect(session.resting).toEqual(['airing']);
});
