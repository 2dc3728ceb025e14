// Connections as encoders and strangers make them: bytes on a real socket.
import { connect, createServer, type AddressInfo, type Server, type Socket } from 'node:net';
import { readEncoder } from './index';

let server: Server;
let port = 0;
let asked: string[];
let gone: number;

beforeEach(async () => {
  asked = [];
  gone = 0;
  server = createServer((socket) =>
    readEncoder(socket, {
      admit: async (app, key) => {
        asked.push(`${app}/${key}`);
        return 'This key is not known here.';
      },
      begins: () => undefined,
      packet: () => undefined,
      gone: () => void gone++,
    }),
  );
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  port = (server.address() as AddressInfo).port;
});
afterEach(() => new Promise((done) => server.close(done)));

async function stranger(): Promise<Socket> {
  const socket = connect(port, '127.0.0.1');
  socket.on('error', () => undefined).resume();
  await new Promise((done) => socket.once('connect', done));
  return socket;
}
const ended = (socket: Socket) => new Promise<void>((done) => (socket.destroyed ? done() : socket.once('close', () => done())));
async function until(condition: () => boolean): Promise<void> {
  while (!condition()) await new Promise((next) => setTimeout(next, 5));
}
/** The handshake of RTMP (5.2): version, then 1,536 bytes, twice. */
const handshake = Buffer.concat([Buffer.of(3), Buffer.alloc(1_536), Buffer.alloc(1_536)]);
/** The head of a chunk that announces a message of `length` bytes on a chunk stream (5.3.1). */
function announcing(stream: number, length: number): Buffer {
  const head = Buffer.alloc(12);
  head[0] = stream;
  head.writeUIntBE(length, 4, 3);
  head[7] = 20;
  return head;
}

test('a message that announces more than there is room for is hung up on, before any room is made', async () => {
  const socket = await stranger();
  const before = process.memoryUsage().arrayBuffers;
  socket.write(Buffer.concat([handshake, announcing(3, 0xffffff), Buffer.of(1)]));
  await ended(socket);
  expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(8_000_000);
  await until(() => gone === 1);
  expect(asked).toEqual([]);
});

test('many messages begun at once and never ended hold no memory', async () => {
  const socket = await stranger();
  const begun = Array.from({ length: 60 }, (_, at) => Buffer.concat([announcing(3 + at, 60_000), Buffer.alloc(128)]));
  socket.write(Buffer.concat([handshake, ...begun]));
  await ended(socket);
  await until(() => gone === 1);
});

test('whatever bytes come, the next one is still let in', async () => {
  let state = 7;
  for (let round = 0; round < 40; round++) {
    const socket = await stranger();
    const noise = Buffer.from(Array.from({ length: 4_000 }, () => (state = (state * 48_271) % 2_147_483_647) & 255));
    socket.end(round % 2 ? Buffer.concat([handshake, noise]) : noise);
    await ended(socket);
  }
  await until(() => gone === 40);
  expect(asked).toEqual([]);
});
