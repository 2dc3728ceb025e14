// The green room over real sockets: who is let in, what is told, and what nobody hears.
import { RETURN_PICTURE, type FromGuest, type GuestThere, type ServerMessage, type StageMessage, type ToGuest } from '@lantern/contract';
import { createHmac } from 'node:crypto';
import { connect as connectTo } from 'node:net';
import { WebSocket } from 'ws';
import type { GuestPassLink, GuestView, ShowView } from '@lantern/contract';
import { TestStation } from '../test/station';
import { waysThrough } from './ways-through';

let station: TestStation;
let show: ShowView;
const open: Line<unknown>[] = [];

beforeAll(async () => {
  station = await TestStation.open();
});
beforeEach(async () => {
  show = (await station.as(station.http().post('/api/shows')).send(station.draft([]))).body as ShowView;
});
afterEach(() => {
  for (const line of open.splice(0)) line.socket.terminate();
});
afterAll(() => station.close());

/** One end of a socket, with all that came on it. */
class Line<Heard> {
  readonly heard: Heard[] = [];
  readonly pictures: Buffer[] = [];
  closed: number | null = null;

  constructor(readonly socket: WebSocket) {
    open.push(this as Line<unknown>);
    socket.on('message', (data, isBinary) => (isBinary ? this.pictures.push(data as Buffer) : this.heard.push(JSON.parse(String(data)) as Heard)));
    socket.on('close', (code) => (this.closed = code));
    socket.on('error', () => (this.closed ??= 0));
  }

  async until<Found>(find: (heard: Heard[]) => Found | undefined | false): Promise<Found> {
    for (let tries = 0; tries < 200; tries++) {
      const found = find(this.heard);
      if (found) return found;
      await new Promise((next) => setTimeout(next, 25));
    }
    throw new Error(`never heard; but ${JSON.stringify(this.heard).slice(0, 600)}`);
  }

  async ended(): Promise<number> {
    for (let tries = 0; tries < 200 && this.closed === null; tries++) await new Promise((next) => setTimeout(next, 25));
    return this.closed!;
  }

  say(message: object): void {
    this.socket.send(JSON.stringify(message));
  }
}

const connect = async <Heard>(path: string): Promise<Line<Heard>> => {
  const socket = new WebSocket(`ws://127.0.0.1:${station.airPort}${path}`, {
    headers: { cookie: station.cookie, origin: 'http://localhost:4700', host: 'localhost:4700' },
  });
  const line = new Line<Heard>(socket);
  await new Promise((done) => socket.once('open', done).once('error', done));
  return line;
};
async function pass(name: string, of = show): Promise<{ id: string; pass: string }> {
  const all = (await station.as(station.http().post(`/api/shows/${of.id}/guests`)).send({ name })).body as GuestView[];
  const { id } = all.find((guest) => guest.name === name)!;
  const { url } = (await station.as(station.http().post(`/api/shows/${of.id}/guests/${id}/pass`)).send({})).body as GuestPassLink;
  return { id, pass: url.split('#')[1]! };
}
const hello = (shown: string, part: Partial<Extract<FromGuest, { type: 'hello' }>> = {}) => ({
  ...{ type: 'hello', pass: shown, page: 'page-of-a-guest', takeOver: false, soundOnly: false, seesReturn: true },
  ...part,
});
async function comes(shown: string, part: Partial<Extract<FromGuest, { type: 'hello' }>> = {}, of = show): Promise<Line<ToGuest>> {
  const line = await connect<ToGuest>(`/api/green-room/${of.id}`);
  line.say(hello(shown, part));
  return line;
}
async function stageOpens(page = 'page-of-the-stage', of = show.id): Promise<Line<ServerMessage> & { tell(message: StageMessage): void }> {
  const line = await connect<ServerMessage>(`/api/stage/${of}?tab=tab-of-the-stage`);
  line.say({ type: 'guestsHere', page });
  await line.until((heard) => heard.find(({ type }) => type === 'guestWays'));
  return Object.assign(line, { tell: (message: StageMessage) => line.say(message) });
}
const guestsOf = (heard: ServerMessage[]): GuestThere[] =>
  (heard.findLast((message) => message.type === 'guests') as { guests: GuestThere[] } | undefined)?.guests ?? [];
const roomOf = (heard: ToGuest[]) => (heard.findLast((message) => message.type === 'room') as Extract<ToGuest, { type: 'room' }> | undefined)?.room;

