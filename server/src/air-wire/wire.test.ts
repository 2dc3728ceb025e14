// The wire between the two processes, over real sockets.
import { mkdtempSync, rmSync } from 'node:fs';
import { connect, createServer, type Server, type Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { CarriedState, CarryOrder, checkedAs } from './messages';
import { Wire, WireTrouble, type Hear } from './wire';

const folder = mkdtempSync(join(tmpdir(), 'lantern-wire-'));
const path = join(folder, 'air.sock');
let server: Server;
let far: Socket | null = null;
let heard: [string, unknown][] = [];
let answers: Hear = () => null;
let here = { gone: 0 };
let wire: Wire;

async function until(condition: () => boolean): Promise<void> {
  while (!condition()) await new Promise((next) => setTimeout(next, 5));
}

beforeEach(async () => {
  heard = [];
  const own = { gone: 0 };
  here = own;
  far = null;
  answers = () => null;
  server = createServer((socket) => {
    far = socket;
    new Wire(
      socket,
      (name, body) => {
        heard.push([name, body]);
        return answers(name, body);
      },
      () => undefined,
    );
  });
  await new Promise<void>((done) => server.listen(path, done));
  const socket = connect(path);
  await new Promise((done) => socket.once('connect', done));
  await until(() => far !== null);
  wire = new Wire(
    socket,
    () => null,
    () => void own.gone++,
  );
});
afterEach(async () => {
  wire.close();
  far?.destroy();
  await new Promise((done) => server.close(done));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

test('questions are answered each with its own answer, in whatever order', async () => {
  answers = async (_, body) => {
    const { after } = body as { after: number };
    await new Promise((next) => setTimeout(next, after));
    return { after };
  };
  const [slow, quick] = [wire.ask('wait', { after: 60 }), wire.ask('wait', { after: 1 })];
  expect(await Promise.race([slow, quick])).toEqual({ after: 1 });
  expect(await slow).toEqual({ after: 60 });
  wire.tell('by the way', { it: 'is so' });
  await until(() => heard.length === 3);
  expect(heard[2]).toEqual(['by the way', { it: 'is so' }]);
});

test('a refusal is told in its words, silence is told as such, and neither ends the connection', async () => {
  answers = (name) => {
    if (name === 'refuse') throw new Error('not at this hour');
    return name === 'silence' ? new Promise(() => undefined) : 'here';
  };
  await expect(wire.ask('refuse', {})).rejects.toThrow('not at this hour');
  await expect(wire.ask('silence', {}, 40)).rejects.toThrow('gave no answer to “silence”');
  expect(await wire.ask('hello', {})).toBe('here');
});

test('whoever waits when the other side is gone is told at once', async () => {
  answers = () => new Promise(() => undefined);
  const waiting = wire.ask('anything', {});
  await until(() => heard.length === 1);
  far!.destroy();
  await expect(waiting).rejects.toBeInstanceOf(WireTrouble);
  await expect(wire.ask('more', {})).rejects.toThrow('is gone');
  await until(() => here.gone === 1);
});

test.each(['not a line of ours\n', '{"tell":', `"${'x'.repeat(1_100_000)}`])(
  'what is no message of ours ends the connection, and nothing else: %#',
  async (bytes) => {
    const stranger = connect(path);
    stranger.on('error', () => undefined).resume();
    stranger.write(bytes.endsWith('\n') || bytes.length > 1_000 ? bytes : `${bytes}\n`);
    await new Promise((done) => stranger.once('close', done));
    expect(await wire.ask('hello', {})).toBeNull();
  },
);

test('a message is read as what it has to be, and refused by its field alone', () => {
  const order = {
    showId: '6f1f3c54-0d0e-4a1a-9df7-0f6f7e7b0c11',
    stationId: 's',
    base: 'stage',
    slug: 'dusk_report-1',
    open: true,
    onAirSince: 1,
    recordedMs: 0,
    scene: 'host',
    chosen: 'stage',
  };
  const whole = {
    ...order,
    backAt: null,
    cardPath: null,
    musicPath: null,
    holder: { personId: 'p', name: 'Maren Tolliver', tab: null },
    airingIds: [],
    farEnd: false,
  };
  expect(checkedAs(CarryOrder, { ...whole, more: 'than agreed' })).toEqual(whole);
  expect(() => checkedAs(CarryOrder, { ...whole, slug: '../elsewhere' })).toThrow('“slug” is not as agreed');
  expect(() => checkedAs(CarryOrder, { ...whole, chosen: 'line:anything' })).toThrow('“chosen”');
  expect(() => checkedAs(CarriedState, null)).toThrow('is not as agreed');
});
