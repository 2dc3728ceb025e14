/** A real socket server on this machine stands for the server; only the window's timer is borrowed. */
import { PIECE_HEAD_BYTES, type AirView, type ServerMessage, type StageMessage } from '@lantern/contract';
import type { AddressInfo } from 'node:net';
import { WebSocket, WebSocketServer, type WebSocket as Socket } from 'ws';
import { Uplink } from './uplink';

/** As browsers have it: a socket that is closed before it was open tells nobody of an error. */
class BrowserSocket extends WebSocket {
  constructor(address: string) {
    super(address);
    this.on('error', () => undefined);
  }
}
Object.assign(globalThis, { WebSocket: BrowserSocket, window: globalThis });

let server: WebSocketServer;
let sockets: Socket[];
let heard: (StageMessage | { piece: [number, number] })[];
let recorders: number;
let signedOut: number;
let lines: boolean[];
let uplink: Uplink;
/** What was kept in the browser's own store, said to be over, and so on. */
let late: string[];
/** Whether the server says how the show stands, as the real one does twice a second. */
let speaks: boolean;
let programme: AirView['programme'];

beforeEach(async () => {
  sockets = [];
  heard = [];
  recorders = 0;
  signedOut = 0;
  lines = [];
  late = [];
  speaks = true;
  programme = 'holding';
  server = new WebSocketServer({ port: 0, host: '127.0.0.1' });
  server.on('connection', (socket) => {
    sockets.push(socket);
    const tell = () => speaks && socket.send(JSON.stringify({ type: 'air', air: { programme } }));
    tell();
    socket.on('close', clearInterval.bind(null, setInterval(tell, 200)));
    socket.on('message', (data, isBinary) => {
      const bytes = data as Buffer;
      heard.push(isBinary ? { piece: [bytes.readUInt32BE(0), bytes.readUInt32BE(4)] } : (JSON.parse(String(data)) as StageMessage));
    });
  });
  await new Promise((listening) => server.once('listening', listening));
  uplink = new Uplink(
    `ws://127.0.0.1:${(server.address() as AddressInfo).port}`,
    {
      air: (_air: AirView) => undefined,
      connected: (yes) => void lines.push(yes),
      beginRecorder: () => void recorders++,
      refused: () => undefined,
      signedOut: () => void signedOut++,
      asked: () => undefined,
      lost: () => undefined,
      line: () => undefined,
      guests: () => undefined,
      handing: () => undefined,
    },
    undefined,
    {
      keep: (stretch, from, bytes) => void late.push(`keep ${stretch} from ${from}: ${bytes.byteLength}`),
      name: (stretch) => void late.push(`name ${stretch}`),
      drop: (stretch) => void late.push(`drop ${stretch}`),
      end: (stretch) => void late.push(`end ${stretch}`),
      send: () => void late.push('send'),
    },
  );
  await until(() => sockets.length === 1);
});

afterEach(async () => {
  uplink.close();
  await new Promise((closed) => server.close(closed));
});

async function until(condition: () => boolean): Promise<void> {
  while (!condition()) await new Promise((next) => setTimeout(next, 5));
}
const say = (message: ServerMessage) => sockets.at(-1)!.send(JSON.stringify(message));
const piece = () => new ArrayBuffer(PIECE_HEAD_BYTES + 10);
const pieces = () => heard.flatMap((each) => ('piece' in each ? [each.piece] : []));

async function begin(stretch: number): Promise<void> {
  await until(() => sockets.at(-1)?.readyState === WebSocket.OPEN);
  await new Promise((next) => setTimeout(next, 20));
  uplink.startSending();
  await until(() => heard.some((each) => 'type' in each && each.type === 'newStretch'));
  const before = recorders;
  say({ type: 'stretch', stretch, nextPiece: 0 });
  await until(() => recorders === before + 1);
}

test('pieces are numbered from the beginning of their stretch', async () => {
  await begin(4);
  for (let at = 0; at < 3; at++) uplink.send(piece());
  await until(() => pieces().length === 3);
  expect(pieces()).toEqual([
    [4, 0],
    [4, 1],
    [4, 2],
  ]);
});

test('after a broken connection the stretch goes on, and only what the server lacks is sent again', async () => {
  await begin(1);
  for (let at = 0; at < 4; at++) uplink.send(piece());
  await until(() => pieces().length === 4);
  say({ type: 'kept', stretch: 1, upTo: 2 });
  await new Promise((next) => setTimeout(next, 20));
  sockets[0]!.terminate();
  await new Promise((next) => setTimeout(next, 50));
  uplink.send(piece()); // made while nobody listens
  await until(() => heard.some((each) => 'type' in each && each.type === 'continueStretch' && each.stretch === 1));
  heard = [];
  say({ type: 'stretch', stretch: 1, nextPiece: 3 });
  await until(() => pieces().length === 2);
  expect(pieces()).toEqual([
    [1, 3],
    [1, 4],
  ]);
  expect(recorders).toBe(1);
});

