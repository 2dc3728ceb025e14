// Lines, keys and clashes through the whole interface, with a station that has typed-in channels only.
import type { ChannelView, ErrorReply, LinesOfChannel, LineView, PlaceResult, RevealedEncoderSet, ShowView } from '@lantern/contract';
import { HOUR_MS, MINUTE_MS } from '@lantern/core';
import { createServer, type Server, type Socket } from 'node:net';
import { createServer as createTlsServer } from 'node:tls';
import { execFileSync } from 'node:child_process';
import { readFileSync, unlinkSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import type request from 'supertest';
import { AirService } from '../air/air.service';
import { digestOf } from '../foundation/digest';
import { StagesOnAir } from '../people/stages-on-air';
import { sessionToken } from '../foundation/session-cookie';
import { OWNER, TestStation } from '../test/station';

const KEY = 'hall-key-0001-of-the-club';
let station: TestStation;
let moderator = '';
let producer = '';
let stranger = '';
let channel: ChannelView;
let line: LineView;

beforeAll(async () => {
  station = await TestStation.open();
  moderator = await station.person('moderator');
  producer = await station.person('producer');
  stranger = await station.person('owner', 'other');
  channel = (
    await as(http().post('/api/channels/typed-in'))
      .send({ name: 'Village hall', address: 'rtmp://localhost/hall/', key: `${KEY}\n` })
      .expect(201)
  ).body;
  line = (await linesOf(channel.id)).lines[0]!;
});
afterAll(() => station.close());
beforeEach(() => {
  station.travelTo(Date.now());
  station.forgetTries();
});

const http = () => station.http();
const as = (test: request.Test, who = station.cookie) => station.as(test, who);
const linesOf = async (id: string) => (await as(http().get(`/api/channels/${id}/lines`)).expect(200)).body as LinesOfChannel;
const reveal = (who = station.cookie, id = line.id, purpose = 'show') => as(http().post(`/api/lines/${id}/reveal`), who).send({ purpose });
/** Near enough that it may go on air. */
function inTwoHours(): { date: string; time: string; zone: string } {
  const [date, time] = new Date(Date.now() + 2 * HOUR_MS).toISOString().split('T') as [string, string];
  return { date, time: time.slice(0, 5), zone: 'UTC' };
}
const record = async () =>
  ((await as(http().get('/api/audit')).expect(200)).body as { person: string; words: string }[]).map(({ person, words }) => `${person} ${words}`);

describe('a key', () => {
  test('is shown to the owner and to producers who have given their password lately, without what was pasted around it', async () => {
    const reply = await reveal().expect(200);
    expect(reply.body).toEqual({ key: KEY });
    expect(reply.headers['cache-control']).toContain('no-store');
    await reveal(producer).expect(200);
    expect(await record()).toContain('Maren Tolliver saw the key of Main line, Village hall');
  });

  test('is not shown to moderators, to another station, or for no purpose', async () => {
    expect((await reveal(moderator).expect(403)).body.words).toContain('Moderators');
    await reveal(stranger).expect(404);
    await reveal(station.cookie, '00000000-0000-4000-8000-000000000000').expect(404);
    await reveal(station.cookie, line.id, 'fun').expect(400);
  });

  test('wants the password again after five minutes, and the right one', async () => {
    station.travelTo(Date.now() + 6 * MINUTE_MS);
    const refused = await reveal().expect(403);
    expect((refused.body as ErrorReply).needs).toBe('password');
    expect(JSON.stringify(refused.body)).not.toContain(KEY);
    const give = (password: string) => as(http().post('/api/session/password')).send({ password });
    await give('not-the-password').expect(403);
    await reveal().expect(403);
    await give(OWNER.password).expect(204);
    await reveal().expect(200);
  });

  test('is not shown in a browser whose stage is on air, and says why', async () => {
    const stages = station.app.get(StagesOnAir);
    let onAir = false;
    const sessions = [digestOf(sessionToken({ headers: { cookie: station.cookie } } as never)!)];
    stages.opened('a show', { sessions, sharing: [] }, () => onAir);
    await reveal().expect(200);
    onAir = true;
    expect((await reveal().expect(409)).body.words).toContain('never come into a picture');
    await reveal(producer).expect(200); // another browser
    // A shared screen shows whatever is on it, on air or not.
    stages.opened('a show', { sessions, sharing: sessions }, () => false);
    expect((await reveal().expect(409)).body.words).toContain('A screen is shared from this browser');
    await reveal(producer).expect(200);
    stages.opened('a show', { sessions: [], sharing: [] }, () => onAir);
    await reveal().expect(200);
  });

  test('stands in no other answer', async () => {
    const show = await drafted();
    await as(http().post(`/api/shows/${show.id}/place`)).expect(200);
    const paths = [
      '/api/channels',
      `/api/channels/${channel.id}`,
      `/api/channels/${channel.id}/lines`,
      '/api/plan',
      '/api/audit',
      '/api/shows',
      `/api/shows/${show.id}`,
    ];
    for (const path of [...paths, `/api/shows/${show.id}/air`, `/api/house/${show.houseUrl.split('/').at(-1)}`]) {
      expect(JSON.stringify((await as(http().get(path)).expect(200)).body)).not.toContain(KEY);
    }
    await as(http().post(`/api/shows/${show.id}/withdraw`)).expect(200);
  });

  test('is rotated: coming shows follow, and whoever has it is named', async () => {
    await as(http().put(`/api/lines/${line.id}`))
      .send({ name: 'Encoder in the hall', heldBy: 'Idris, for the hall' })
      .expect(200);
    const show = await drafted({ pictureFrom: 'encoder' });
    await as(http().post(`/api/lines/${line.id}/rotate`))
      .send({})
      .expect(400);
    await as(http().post(`/api/lines/${line.id}/rotate`), moderator)
      .send({ key: 'x' })
      .expect(403);
    const done = await as(http().post(`/api/lines/${line.id}/rotate`))
      .send({ key: ' hall-key-0002 ' })
      .expect(200);
    expect(done.body.tell).toEqual(['Idris, for the hall', 'The encoder of Dusk Report']);
    expect(done.body.line.shows.map(({ id }: { id: string }) => id)).toEqual([show.id]);
    expect((await reveal().expect(200)).body).toEqual({ key: 'hall-key-0002' });
    const { set } = (await encoderSet(show).expect(200)).body as RevealedEncoderSet;
    expect(set.key).toBe('hall-key-0002');
    await as(http().post(`/api/lines/${line.id}/rotate`))
      .send({ key: KEY })
      .expect(200);
    await as(http().post(`/api/shows/${show.id}/withdraw`)).expect(200);
  });
});

const encoderSet = (show: ShowView, who = station.cookie) =>
  as(http().post(`/api/shows/${show.id}/encoder-sets/${show.airings[0]!.id}`), who).send({ purpose: 'file' });

test('an encoder set gives address, key and watch link in that order, to those who may see keys', async () => {
  const show = await drafted({ pictureFrom: 'encoder', title: 'Comité: «Stream»' });
  const { text, fileName } = (await encoderSet(show).expect(200)).body as RevealedEncoderSet;
  const places = ['rtmp://localhost/hall', KEY, 'Where to watch'].map((part) => text.indexOf(part));
  expect(places.every((place, at) => place > (places[at - 1] ?? -1))).toBe(true);
  expect(fileName).toBe('encoder-set-comite-stream-village-hall.txt');
  await encoderSet(show, moderator).expect(403);
  await encoderSet(show, stranger).expect(404);
  expect(await record()).toContain('Maren Tolliver saved the encoder set of Comité: «Stream», Village hall');
  await as(http().post(`/api/shows/${show.id}/withdraw`)).expect(200);
});

test('the record is the owner’s to read', async () => {
  await as(http().get('/api/audit'), producer).expect(403);
  expect((await as(http().get('/api/audit'), stranger).expect(200)).body).toEqual([]);
});

test('keys are asked for a dozen times a minute, no more', async () => {
  const replies: number[] = [];
  for (let n = 0; n < 14; n++) replies.push((await reveal()).status);
  expect(replies).toContain(429);
  expect(replies.at(-1)).toBe(429);
});

let evening = 0;
async function drafted(change = {}): Promise<ShowView> {
  const date = new Date(Date.UTC(2090, 0, 1) + ++evening * 86_400_000).toISOString().slice(0, 10);
  return (
    await as(http().post('/api/shows'))
      .send(station.draft([channel.id], { date, ...change }))
      .expect(201)
  ).body as ShowView;
}

describe('two shows on one line', () => {
  const place = (show: ShowView) => as(http().post(`/api/shows/${show.id}/place`));

  test('the second is not placed on it while it overlaps, and is on another', async () => {
    const first = await drafted({ title: 'Dusk Report', date: '2091-01-04', time: '20:30', lengthMin: 40 });
    const second = await drafted({ title: 'Committee Stream', date: '2091-01-04', time: '21:00', lengthMin: 40 });
    await place(first).expect(200); // a draft keeps nobody from anything
    const refused = await place(second).expect(422);
    expect(refused.body.words).toMatch(/Dusk Report and Committee Stream meet on the line .* of Village hall/);
    const spare = (
      await as(http().post(`/api/channels/${channel.id}/lines`))
        .send({ name: 'Spare', address: 'rtmp://localhost/spare', key: 'spare-key' })
        .expect(201)
    ).body;
    await as(http().patch(`/api/shows/${second.id}`))
      .send({ base: 1, changes: { lines: [{ channelId: channel.id, lineId: spare.id }] } })
      .expect(200);
    expect(((await place(second).expect(200)).body as PlaceResult).show.airings[0]!.placing).toBe('placed');
    await as(http().delete(`/api/lines/${spare.id}`)).expect(409); // promised to a show
    for (const { id } of [first, second]) await as(http().post(`/api/shows/${id}/withdraw`)).expect(200);
    await as(http().delete(`/api/lines/${spare.id}`)).expect(204);
    await as(http().delete(`/api/lines/${line.id}`)).expect(409); // the last one
  });

  test('a line of another channel, or of another station, cannot be chosen', async () => {
    const other = (await as(http().post('/api/channels/typed-in')).send({ name: 'Annex', address: 'rtmp://localhost/annex', key: 'annex-key' }).expect(201))
      .body;
    const [foreign] = (await linesOf(other.id)).lines;
    const choose = (lineId: string) => as(http().post('/api/shows')).send(station.draft([channel.id], { lines: [{ channelId: channel.id, lineId }] }));
    expect((await choose(foreign!.id).expect(422)).body.words).toContain('not one of its own');
    await as(http().get(`/api/channels/${channel.id}/lines`), stranger).expect(404);
    await as(http().post(`/api/channels/${other.id}/unlink`)).expect(204);
    await as(http().get(`/api/channels/${other.id}`)).expect(404);
    expect(await station.database.query(`select count(*) n from lines where channelId = '${other.id}'`)).toEqual([{ n: 0 }]);
  });
});

test('a channel is not taken off while a show on it is on air; coming shows are named and lose it', async () => {
  const annex = (await as(http().post('/api/channels/typed-in')).send({ name: 'Annex', address: 'rtmp://localhost/annex', key: 'annex-key' }).expect(201)).body;
  const coming = (
    await as(http().post('/api/shows'))
      .send(station.draft([annex.id], { title: 'Members’ Evening', date: '2092-01-01' }))
      .expect(201)
  ).body as ShowView;
  const running = (
    await as(http().post('/api/shows'))
      .send(station.draft([annex.id], { title: 'Running', ...inTwoHours(), pictureFrom: 'encoder' }))
      .expect(201)
  ).body as ShowView;
  await as(http().post(`/api/shows/${running.id}/place`)).expect(200);
  await as(http().post(`/api/shows/${running.id}/air`)).expect(200);
  expect((await as(http().post(`/api/channels/${annex.id}/unlink`)).expect(409)).body.words).toContain('Wrap it up');
  const air = station.app.get(AirService);
  // An encoder's show sends nothing from here, and its lamp does not pretend to know.
  expect((await as(http().get(`/api/shows/${running.id}/air`)).expect(200)).body.airings[0]).toMatchObject({
    lamp: 'dark',
    channel: { name: 'Annex', kind: 'service' },
  });
  await as(http().post(`/api/shows/${running.id}/wrap`)).expect(200);
  expect(air.session(running.id)).toBeNull();
  const { shows } = (await as(http().get(`/api/channels/${annex.id}/unlink`)).expect(200)).body;
  expect(shows).toMatchObject([{ title: 'Members’ Evening', stands: false }]);
  await as(http().post(`/api/channels/${annex.id}/unlink`), moderator).expect(403);
  await as(http().post(`/api/channels/${annex.id}/unlink`)).expect(204);
  expect(((await as(http().get(`/api/shows/${coming.id}`)).expect(200)).body as ShowView).airings).toEqual([]);
  // The past keeps it.
  expect((await as(http().get(`/api/shows/${running.id}/report`)).expect(200)).body.airings[0].channelName).toBe('Annex');
});

test('limits typed in by hand are the rules of the channel, and nonsense is refused at its field', async () => {
  const change = (limits: object) => as(http().put(`/api/channels/${channel.id}`)).send({ name: 'Village hall', limits });
  const changed = (await change({ titleMax: 20, textMax: null, longestMin: 30, maxKbps: null }).expect(200)).body as ChannelView;
  expect(changed.rules).toMatchObject({ titleMax: 20, longestMs: HOUR_MS / 2, textMax: null });
  const show = await drafted({ lengthMin: 40 });
  expect((await as(http().post(`/api/shows/${show.id}/place`)).expect(422)).body.words).toContain('ends every show after 30 min');
  expect((await change({ titleMax: -1, textMax: null, longestMin: null, maxKbps: null }).expect(400)).body.fields.limits).toContain('at least 10');
  await change({ titleMax: null, textMax: null, longestMin: null, maxKbps: null }).expect(200);
});

describe('a trial', () => {
  const servers: Server[] = [];
  const sockets = new Set<Socket>();
  const listen = async (server: Server): Promise<number> => {
    servers.push(server);
    server.on('connection', (socket: Socket) => sockets.add(socket));
    await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
    return (server.address() as AddressInfo).port;
  };
  afterAll(async () => {
    for (const socket of sockets) socket.destroy();
    await Promise.all(servers.map((server) => new Promise((done) => server.close(done))));
  });
  const tried = async (address: string) => (await as(http().post('/api/trials')).send({ address, key: 'trial-key-never-told' }).expect(200)).body;

  test('says that nobody answers, that something else does, or that a certificate cannot be trusted', async () => {
    const closed = createServer();
    const port = await listen(closed);
    await new Promise((done) => servers.pop()!.close(done));
    expect(await tried(`rtmp://127.0.0.1:${port}/app`)).toMatchObject({ found: 'unreachable', words: expect.stringContaining('nobody answers') });

    const web = await listen(createServer((socket) => socket.end('HTTP/1.1 400 Bad Request\r\n\r\n')));
    expect(await tried(`rtmp://127.0.0.1:${web}/app`)).toMatchObject({ found: 'not-rtmp' });

    const [keyFile, certFile] = [join(station.folder, 'k.pem'), join(station.folder, 'c.pem')];
    execFileSync('openssl', ['req', '-x509', '-newkey', 'rsa:2048', '-nodes', '-days', '2', '-subj', '/CN=localhost', '-keyout', keyFile, '-out', certFile], {
      stdio: 'ignore',
    });
    const own = await listen(createTlsServer({ key: readFileSync(keyFile), cert: readFileSync(certFile) }));
    const untrusted = await tried(`rtmps://localhost:${own}/app`);
    expect(untrusted).toMatchObject({ found: 'certificate', words: expect.stringContaining('certificate cannot be trusted') });
    expect(JSON.stringify(untrusted)).not.toContain('trial-key-never-told');
  });

  test('is not for moderators, and looks at the address first', async () => {
    await as(http().post('/api/trials'), moderator).send({ address: 'rtmp://localhost/a', key: 'k' }).expect(403);
    await as(http().post('/api/trials')).send({ address: 'https://localhost/a', key: 'k' }).expect(400);
  });
});

test('losing the key file loses keys and nothing else', async () => {
  const { folder } = station;
  await station.close(true);
  unlinkSync(join(folder, 'vault.key'));
  station = await TestStation.open(folder);
  const [mine] = (await linesOf(channel.id)).lines;
  expect(mine).toMatchObject({ name: 'Encoder in the hall', readable: false, address: 'rtmp://localhost/hall' });
  expect((await reveal().expect(409)).body.words).toContain('type the key in again');
  expect((await as(http().get('/api/shows')).expect(200)).body.length).toBeGreaterThan(3);
  await as(http().post(`/api/lines/${line.id}/rotate`))
    .send({ key: KEY })
    .expect(200);
  expect((await reveal().expect(200)).body).toEqual({ key: KEY });
});