test('whoever has a pass waits muted and unseen, hears where they are, and is introduced to the stage', async () => {
  const { id, pass: shown } = await pass('Juno Hartsel');
  const guest = await comes(shown);
  expect(await guest.until(roomOf)).toMatchObject({ name: 'Juno Hartsel', place: 'unheard', host: null, onAir: false });
  const stage = await stageOpens();
  expect(await stage.until((heard) => guestsOf(heard)[0])).toMatchObject({ id, seat: 'guest 1', broughtIn: false, connected: true, place: 'unheard' });
  await guest.until((heard) => heard.find((message) => message.type === 'stage' && message.page === 'page-of-the-stage'));
  guest.say({ type: 'signal', to: 'page-of-the-stage', data: { line: 7, candidate: null } });
  expect(await stage.until((heard) => heard.find(({ type }) => type === 'guestSignal'))).toMatchObject({ from: id, data: { line: 7 } });
  stage.tell({ type: 'guestSignal', to: id, data: { line: 7, candidate: null } });
  await guest.until((heard) => heard.find(({ type }) => type === 'signal'));
  stage.tell({ type: 'guest', id, order: { does: 'bring in' } });
  stage.tell({ type: 'guestPlaces', places: { [id]: { onScene: true, onNext: false } } });
  // Nothing is on air: nobody is told that they are.
  expect(await guest.until((heard) => roomOf(heard)?.place === 'next' && roomOf(heard))).toMatchObject({ host: 'Maren Tolliver' });
  // The team sees it on the sheet.
  const list = async () => ((await station.as(station.http().get(`/api/shows/${show.id}/guests`))).body as GuestView[])[0]!.standing;
  for (let tries = 0; tries < 100 && (await list()) !== 'green room'; tries++) await new Promise((next) => setTimeout(next, 25));
  expect(await list()).toBe('green room');
  guest.say({ type: 'leave' });
  expect(await guest.ended()).toBe(1000);
  expect(await stage.until((heard) => guestsOf(heard).find(({ connected }) => !connected))).toMatchObject({ seat: 'guest 1', broughtIn: false });
  for (let tries = 0; tries < 100 && (await list()) !== 'gone'; tries++) await new Promise((next) => setTimeout(next, 25));
  expect(await list()).toBe('gone');
});

test('a rehearsal is made with the guests of its show, who are told that it is recorded and no more', async () => {
  const hall = { name: 'Hall', address: 'rtmp://127.0.0.1:9/hall', key: 'hall-key-1' };
  const channel = (await station.as(station.http().post('/api/channels/typed-in')).send(hall)).body as { id: string };
  show = (await station.as(station.http().post('/api/shows')).send(station.draft([channel.id]))).body as ShowView;
  const { id, pass: shown } = await pass('Juno Hartsel');
  const guest = await comes(shown);
  await guest.until(roomOf);
  const rehearsal = (await station.as(station.http().post(`/api/shows/${show.id}/rehearsals`)).send({})).body as { id: string };
  const stage = await stageOpens('page-of-a-rehearsal', rehearsal.id);
  expect(await stage.until((heard) => guestsOf(heard)[0])).toMatchObject({ id });
  await guest.until((heard) => heard.find((message) => message.type === 'stage' && message.page === 'page-of-a-rehearsal'));
  await station.as(station.http().post(`/api/shows/${rehearsal.id}/air`)).send({ tab: 'tab-of-the-stage' });
  expect(await guest.until((heard) => roomOf(heard)?.onAir && roomOf(heard))).toMatchObject({ rehearsal: true, place: 'unheard' });
  const bench = await station.as(station.http().get(`/api/shows/${rehearsal.id}/guests`));
  expect(bench.body).toEqual([expect.objectContaining({ name: 'Juno Hartsel' })]);
  await station.as(station.http().post(`/api/shows/${rehearsal.id}/wrap`)).send({});
});

test('no pass, one of another date, and one that was withdrawn let nobody in; whoever is in with it goes', async () => {
  const { id, pass: shown } = await pass('Juno Hartsel');
  const another = (await station.as(station.http().post('/api/shows')).send(station.draft([], { title: 'Another date' }))).body as ShowView;
  expect(await (await comes('no-pass-at-all-but-long-enough')).ended()).toBe(4403);
  expect(await (await comes(shown, {}, another)).ended()).toBe(4403);
  const guest = await comes(shown);
  await guest.until(roomOf);
  await station.as(station.http().delete(`/api/shows/${show.id}/guests/${id}`));
  expect(await guest.ended()).toBe(4403);
  expect(await (await comes(shown)).ended()).toBe(4403);
});