test('a server that has lost the stretch gets a new one, with a recorder of its own', async () => {
  await begin(1);
  uplink.send(piece());
  sockets[0]!.terminate();
  await until(() => heard.some((each) => 'type' in each && each.type === 'continueStretch'));
  say({ type: 'stretch', stretch: 2, nextPiece: 0 });
  await until(() => recorders === 2);
  heard = [];
  uplink.send(piece());
  await until(() => pieces().length === 1);
  expect(pieces()).toEqual([[2, 0]]);
});

test('nothing is sent before a stretch is open, nor after sending has stopped', async () => {
  uplink.send(piece());
  await begin(7);
  uplink.stopSending();
  uplink.send(piece());
  await new Promise((next) => setTimeout(next, 50));
  expect(pieces()).toEqual([]);
});

test('a line on which nothing is heard for three seconds is taken for broken, and made anew', async () => {
  await until(() => lines.at(-1) === true);
  await new Promise((next) => setTimeout(next, 3_600));
  expect(lines).toEqual([true]); // it was heard all the while
  speaks = false;
  await until(() => lines.includes(false));
  // A socket that opens is not yet a line on which anything is heard.
  await until(() => sockets.length === 3);
  expect(lines).toEqual([true, false, false]);
  speaks = true;
  await until(() => lines.at(-1) === true);
});

const takes = () => heard.flatMap((each) => ('type' in each && each.type === 'command' && each.does === 'take' ? [[each.number, each.scene]] : []));

test('a take that was said into a silent line is said again on the next, until it is acknowledged', async () => {
  await until(() => lines.at(-1) === true);
  speaks = false;
  uplink.command({ does: 'take', scene: 'host' });
  await until(() => takes().length === 1);
  sockets[0]!.terminate();
  speaks = true;
  await until(() => takes().length === 2);
  expect(takes()).toEqual([
    [1, 'host'],
    [1, 'host'],
  ]);
  expect(uplink.allDone).toBe(false);
  say({ type: 'done', upTo: 1 });
  await until(() => uplink.allDone);
  sockets[1]!.terminate();
  await until(() => sockets.length === 3 && lines.at(-1) === true);
  await new Promise((next) => setTimeout(next, 50));
  expect(takes()).toHaveLength(2);
});

test('what was pressed while the line was broken is said in its order when it is back', async () => {
  await until(() => lines.at(-1) === true);
  sockets[0]!.terminate();
  await until(() => lines.at(-1) === false);
  uplink.command({ does: 'take', scene: 'host' });
  uplink.command({ does: 'break', backAt: null });
  await until(() => heard.filter((each) => 'type' in each && each.type === 'command').length === 2);
  expect(heard.filter((each) => 'type' in each && each.type === 'command')).toEqual([
    { type: 'command', number: 1, does: 'take', scene: 'host' },
    { type: 'command', number: 2, does: 'break', backAt: null },
  ]);
});

test('a session that was ended is told apart from a line that broke: nothing is tried before somebody signs in again', async () => {
  await until(() => lines.at(-1) === true);
  sockets[0]!.close(4401);
  await until(() => signedOut === 1);
  await new Promise((next) => setTimeout(next, 800));
  expect(sockets).toHaveLength(1);
  uplink.tryNow();
  await until(() => sockets.length === 2);
});

test('a recorder that is begun anew loses nothing: its pieces are kept until its own stretch is open, and go first', async () => {
  await begin(1);
  uplink.send(piece());
  await until(() => pieces().length === 1);
  const before = recorders;
  heard = [];
  uplink.beginAnew();
  uplink.send(piece());
  uplink.send(piece());
  await until(() => heard.some((each) => 'type' in each && each.type === 'newStretch'));
  expect(pieces()).toEqual([]);
  // What was still on its way for the one before confirms none of these.
  say({ type: 'kept', stretch: 1, upTo: 1 });
  say({ type: 'stretch', stretch: 2, nextPiece: 0 });
  await until(() => pieces().length === 2);
  uplink.send(piece());
  await until(() => pieces().length === 3);
  expect(pieces()).toEqual([
    [2, 0],
    [2, 1],
    [2, 2],
  ]);
  expect(recorders).toBe(before);
});

test('a line that breaks while a stretch is asked for is asked again, with all that was made since', async () => {
  await begin(1);
  uplink.beginAnew();
  uplink.send(piece());
  sockets[0]!.terminate();
  heard = [];
  uplink.send(piece());
  await until(() => heard.some((each) => 'type' in each && each.type === 'newStretch'));
  say({ type: 'stretch', stretch: 7, nextPiece: 0 });
  await until(() => pieces().length === 2);
  expect(pieces()).toEqual([
    [7, 0],
    [7, 1],
  ]);
});

test('what the server confirms is counted, and what it has not yet is waited for', async () => {
  await begin(1);
  uplink.confirmedLately();
  for (let at = 0; at < 4; at++) uplink.send(piece());
  await until(() => pieces().length === 4);
  await new Promise((next) => setTimeout(next, 60));
  say({ type: 'kept', stretch: 1, upTo: 3 });
  await new Promise((next) => setTimeout(next, 40));
  const { confirmedKbps, waitsMs } = uplink.confirmedLately()!;
  expect(confirmedKbps).toBeGreaterThan(0);
  expect(waitsMs).toBeGreaterThan(80);
  say({ type: 'kept', stretch: 1, upTo: 4 });
  await new Promise((next) => setTimeout(next, 40));
  expect(uplink.confirmedLately()!.waitsMs).toBe(0);
  uplink.beginAnew();
  expect(uplink.confirmedLately()).toBeNull();
});

