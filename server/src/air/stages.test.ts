// Who has a show that is on air: one stage, by a person's own press. Real sockets against the whole server.
import type { AirView, ServerMessage, ShowView, StageMessage } from '@lantern/contract';
import { HOUR_MS } from '@lantern/core';
import { existsSync, mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { WebSocket } from 'ws';
import { Airing } from '../shows/show.entities';
import { TestStation } from '../test/station';
import { RecordingRows } from '../recording/recording-rows';
import { AirService } from './air.service';
import { AirSampleRow } from './air.entities';

let station: TestStation;
let port: number;
let producer = '';
let moderator = '';
let hall = '';
let show: ShowView;
const open: Stage[] = [];

beforeAll(async () => {
  station = await TestStation.open();
  port = await station.listen();
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
const goOnAir = () => as('post', `/api/shows/${show.id}/air`).expect(200);

interface Stage {
  socket: WebSocket;
  heard: ServerMessage[];
  say(message: StageMessage): void;
  until(condition: (air: AirView) => boolean): Promise<AirView>;
  hears(type: ServerMessage['type'], times?: number): Promise<ServerMessage>;
}

async function stage(tab: string, who = station.cookie, more = ''): Promise<Stage> {
  const socket = new WebSocket(`ws://127.0.0.1:${port}/api/stage/${show.id}?tab=tab-of-${tab}${more}`, { headers: { cookie: who } });
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
  await goOnAir();
  other.say({ type: 'newStretch', takeOver: false });
  expect(await other.hears('refused')).toMatchObject({ words: 'Maren Tolliver has this show. Take it over if you mean to send from here.' });
  host.say({ type: 'newStretch', takeOver: false });
  await host.hears('stretch');
  await host.until(({ holdsIt }) => holdsIt);
  other.say({ type: 'take', scene: 'host' });
  await other.hears('refused', 2);
  other.say({ type: 'newStretch', takeOver: true });
  await other.hears('stretch');
  expect((await host.until(({ holdsIt }) => !holdsIt)).holder).toMatchObject({ name: 'Bea Lanthorn', connected: true });
});

test('a reload comes back to the show; a stage of somebody else that was open all the while does not slip in', async () => {
  const host = await stage('host');
  const other = await stage('other', producer);
  await goOnAir();
  host.say({ type: 'newStretch', takeOver: false });
  await host.hears('stretch');
  host.socket.terminate();
  expect((await other.until(({ holder }) => holder?.connected === false)).holdsIt).toBe(false);
  await (await stage('host')).until(({ holdsIt }) => holdsIt);
});

test('a phone of the host’s that is opened while the stage is away for a moment does not have the show, and mutes and takes the card all the same', async () => {
  const host = await stage('host');
  await goOnAir();
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
  await goOnAir();
  for (let time = 0; time < 6; time++) host.say({ type: 'newStretch', takeOver: false });
  await host.hears('stretch', 2);
  await new Promise((next) => setTimeout(next, 1_300));
  expect(host.heard.filter(({ type }) => type === 'stretch')).toHaveLength(2);
});

test('where what comes is taken in no longer, the stage is given another stretch without asking, and nobody goes on with the old one', async () => {
  const host = await stage('host');
  await goOnAir();
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

test('a moderator looks on and runs nothing', async () => {
  const mod = await stage('mod', moderator);
  await goOnAir();
  mod.say({ type: 'ask', what: 'take the holding card' });
  expect(await mod.hears('refused')).toMatchObject({ words: 'Moderators can watch the stage but not run it. Ask the owner or a producer.' });
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