test('a second device is asked which shall stay; a reload of the first is not', async () => {
  const { pass: shown } = await pass('Tomasz Wren');
  const first = await comes(shown);
  await first.until(roomOf);
  const again = await comes(shown);
  await again.until(roomOf);
  const second = await comes(shown, { page: 'page-of-a-phone' });
  await second.until((heard) => heard.find(({ type }) => type === 'elsewhere'));
  expect(again.closed).toBeNull();
  second.say(hello(shown, { page: 'page-of-a-phone', takeOver: true }));
  await second.until(roomOf);
  expect(await again.ended()).toBe(4410);
  expect(again.heard.at(-1)).toEqual({ type: 'taken' });
});

test('six come in one second and each has a seat; a seventh is told why not; who comes back finds their place', async () => {
  const passes = [];
  for (let at = 1; at <= 7; at++) passes.push(await pass(`Guest number ${at}`));
  const six = await Promise.all(passes.slice(0, 6).map(({ pass: shown }, at) => comes(shown, { page: `page-number-${at}` })));
  await Promise.all(six.map((line) => line.until(roomOf)));
  const stage = await stageOpens();
  const seats = await stage.until((heard) => guestsOf(heard).length === 6 && guestsOf(heard).map(({ seat }) => seat));
  expect([...seats].sort()).toEqual(['guest 1', 'guest 2', 'guest 3', 'guest 4', 'guest 5', 'guest 6']);
  const seventh = await comes(passes[6]!.pass);
  expect(await seventh.until((heard) => heard.find((message) => message.type === 'refused'))).toMatchObject({ words: expect.stringContaining('full') });
  const { id } = passes[2]!;
  const seat = guestsOf(stage.heard).find((guest) => guest.id === id)!.seat;
  six[2]!.socket.terminate();
  await stage.until((heard) => guestsOf(heard).some((guest) => guest.id === id && !guest.connected));
  await comes(passes[2]!.pass, { page: 'page-number-2' });
  expect(await stage.until((heard) => guestsOf(heard).find((guest) => guest.id === id && guest.connected))).toMatchObject({ seat });
});

test('a guest who floods is hung up on, and one who writes too fast is heard now and then', async () => {
  const { pass: shown } = await pass('Juno Hartsel');
  const guest = await comes(shown);
  await guest.until(roomOf);
  const stage = await stageOpens();
  guest.say({ type: 'note', words: 'Shall I speak of\n\u0007the comet?' });
  guest.say({ type: 'note', words: 'And of the moon?' });
  expect(await stage.until((heard) => guestsOf(heard).find(({ says }) => says))).toMatchObject({ says: 'Shall I speak of the comet?' });
  for (let at = 0; at < 400; at++) guest.say({ type: 'note', words: `number ${at}` });
  expect(await guest.ended()).toBe(1008);
});

test('a guest who is introduced with very many words takes no room from the stage’s own line', async () => {
  const { pass: shown } = await pass('Juno Hartsel');
  const guest = await comes(shown);
  await guest.until(roomOf);
  const stage = await stageOpens();
  const words = 'x'.repeat(20_000);
  for (let at = 0; at < 100; at++) guest.say({ type: 'signal', to: 'page-of-the-stage', data: { line: at, sdp: { type: 'offer', sdp: words } } });
  guest.say({ type: 'signal', to: 'page-of-the-stage', data: { line: 7, sdp: { type: 'offer', sdp: 'x'.repeat(40_000) } } });
  guest.say({ type: 'own', microphone: true, camera: true, offersShare: false, uplinkKbps: 1e300 });
  expect(await stage.until((heard) => guestsOf(heard).find(({ uplinkKbps }) => uplinkKbps))).toMatchObject({ uplinkKbps: 10_000_000 });
  const handedOn = stage.heard.filter(({ type }) => type === 'guestSignal').length;
  expect(handedOn).toBeGreaterThanOrEqual(5);
  expect(handedOn).toBeLessThanOrEqual(8);
  expect(stage.closed).toBeNull();
});

