// Who has a show that is on air: one stage, by a person's own press. Real sockets against the whole server.
import type { AirView, FromGuest, GuestPassLink, GuestView, Me, ServerMessage, ShowReport, ShowView, StageMessage, ToGuest } from '@lantern/contract';
import { HOUR_MS, type Role } from '@lantern/core';
import { existsSync, mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { DataSource } from 'typeorm';
import { WebSocket } from 'ws';
import { sessionToken } from '../foundation/session-cookie';
import { StagesOnAir } from '../people/stages-on-air';
import { Person } from '../people/people.entities';
import { Airing } from '../shows/show.entities';
import { TestStation } from '../test/station';
import { RecordingRows } from '../recording/recording-rows';
import { AirService } from './air.service';
import { AirSampleRow } from './air.entities';
import { ShowRows } from '../shows/show-rows';
import { ShowsService } from '../shows/shows.service';
import { HappeningRows } from './happening-rows';
import { StageRows } from './stage-rows';

let station: TestStation;
let producer = '';
let moderator = '';
let hall = '';
let show: ShowView;
const open: Stage[] = [];

beforeAll(async () => {
  station = await TestStation.open();
  producer = await station.person('producer');
  moderator = await station.person('moderator');
  hall = (await as('post', '/api/channels/typed-in').send({ name: 'Hall', address: 'rtmp://127.0.0.1:9/hall', key: 'hall-key-1' }).expect(201)).body.id;
});
afterAll(() => station.close());
beforeEach(async () => {
  station.forgetTries();
  const [date, time] = new Date(Date.now() + 2 * HOUR_MS).toISOString().split('T') as [string, string];
  const when = { date, time: time.slice(0, 5), zone: 'UTC' };
  show = (
    await as('post', '/api/shows')
      .send(station.draft([hall], when))
      .expect(201)
  ).body;
  await as('post', `/api/shows/${show.id}/place`).expect(200);
});
afterEach(async () => {
  for (const { socket } of open.splice(0)) socket.terminate();
  await as('post', `/api/shows/${show.id}/wrap`);
  await as('post', `/api/shows/${show.id}/withdraw`);
});

const as = (method: 'get' | 'post' | 'delete', path: string, who = station.cookie) => station.as(station.http()[method](path), who);
/** Pressed on the stage of a tab, if it is one. */
const goOnAir = (tab: string | null = null) =>
  as('post', `/api/shows/${show.id}/air`)
    .send({ tab: tab && `tab-of-${tab}` })
    .expect(200);

interface Stage {
  socket: WebSocket;
  heard: ServerMessage[];
  say(message: StageMessage): void;
  until(condition: (air: AirView) => boolean): Promise<AirView>;
  hears(type: ServerMessage['type'], times?: number): Promise<ServerMessage>;
}

async function stage(tab: string, who = station.cookie, more = ''): Promise<Stage> {
  const socket = new WebSocket(`ws://127.0.0.1:${station.airPort}/api/stage/${show.id}?tab=tab-of-${tab}${more}`, { headers: { cookie: who } });
  const heard: ServerMessage[] = [];
  socket.on('error', () => undefined);
  socket.on('message', (data) => heard.push(JSON.parse(String(data)) as ServerMessage));
  const find = async <T>(look: () => T | undefined): Promise<T> => {
    for (let tries = 0; tries < 400; tries++) {
      const found = look();
      if (found !== undefined) return found;
      await new Promise((next) => setTimeout(next, 20));
    }
    throw new Error(`not heard: ${JSON.stringify(heard.slice(-3)).slice(0, 600)}`);
  };
  const made: Stage = {
    socket,
    heard,
    say: (message) => socket.send(JSON.stringify(message)),
    until: (condition) =>
      find(() => {
        const last = heard.findLast((message) => message.type === 'air');
        return last?.type === 'air' && condition(last.air) ? last.air : undefined;
      }),
    hears: (type, times = 1) => find(() => heard.filter((message) => message.type === type)[times - 1]),
  };
  open.push(made);
  await made.until(() => true);
  return made;
}

test('whoever went on air sends first; another stage is refused until it takes over, and the first then has it no more', async () => {
  const host = await stage('host');
  const other = await stage('other', producer);
  await goOnAir('host');
  other.say({ type: 'newStretch', takeOver: false });
  expect(await other.hears('refused')).toMatchObject({ words: 'Maren Tolliver has the stage. Take it if you mean to send from here.' });
  host.say({ type: 'newStretch', takeOver: false });
  await host.hears('stretch');
  await host.until(({ holdsIt }) => holdsIt);
  other.say({ type: 'command', number: 1, does: 'take', scene: 'host' });
  await other.hears('refused', 2);
  other.say({ type: 'newStretch', takeOver: true });
  await other.hears('stretch');
  expect((await host.until(({ holdsIt }) => !holdsIt)).holder).toMatchObject({ name: 'Bea Lanthorn', connected: true });
  expect(await host.hears('lost')).toMatchObject({ to: 'Bea Lanthorn' });
});

/** What a stage was told last of handing over. */
const handing = async (of: Stage, condition: (message: Extract<ServerMessage, { type: 'handing' }>) => boolean) => {
  for (let tries = 0; tries < 400; tries++) {
    const last = of.heard.findLast((message) => message.type === 'handing');
    if (last?.type === 'handing' && condition(last)) return last;
    await new Promise((next) => setTimeout(next, 20));
  }
  throw new Error(`not heard: ${JSON.stringify(of.heard.filter(({ type }) => type === 'handing').slice(-2))}`);
};

test('the stage is handed over by both: asked for and answered, offered and answered; whoever has no part in it changes nothing', async () => {
  const host = await stage('host');
  const other = await stage('other', producer);
  const phone = await stage('phone', producer, '&sends=no');
  const helper = await stage('helper', moderator);
  other.say({ type: 'handOver', does: 'ask' });
  expect(await other.hears('refused')).toMatchObject({ words: 'This show is not on air.' });
  await goOnAir('host');
  host.say({ type: 'newStretch', takeOver: false });
  await host.hears('stretch');
  await host.until(({ holdsIt }) => holdsIt);

  other.say({ type: 'handOver', does: 'ask' });
  expect((await handing(host, (told) => told.handing !== null)).handing).toEqual({ state: 'asked', part: 'gives', from: 'Maren Tolliver', to: 'Bea Lanthorn' });
  expect((await handing(other, (told) => told.handing !== null)).handing).toMatchObject({ part: 'takes' });
  // Nobody answers for another, and who asks has nothing yet.
  other.say({ type: 'handOver', does: 'agree' });
  expect(await other.hears('refused', 2)).toMatchObject({ words: expect.stringContaining('settled meanwhile') as string });
  other.say({ type: 'newStretch', takeOver: false });
  expect(await other.hears('refused', 3)).toMatchObject({ words: expect.stringContaining('Maren Tolliver has the stage') as string });
  helper.say({ type: 'handOver', does: 'decline' });
  await helper.hears('refused');
  phone.say({ type: 'handOver', does: 'ask' });
  await phone.hears('refused');
  host.say({ type: 'handOver', does: 'decline' });
  for (const side of [host, other]) expect(await side.hears('notHanded')).toMatchObject({ words: 'Maren Tolliver keeps the stage.' });

  // Offered only to whoever could send: neither a phone nor somebody who may not.
  const { couldTake } = await handing(host, (told) => told.handing === null);
  expect(couldTake).toEqual([{ id: expect.any(String) as string, name: 'Bea Lanthorn' }]);
  expect(JSON.stringify(host.heard)).not.toContain('tab-of-other');
  host.say({ type: 'handOver', does: 'offer', to: 'nobody' });
  expect(await host.hears('refused')).toMatchObject({ words: expect.stringContaining('Nobody’s stage is there') as string });
  host.say({ type: 'shown', graphic: null, clip: 'a clip' });
  host.say({ type: 'handOver', does: 'offer', to: couldTake[0]!.id });
  await handing(other, (told) => told.handing?.state === 'offered');
  other.say({ type: 'handOver', does: 'agree' });
  expect(await other.hears('refused', 4)).toMatchObject({ words: expect.stringContaining('A clip is playing') as string });
  host.say({ type: 'shown', graphic: null, clip: null });
  await new Promise((next) => setTimeout(next, 100));
  other.say({ type: 'handOver', does: 'agree' });
  await handing(other, (told) => told.handing?.state === 'coming');
  // Both may send now, and the show is still the first one’s.
  other.say({ type: 'newStretch', takeOver: false });
  await other.hears('stretch');
  expect((await other.until(() => true)).holder).toMatchObject({ name: 'Maren Tolliver', connected: true });
  other.socket.terminate();
  expect(await host.hears('notHanded', 2)).toMatchObject({ words: 'Bea Lanthorn is not there any more: the stage stays with Maren Tolliver.' });
  await host.until(({ holdsIt }) => holdsIt);
});

test('guests speak with both stages while it is handed over, and only whoever has it has anything done with them', async () => {
  const host = await stage('host');
  const other = await stage('other', producer);
  host.say({ type: 'guestsHere', page: 'page-of-the-host' });
  other.say({ type: 'guestsHere', page: 'page-of-the-other' });
  await goOnAir('host');
  await host.until(({ holdsIt }) => holdsIt);
  const asked = (await as('post', `/api/shows/${show.id}/guests`).send({ name: 'Juno Hartsel' })).body as GuestView[];
  const { url } = (await as('post', `/api/shows/${show.id}/guests/${asked[0]!.id}/pass`).send({})).body as GuestPassLink;
  const room = new WebSocket(`ws://127.0.0.1:${station.airPort}/api/green-room/${show.id}`, {
    headers: { origin: 'http://localhost:4700', host: 'localhost:4700' },
  });
  const told: ToGuest[] = [];
  room.on('message', (data, isBinary) => !isBinary && told.push(JSON.parse(String(data)) as ToGuest));
  await new Promise((done) => room.once('open', done));
  const say = (message: FromGuest) => room.send(JSON.stringify(message));
  const hears = async (condition: (message: ToGuest) => boolean) => {
    for (let tries = 0; tries < 400 && !told.some(condition); tries++) await new Promise((next) => setTimeout(next, 20));
    expect(told.filter(condition).length).toBeGreaterThan(0);
  };
  say({ type: 'hello', pass: url.split('#')[1]!, page: 'page-of-a-guest', takeOver: false, soundOnly: false, seesReturn: true });
  await hears((message) => message.type === 'stage' && message.page === 'page-of-the-host' && message.coming === null);
  other.say({ type: 'handOver', does: 'ask' });
  await handing(host, (now) => now.handing !== null);
  host.say({ type: 'handOver', does: 'agree' });
  await hears((message) => message.type === 'stage' && message.page === 'page-of-the-host' && message.coming === 'page-of-the-other');
  say({ type: 'signal', to: 'page-of-the-other', data: { line: 1, candidate: null } });
  await other.hears('guestSignal');
  expect(host.heard.filter(({ type }) => type === 'guestSignal')).toEqual([]);
  const id = asked[0]!.id;
  other.say({ type: 'guest', id, order: { does: 'bring in' } });
  other.say({ type: 'guest', id, order: { does: 'size', height: 360 } });
  await hears((message) => message.type === 'size' && message.from === 'page-of-the-other');
  const guests = host.heard.flatMap((message) => (message.type === 'guests' ? message.guests : []));
  expect(guests.map(({ broughtIn }) => broughtIn)).not.toContain(true);
  // It comes to nothing: the other one has no guests any more.
  other.say({ type: 'handOver', does: 'decline' });
  await hears((message) => message.type === 'stage' && message.coming === null && told.indexOf(message) > 2);
  for (let tries = 0; tries < 400 && (other.heard.findLast(({ type }) => type === 'guests') as { guests: unknown[] }).guests.length; tries++)
    await new Promise((next) => setTimeout(next, 20));
  expect(other.heard.findLast(({ type }) => type === 'guests')).toEqual({ type: 'guests', guests: [] });
  room.terminate();
});

test('a reload comes back to the show; a stage of somebody else that was open all the while does not slip in', async () => {
  const host = await stage('host');
  const other = await stage('other', producer);
  await goOnAir('host');
  host.say({ type: 'newStretch', takeOver: false });
  await host.hears('stretch');
  host.socket.terminate();
  expect((await other.until(({ holder }) => holder?.connected === false)).holdsIt).toBe(false);
  await (await stage('host')).until(({ holdsIt }) => holdsIt);
});

test('a phone of the host’s that is opened while the stage is away for a moment does not have the show, and mutes and takes the card all the same', async () => {
  const host = await stage('host');
  await goOnAir('host');
  host.say({ type: 'newStretch', takeOver: false });
  await host.hears('stretch');
  host.socket.terminate();
  const phone = await stage('phone', station.cookie, '&sends=no');
  await phone.until(({ holder, holdsIt }) => holder?.connected === false && !holdsIt);
  const back = await stage('host');
  await back.until(({ holdsIt }) => holdsIt);
  phone.say({ type: 'ask', what: 'microphone off' });
  expect(await back.hears('asked')).toMatchObject({ what: 'microphone off', by: 'Maren Tolliver' });
});

test('a stage that asks for a stretch again and again gets the newest, one a second', async () => {
  const host = await stage('host');
  await goOnAir('host');
  for (let time = 0; time < 6; time++) host.say({ type: 'newStretch', takeOver: false });
  await host.hears('stretch', 2);
  await new Promise((next) => setTimeout(next, 1_300));
  expect(host.heard.filter(({ type }) => type === 'stretch')).toHaveLength(2);
});

test('where what comes is taken in no longer, the stage is given another stretch without asking, and nobody goes on with the old one', async () => {
  const host = await stage('host');
  await goOnAir('host');
  host.say({ type: 'newStretch', takeOver: false });
  const first = (await host.hears('stretch')) as { stretch: number };
  const piece = Buffer.concat([Buffer.alloc(8), Buffer.from('no media'.repeat(20_000))]);
  piece.writeUInt32BE(first.stretch, 0);
  host.socket.send(piece);
  const second = (await host.hears('stretch', 2)) as { stretch: number };
  expect(second).toMatchObject({ stretch: first.stretch + 1, nextPiece: 0 });
  host.socket.terminate();
  const back = await stage('host');
  back.say({ type: 'continueStretch', stretch: first.stretch });
  expect(((await back.hears('stretch')) as { stretch: number }).stretch).toBeGreaterThan(second.stretch);
});

test('another tab of the host’s own waits for a press as well', async () => {
  const host = await stage('host');
  await goOnAir('host');
  await host.until(({ holdsIt }) => holdsIt);
  host.socket.terminate();
  const laptop = await stage('laptop');
  laptop.say({ type: 'newStretch', takeOver: false });
  await laptop.hears('refused');
  laptop.say({ type: 'newStretch', takeOver: true });
  await laptop.hears('stretch');
});

test('a take that is said twice is done once, and every stage follows', async () => {
  const host = await stage('host');
  const other = await stage('other', producer);
  await goOnAir('host');
  await host.until(({ holdsIt }) => holdsIt);
  host.say({ type: 'command', number: 1, does: 'take', scene: 'host' });
  host.say({ type: 'command', number: 2, does: 'take', scene: 'holding' });
  host.say({ type: 'command', number: 1, does: 'take', scene: 'host' });
  await host.hears('done', 3);
  expect(host.heard.filter(({ type }) => type === 'done').at(-1)).toEqual({ type: 'done', upTo: 2 });
  expect((await other.until(({ programme }) => programme === 'holding')).programme).toBe('holding');
  // After a reload the same tab counts on, and what was done before is not done again.
  host.socket.terminate();
  const back = await stage('host');
  back.say({ type: 'command', number: 2, does: 'take', scene: 'host' });
  await back.hears('done');
  back.say({ type: 'command', number: 3, does: 'take', scene: 'host' });
  await other.until(({ programme }) => programme === 'host');
});

test('what is shown is found by whoever has the stage next, and what happened is kept with its moments until it is taken back', async () => {
  const cues = [
    { id: 'a', name: 'Opening', lengthS: 60, hardAt: null, who: '', notes: '' },
    { id: 'b', name: 'The comet', lengthS: 60, hardAt: null, who: '', notes: '' },
  ];
  const { version } = (await as('get', `/api/shows/${show.id}`).expect(200)).body as ShowView;
  await station
    .as(station.http().patch(`/api/shows/${show.id}`))
    .send({ base: version, changes: { cues } })
    .expect(200);
  const host = await stage('host');
  const other = await stage('other', producer);
  await goOnAir('host');
  await host.until(({ holdsIt }) => holdsIt);
  // Whoever does not have the stage says nothing of what is shown.
  other.say({ type: 'shown', graphic: 'of another', clip: null });
  host.say({ type: 'shown', graphic: 'tonight', clip: 'film' });
  host.say({ type: 'command', number: 1, does: 'take', scene: 'host', cue: 'a' });
  host.say({ type: 'command', number: 2, does: 'take', scene: 'together', cue: 'b' });
  expect((await other.until(({ programme, graphic }) => programme === 'together' && graphic !== null)).graphic).toBe('tonight');
  const kept = () => station.app.get(HappeningRows).of(show.id);
  for (let tries = 0; (await kept()).length < 5 && tries < 100; tries++) await new Promise((next) => setTimeout(next, 30));
  const happenings = await kept();
  const of = (kind: string) => happenings.filter((each) => each.kind === kind).map(({ what }) => what);
  expect([of('cue'), of('graphic'), of('clip'), of('scene').at(-1)]).toEqual([['a', 'b'], ['tonight'], ['film'], 'together']);
  const { onAirSince } = (await as('get', `/api/shows/${show.id}/air`).expect(200)).body as AirView;
  for (const { at } of happenings) expect(Math.abs(at - onAirSince!)).toBeLessThan(20_000);
  const report = (await as('get', `/api/shows/${show.id}/report`).expect(200)).body as ShowReport;
  expect(report.ran.map(({ name, plannedMs }) => [name, plannedMs])).toEqual([
    ['Opening', 60_000],
    ['The comet', 60_000],
  ]);
  await as('delete', `/api/shows/${show.id}/air`).expect(200);
  expect(await kept()).toEqual([]);
});

test('how a show goes out is kept for its report while it is on air, no more often than it is measured, until it is taken back', async () => {
  const told = (pictures: unknown, kbps: unknown) => as('post', `/api/shows/${show.id}/signal`).send({ pictures, kbps });
  const signal = async () => ((await as('get', `/api/shows/${show.id}/report`).expect(200)).body as ShowReport).signal;
  await told(30, 2_400).expect(204);
  expect(await signal()).toEqual([]);
  await goOnAir('host');
  await told(29, 2_400).expect(204);
  await told(3, null).expect(204);
  expect(await signal()).toEqual([{ at: expect.any(Number), pictures: 29, kbps: 2_400 }]);
  for (const [pictures, kbps] of [
    [-1, 0],
    [30.5, 0],
    ['many', 0],
    [30, 9e12],
  ])
    await told(pictures, kbps).expect(400);
  await as('delete', `/api/shows/${show.id}/air`).expect(200);
  expect(await signal()).toEqual([]);
});

test('a browser from which a screen is shared is known as one, on air or not, until it stops or is gone', async () => {
  const host = await stage('host');
  const known = station.app.get(StagesOnAir);
  const shown = () => known.shownBy(sessionToken({ headers: { cookie: station.cookie } } as never)!);
  const becomes = async (wanted: string | null) => {
    for (let tries = 0; shown() !== wanted && tries < 200; tries++) await new Promise((next) => setTimeout(next, 25));
    expect(shown()).toBe(wanted);
  };
  host.say({ type: 'sharing', on: true });
  await becomes('a screen');
  host.say({ type: 'sharing', on: false });
  await becomes(null);
  host.say({ type: 'sharing', on: true });
  await becomes('a screen');
  host.socket.terminate();
  await becomes(null);
});

test('cues that were begun are known to every stage, and to processes that were started anew', async () => {
  const host = await stage('host');
  await goOnAir('host');
  await host.until(({ holdsIt }) => holdsIt);
  host.say({ type: 'command', number: 1, does: 'take', scene: 'host', cue: 'opening' });
  host.say({ type: 'command', number: 2, does: 'take', scene: 'holding' });
  host.say({ type: 'command', number: 3, does: 'take', scene: 'host', cue: 'x'.repeat(41) });
  host.say({ type: 'command', number: 4, does: 'take', scene: 'host', cue: 'planets' });
  const cues = ({ ran }: { ran: { cue: string }[] }) => ran.map(({ cue }) => cue).join();
  const { ran } = await host.until((air) => cues(air) === 'opening,planets');
  expect(ran[1]!.at).toBeGreaterThan(ran[0]!.at);
  await station.airAnew();
  const again = await stage('host');
  expect((await again.until((air) => cues(air) === 'opening,planets')).ran).toEqual(ran);
  again.say({ type: 'command', number: 5, does: 'take', scene: 'host', cue: 'closing' });
  expect((await again.until((air) => air.ran.length === 3)).ran.slice(0, 2)).toEqual(ran);
});

test('a break is anybody’s who runs the stage, says when it ends, and is found again by a process that was started anew', async () => {
  const host = await stage('host');
  const other = await stage('other', producer);
  await goOnAir('host');
  const backAt = Date.now() + 600_000;
  other.say({ type: 'command', number: 1, does: 'break', backAt });
  await host.until(({ chosen, source }) => chosen === 'break card' && source === 'break card');
  await station.airAnew();
  const again = await stage('host');
  expect(await again.until(({ holdsIt }) => holdsIt)).toMatchObject({ chosen: 'break card', backAt, showState: 'onAir' });
  again.say({ type: 'command', number: 1, does: 'resume' });
  await again.until(({ chosen }) => chosen === 'stage');
});

test('a show that nobody carried for more than half an hour waits for a person, and goes on by a press', async () => {
  const host = await stage('host');
  await goOnAir('host');
  await host.until(({ holdsIt }) => holdsIt);
  await station.airAnew(async () => {
    await station.app.get(StageRows).noteAlive(show.id, Date.now() - 31 * 60_000);
  });
  const state = async () => ((await as('get', `/api/shows/${show.id}/air`)).body as AirView).showState;
  for (let tries = 0; tries < 200 && (await state()) !== 'interrupted'; tries++) await new Promise((next) => setTimeout(next, 50));
  expect(await state()).toBe('interrupted');
  expect(station.carrier.show(show.id)).toBeNull();
  await goOnAir('host');
  await (await stage('host')).until(({ holdsIt, showState }) => holdsIt && showState === 'onAir');
});

test('a show on air that nobody is at for ten minutes is told to those who can run it, once', async () => {
  const host = await stage('host');
  await goOnAir('host');
  await host.until(({ holdsIt }) => holdsIt);
  host.socket.terminate();
  await (await stage('other', producer)).until(({ holder }) => holder?.connected === false);
  const told = async () =>
    (await as('get', '/api/mails').expect(200)).body.mails.filter(({ subject }: { subject: string }) => subject.includes('nobody is at its stage'));
  station.travelTo(Date.now() + 11 * 60_000);
  try {
    for (let tries = 0; tries < 300 && (await told()).length < 2; tries++) await new Promise((next) => setTimeout(next, 50));
    await new Promise((next) => setTimeout(next, 6_000));
    expect((await told()).map(({ recipient }: { recipient: string }) => recipient).sort()).toEqual([
      'maren@alderfell.example',
      expect.stringContaining('producer'),
    ]);
  } finally {
    station.travelTo(Date.now());
  }
});

test('what the planning server no longer has on air is let go once the two meet again', async () => {
  await goOnAir('host');
  const carried = () => station.carrier.show(show.id);
  expect(carried()).not.toBeNull();
  // As if it had been wrapped up while the two could not speak.
  const air = station.app.get(AirService) as unknown as { sessions: Map<string, { close(): void }> };
  air.sessions.get(show.id)!.close();
  air.sessions.delete(show.id);
  for (let tries = 0; tries < 200 && carried(); tries++) await new Promise((next) => setTimeout(next, 50));
  expect(carried()).toBeNull();
});

test('a channel that is left out at the start is sent nothing until it is started there, also by a server that was started anew', async () => {
  const foyer = (
    await as('post', '/api/channels/typed-in')
      .send({ name: `Foyer ${Date.now()}`, address: 'rtmp://127.0.0.1:9/foyer', key: 'foyer-key-1' })
      .expect(201)
  ).body.id;
  const { version } = (await as('get', `/api/shows/${show.id}`)).body as ShowView;
  await station
    .as(station.http().patch(`/api/shows/${show.id}`))
    .send({ base: version, changes: { channelIds: [hall, foyer] } })
    .expect(200);
  await as('post', `/api/shows/${show.id}/place`).expect(200);
  const { airings } = (await as('get', `/api/shows/${show.id}`)).body as ShowView;
  const of = (id: string) => airings.find(({ channel }) => channel.id === id)!.id;
  await as('post', `/api/shows/${show.id}/air`)
    .send({ tab: null, only: ['6f1f3c54-0d0e-4a1a-9df7-0f6f7e7b0c11'] })
    .expect(409);
  await as('post', `/api/shows/${show.id}/air`)
    .send({ tab: null, only: [of(hall)] })
    .expect(200);
  const relay = (id: string) =>
    station.carrier
      .show(show.id)!
      .state()
      .relays.find(({ airingId }) => airingId === of(id))!.state;
  const air = async () => (await as('get', `/api/shows/${show.id}/air`)).body as AirView;
  for (let tries = 0; tries < 200 && relay(hall) === 'idle'; tries++) await new Promise((next) => setTimeout(next, 50));
  await station.airAnew();
  for (let tries = 0; tries < 200 && (!station.carrier.show(show.id) || relay(hall) === 'idle'); tries++) await new Promise((next) => setTimeout(next, 50));
  expect(relay(foyer)).toBe('idle');
  expect((await air()).airings.find(({ airingId }) => airingId === of(foyer))).toMatchObject({
    heldBack: true,
    lamp: 'dark',
    words: expect.stringContaining('Held back'),
  });
  await as('post', `/api/shows/${show.id}/airings/${of(foyer)}/air`).expect(200);
  await as('post', `/api/shows/${show.id}/airings/${of(foyer)}/air`).expect(200);
  for (let tries = 0; tries < 200 && relay(foyer) === 'idle'; tries++) await new Promise((next) => setTimeout(next, 50));
  expect(relay(foyer)).not.toBe('idle');
  expect((await air()).airings.every(({ heldBack }) => !heldBack)).toBe(true);
});

describe('by itself at its time', () => {
  const byItself = (tab: string, who = station.cookie) =>
    as('post', `/api/shows/${show.id}/air/by-itself`, who)
      .send({ tab: `tab-of-${tab}` })
      .expect(200);
  const told = async () =>
    (await as('get', '/api/mails').expect(200)).body.mails.filter(({ subject }: { subject: string }) => subject.includes('not gone on air'));
  afterEach(() => station.travelTo(Date.now()));

  test('it begins once, from the tab in which it was pressed last, also after the server was started anew; before, nothing is sent', async () => {
    expect((await byItself('host')).body).toMatchObject({ startsBy: 'Maren Tolliver', showState: 'placed' });
    await as('delete', `/api/shows/${show.id}/air/by-itself`).expect(200);
    await byItself('host');
    await byItself('desk', producer);
    const [host, desk] = [await stage('host'), await stage('desk', producer)];
    await desk.until(({ showState, startsBy }) => showState === 'placed' && startsBy !== null && startsBy !== 'Maren Tolliver');
    station.travelTo(show.startsAt + 1_000);
    await desk.until(({ showState, holdsIt, startsBy }) => showState === 'onAir' && holdsIt && startsBy === null);
    await host.until(({ showState, holdsIt }) => showState === 'onAir' && !holdsIt);
  });

  test('what could not be begun in time is told to those who can, and left to them', async () => {
    await byItself('host');
    station.travelTo(show.startsAt + 11 * 60_000);
    for (let tries = 0; tries < 100 && !(await told()).length; tries++) await new Promise((next) => setTimeout(next, 50));
    expect((await told())[0]).toMatchObject({ subject: '“Dusk Report” has not gone on air by itself' });
    expect((await as('get', `/api/shows/${show.id}/air`)).body).toMatchObject({ showState: 'placed', startsBy: null });
  });

  test('one that cannot be begun for a fault of ours keeps no other from beginning', async () => {
    const begins = station.app.get(AirService);
    const real = begins.begin.bind(begins);
    const odd = jest.spyOn(begins, 'begin').mockImplementation((person, showId, ...more) => {
      if (showId === show.id) return Promise.reject(new TypeError('an odd answer'));
      return real(person, showId, ...more);
    });
    const foyer = (await as('post', '/api/channels/typed-in').send({ name: 'Foyer', address: 'rtmp://127.0.0.1:9/odd', key: 'odd-key-1' }).expect(201)).body.id;
    const [date, time] = new Date(show.startsAt + 60_000).toISOString().split('T') as [string, string];
    const draft = station.draft([foyer], { date, time: time.slice(0, 5), zone: 'UTC' });
    const other = (await as('post', '/api/shows').send(draft).expect(201)).body as ShowView;
    try {
      await as('post', `/api/shows/${other.id}/place`).expect(200);
      await byItself('host');
      await as('post', `/api/shows/${other.id}/air/by-itself`).send({ tab: 'tab-of-desk' }).expect(200);
      station.travelTo(other.startsAt + 1_000);
      const state = async () => ((await as('get', `/api/shows/${other.id}/air`)).body as AirView).showState;
      for (let tries = 0; tries < 100 && (await state()) !== 'onAir'; tries++) await new Promise((next) => setTimeout(next, 50));
      expect(await state()).toBe('onAir');
    } finally {
      odd.mockRestore();
      await as('post', `/api/shows/${other.id}/wrap`);
    }
  });

  test('a show that was withdrawn begins nothing, and one whose time has come is begun by hand', async () => {
    await byItself('host');
    await as('post', `/api/shows/${show.id}/withdraw`).expect(200);
    station.travelTo(show.startsAt + 1_000);
    await new Promise((next) => setTimeout(next, 1_200));
    expect((await as('get', `/api/shows/${show.id}/air`)).body).toMatchObject({ startsBy: null });
    await as('post', `/api/shows/${show.id}/air/by-itself`).send({ tab: null }).expect(409);
  });
});

test('two who press Resume at once go on with what was seen before the break, an outside line too', async () => {
  await goOnAir('host');
  const carried = station.carrier.show(show.id)!;
  const line = 'line:6f1f3c54-0d0e-4a1a-9df7-0f6f7e7b0c11';
  carried.choose(line, null);
  carried.choose('break card', null);
  carried.resume();
  carried.resume();
  expect(carried.state().chosen).toBe(line);
});

test('a database that cannot be asked for a moment signs nobody out who is on air', async () => {
  const host = await stage('host');
  await goOnAir('host');
  await host.until(({ holdsIt }) => holdsIt);
  let asked = 0;
  const busy = jest.spyOn(station.app.get(ShowsService), 'whole').mockImplementation(() => {
    asked += 1;
    return Promise.reject(Object.assign(new Error('database is locked'), { code: 'SQLITE_BUSY' }));
  });
  await new Promise((next) => setTimeout(next, 6_000));
  busy.mockRestore();
  expect(asked).toBeGreaterThan(0);
  expect(host.socket.readyState).toBe(WebSocket.OPEN);
});

test.each(['while the two processes compare what is on air', 'after that, while its sheet is read'])(
  'a show that is wrapped up %s is not taken up again',
  async (when) => {
    await goOnAir('host');
    const wrapped = async () => {
      await as('post', `/api/shows/${show.id}/wrap`).expect(200);
      for (let tries = 0; tries < 800 && station.carrier.show(show.id); tries++) await new Promise((next) => setTimeout(next, 25));
    };
    if (when.startsWith('while')) {
      const compared = jest.spyOn(station.app.get(StageRows), 'aliveAt').mockImplementation(async () => {
        compared.mockRestore();
        await wrapped();
        return Date.now();
      });
    } else {
      const rows = station.app.get(ShowRows);
      const there = await rows.mustBe(show.id);
      const read = jest.spyOn(rows, 'mustBe').mockImplementation(async () => {
        read.mockRestore();
        await wrapped();
        return there;
      });
    }
    await (station.app.get(AirService) as unknown as { reconcile(): Promise<void> }).reconcile();
    expect(station.carrier.show(show.id)).toBeNull();
  },
);

test('a stage ends with the role in which it was opened, and comes back as what its person may be now', async () => {
  await goOnAir('desk');
  const desk = await stage('desk', producer);
  const ended = new Promise<number>((done) => desk.socket.once('close', done));
  const { personId } = (await as('get', '/api/me', producer)).body as Me;
  const become = (role: Role) => station.app.get(DataSource).getRepository(Person).update({ id: personId }, { role });
  await become('moderator');
  try {
    expect(await ended).toBe(4409);
    const again = await stage('desk', producer);
    again.say({ type: 'newStretch', takeOver: true });
    await again.hears('refused');
  } finally {
    await become('producer');
  }
});

test('a moderator looks on and runs nothing', async () => {
  const mod = await stage('mod', moderator);
  await goOnAir();
  mod.say({ type: 'ask', what: 'take the holding card' });
  expect(await mod.hears('refused')).toMatchObject({ words: 'Moderators can watch the stage but not run it. Ask the owner or a producer.' });
});

test('a moderator and a second producer help: what they press is done by whoever has the stage, and nothing else of it is theirs', async () => {
  const [host, mod, other] = [await stage('host'), await stage('mod', moderator), await stage('other', producer)];
  mod.say({ type: 'ask', what: 'show graphic', id: 'call' });
  expect(await mod.hears('refused')).toMatchObject({ words: 'This show is not on air.' });
  await goOnAir('host');
  host.say({ type: 'newStretch' });
  await host.until(({ holdsIt }) => holdsIt);
  mod.say({ type: 'ask', what: 'show graphic', id: 'call' });
  expect(await host.hears('asked')).toMatchObject({ what: 'show graphic', id: 'call' });
  other.say({ type: 'ask', what: 'next scene', id: 'together' });
  expect(await host.hears('asked', 2)).toMatchObject({ what: 'next scene', id: 'together', by: 'Bea Lanthorn' });
  mod.say({ type: 'ask', what: 'microphone off' });
  expect(await mod.hears('refused', 2)).toMatchObject({ words: expect.stringContaining('Moderators can watch the stage') });
  // Whoever only looks on takes no guests in, and hears no word about it.
  mod.say({ type: 'guestsHere', page: 'page-of-a-moderator' });
  mod.say({ type: 'ask', what: 'hide graphic' });
  expect(await host.hears('asked', 3)).toMatchObject({ what: 'hide graphic' });
  expect(mod.heard.filter(({ type }) => type === 'refused').length).toBe(2);
});

test('a show that could not be noted as over is still on air, and is wrapped up by another press', async () => {
  await goOnAir();
  // The show's state is written before; it has to be taken back with what cannot be.
  const rows = station.app.get(RecordingRows);
  const become = rows.become.bind(rows);
  const full = jest.spyOn(rows, 'become').mockImplementation((id, columns) => {
    return id === show.id ? Promise.reject(Object.assign(new Error('database or disk is full'), { code: 'SQLITE_FULL' })) : become(id, columns);
  });
  expect((await as('post', `/api/shows/${show.id}/wrap`).expect(507)).body.words).toContain('The disk of the server is full');
  expect((await as('get', `/api/shows/${show.id}/air`)).body.showState).toBe('onAir');
  expect(station.app.get(AirService).session(show.id)).not.toBeNull();
  full.mockRestore();
  await as('post', `/api/shows/${show.id}/wrap`).expect(200);
  expect(station.app.get(AirService).session(show.id)).toBeNull();
});

describe('taking back', () => {
  const samplesOf = async () => {
    const { id } = await station.database.getRepository(Airing).findOneByOrFail({ showId: show.id });
    return { id, rows: station.database.getRepository(AirSampleRow) };
  };

  test('leaves nothing for the report of the evening that is still to come', async () => {
    await goOnAir();
    const { id, rows } = await samplesOf();
    for (let tries = 0; tries < 100 && !(await rows.countBy({ airingId: id })); tries++) await new Promise((next) => setTimeout(next, 20));
    await as('delete', `/api/shows/${show.id}/air`).expect(200);
    expect(await rows.countBy({ airingId: id })).toBe(0);
    expect((await as('get', `/api/shows/${show.id}`)).body).toMatchObject({ state: 'placed', onAirSince: null });
  });

  test('is refused, and the recording stays, where the show was public before the server was killed and went on', async () => {
    await goOnAir();
    const { id, rows } = await samplesOf();
    await rows.insert({ airingId: id, at: Date.now(), lamp: 'lit', watching: 7 });
    const folder = join(station.folder, 'recordings', show.id);
    mkdirSync(folder, { recursive: true });
    writeFileSync(join(folder, 'kept'), 'an hour of the show');
    const { body } = await as('delete', `/api/shows/${show.id}/air`).expect(409);
    expect(body.words).toContain('has been public already');
    expect(existsSync(join(folder, 'kept'))).toBe(true);
  });
});