test('a page that stood still itself takes no line for silent before it has read what came meanwhile', async () => {
  await until(() => lines.length === 1);
  const until4s = performance.now() + 4_000;
  while (performance.now() < until4s);
  await new Promise((next) => setTimeout(next, 1_200));
  expect([lines, sockets.length]).toEqual([[true], 1]);
});

test('a stretch that was asked for into a line on which nothing passed is asked for again, and what was made since goes first', async () => {
  await begin(1);
  uplink.beginAnew();
  uplink.send(piece());
  await until(() => heard.filter((each) => 'type' in each && each.type === 'newStretch').length === 2);
  // Heard by nobody.
  heard = [];
  await until(() => heard.some((each) => 'type' in each && each.type === 'newStretch'));
  say({ type: 'stretch', stretch: 2, nextPiece: 0 });
  await until(() => pieces().length === 1);
  expect(pieces()).toEqual([[2, 0]]);
  // And not once it is open.
  heard = [];
  await new Promise((next) => setTimeout(next, 4_800));
  expect(heard.filter((each) => 'type' in each)).toEqual([]);
}, 20_000);

const PIECE = PIECE_HEAD_BYTES + 10;
const kept = (from: number, to: number, stretch: number | 'next') =>
  Array.from({ length: to - from }, (_, at) => `keep ${stretch} from ${(from + at) * PIECE}: ${PIECE}`);
const withoutSend = () => late.filter((each) => each !== 'send');

/** Breaks the line for good: the address is answered by nobody. */
async function lineGone(): Promise<number> {
  const { port } = server.address() as AddressInfo;
  const closed = new Promise((done) => server.close(done));
  for (const socket of sockets) socket.terminate();
  await closed;
  await until(() => lines.at(-1) === false);
  return port;
}

test('what waits when the line breaks is kept in the browser too, and forgotten there once the server has it', async () => {
  await begin(3);
  for (let at = 0; at < 3; at++) uplink.send(piece());
  await until(() => pieces().length === 3);
  say({ type: 'kept', stretch: 3, upTo: 1 });
  await new Promise((next) => setTimeout(next, 20));
  sockets[0]!.terminate();
  await until(() => lines.at(-1) === false);
  uplink.send(piece());
  expect(withoutSend()).toEqual(kept(1, 4, 3));
  await until(() => heard.some((each) => 'type' in each && each.type === 'continueStretch'));
  say({ type: 'stretch', stretch: 3, nextPiece: 2 });
  await until(() => pieces().some(([, place]) => place === 3));
  // The line is back: what is made from now on need not be kept.
  uplink.send(piece());
  say({ type: 'kept', stretch: 3, upTo: 3 });
  await new Promise((next) => setTimeout(next, 20));
  expect(withoutSend()).toHaveLength(3);
  say({ type: 'kept', stretch: 3, upTo: 4 });
  await until(() => late.includes('drop 3'));
  expect(late).toContain('send');
});

test('after a break that is too long the recorder goes on into the store alone, until another begins', async () => {
  await begin(3);
  await lineGone();
  for (let at = 0; at < 245; at++) uplink.send(piece());
  expect(withoutSend()).toEqual(kept(0, 245, 3));
});

test('a recorder that began while nobody heard is named once the line is back, and another stretch is asked for', async () => {
  await begin(3);
  uplink.send(piece());
  await until(() => pieces().length === 1);
  say({ type: 'kept', stretch: 3, upTo: 1 });
  await new Promise((next) => setTimeout(next, 20));
  sockets[0]!.terminate();
  uplink.beginAnew();
  for (let at = 0; at < 245; at++) uplink.send(piece());
  heard = [];
  await until(() => heard.some((each) => 'type' in each && each.type === 'newStretch'));
  say({ type: 'stretch', stretch: 4, nextPiece: 0 });
  await until(() => late.includes('name 4'));
  uplink.send(piece());
  await until(() => heard.filter((each) => 'type' in each && each.type === 'newStretch').length === 2);
  expect(recorders).toBe(1);
  say({ type: 'stretch', stretch: 5, nextPiece: 0 });
  await until(() => recorders === 2);
  expect(withoutSend()).toEqual([...kept(0, 245, 'next'), 'name 4', ...kept(245, 246, 4), 'end 4']);
});

test('a recorder that is begun anew on a slow line leaves what waits to be sent later', async () => {
  await begin(3);
  for (let at = 0; at < 2; at++) uplink.send(piece());
  uplink.beginAnew();
  expect(withoutSend()).toEqual([...kept(0, 2, 3), 'end 3']);
  await until(() => heard.filter((each) => 'type' in each && each.type === 'newStretch').length === 2);
  uplink.send(piece());
  say({ type: 'stretch', stretch: 4, nextPiece: 0 });
  await until(() => pieces().some(([stretch]) => stretch === 4));
});