test('a guest hears now and then although nothing changes: who hears nothing knows that the line is broken', async () => {
  const { pass: shown } = await pass('Juno Hartsel');
  const guest = await comes(shown);
  await guest.until((heard) => heard.filter(({ type }) => type === 'room').length >= 2);
});

test('what is no message at all ends the line and nothing else', async () => {
  const { pass: shown } = await pass('Juno Hartsel');
  const guest = await comes(shown);
  await guest.until(roomOf);
  for (const odd of ['{', 'null', '[]', '"hello"']) {
    const line = await connect<ToGuest>(`/api/green-room/${show.id}`);
    line.socket.send(odd);
    expect(await line.ended()).toBe(1007);
  }
  guest.say({ type: 'own', microphone: 'yes', camera: 7, uplinkKbps: 'much' });
  guest.say({ type: 'signal' });
  guest.say({ type: 'toString' });
  const stage = await stageOpens();
  expect(await stage.until((heard) => guestsOf(heard)[0])).toMatchObject({ ownMicrophone: false, uplinkKbps: null, connected: true });
});

test('the programme is handed on to guests alone who can show it, from a key frame on', async () => {
  const one = await pass('Juno Hartsel');
  const other = await pass('Tomasz Wren');
  const sees = await comes(one.pass);
  const cannot = await comes(other.pass, { seesReturn: false });
  await Promise.all([sees.until(roomOf), cannot.until(roomOf)]);
  const stage = await stageOpens();
  const picture = (isKey: boolean, word: string) => {
    const head = Buffer.alloc(8);
    head.writeUInt32BE(RETURN_PICTURE, 0);
    head.writeUInt32BE(isKey ? 1 : 0, 4);
    stage.socket.send(Buffer.concat([head, Buffer.from(word)]));
  };
  picture(false, 'too early');
  picture(true, 'key');
  picture(false, 'after it');
  for (let tries = 0; tries < 100 && sees.pictures.length < 2; tries++) await new Promise((next) => setTimeout(next, 25));
  expect(sees.pictures.map((each) => [each.readUInt32BE(0), each.subarray(4).toString()])).toEqual([
    [1, 'key'],
    [0, 'after it'],
  ]);
  expect(cannot.pictures).toEqual([]);
});

test('what lets one through a relay is good for some hours, and is made as the relay expects it', () => {
  const [stun, turn] = waysThrough({ stunUrls: ['stun:fell.example'], turnUrls: ['turn:fell.example'], turnSecret: 'shared' }, 'guest-1', 1_000_000);
  expect(stun).toEqual({ urls: ['stun:fell.example'] });
  expect(turn!.username).toBe(`${1_000 + 6 * 3_600}:guest-1`);
  expect(turn!.credential).toBe(createHmac('sha1', 'shared').update(turn!.username!).digest('base64'));
  expect(waysThrough({ stunUrls: [], turnUrls: ['turn:fell.example'], turnSecret: null }, 'guest-1', 0)).toEqual([]);
});

test.each(['//', '/api/green-room/%', 'http://[', '/api/stage/x y?tab=%'])(
  'a socket that is asked for at %s is refused, and everybody else let in',
  async (path) => {
    const socket = connectTo({ port: station.airPort, host: '127.0.0.1' });
    const answered = new Promise<string>((done) => {
      let text = '';
      socket.on('data', (bytes) => (text += String(bytes)));
      socket.on('close', () => done(text));
      socket.on('error', () => done(text));
    });
    socket.write(
      `GET ${path} HTTP/1.1\r\nHost: localhost:4700\r\nConnection: Upgrade\r\nUpgrade: websocket\r\nSec-WebSocket-Version: 13\r\nSec-WebSocket-Key: dGhlIHNhbXBsZSBub25jZQ==\r\n\r\n`,
    );
    expect(await answered).toMatch(/^HTTP\/1\.1 4\d\d /);
    const { pass: shown } = await pass('Juno Hartsel');
    await (await comes(shown)).until(roomOf);
  },
);

// At the end: nobody comes in from this address for a while.
test('two hundred guesses find a shut door before long', async () => {
  const closed: (number | null)[] = [];
  for (let at = 0; at < 200; at++) closed.push(await (await comes(`guess number ${at}, long enough`)).ended());
  expect(closed.filter((code) => code === 4403).length).toBeLessThanOrEqual(21);
});
