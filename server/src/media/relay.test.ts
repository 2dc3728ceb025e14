// The relay against real sockets: what it says when an ingest is not there, hangs up, or takes the bytes.
import ffmpegPackage from '@ffmpeg-installer/ffmpeg';
import { FlvReader, instant, OutsideMeasure, ProgrammeInput, type FlvTag, type OutsideFacts, type RelayState } from '@lantern/core';
import { readEncoder } from '@lantern/rtmp';
import { execFile } from 'node:child_process';
import { createServer, type AddressInfo, type Server, type Socket } from 'node:net';
import { promisify } from 'node:util';
import { NetworkSilence, type IngestLine } from '../channels/connectors/connector';
import { IngestTunnel, Unreachable } from './ingest-tunnel';
import { Programme } from './programme';
import { Relay } from './relay';

const servers: Server[] = [];
const relays: Relay[] = [];

afterEach(async () => {
  await Promise.all(relays.splice(0).map((relay) => relay.stop()));
  for (const server of servers.splice(0)) server.close();
});

async function listen(onSocket: (socket: Socket) => void): Promise<string> {
  const server = createServer(onSocket);
  servers.push(server);
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  return `rtmp://127.0.0.1:${(server.address() as AddressInfo).port}/app`;
}

async function until(condition: () => boolean): Promise<void> {
  for (let tries = 0; tries < 1_000 && !condition(); tries++) await new Promise((next) => setTimeout(next, 10));
  if (!condition()) throw new Error('it never came to that');
}

function relayTo(line: () => Promise<IngestLine>): { relay: Relay; states: RelayState[] } {
  const states: RelayState[] = [];
  const relay: Relay = new Relay({
    name: 'test',
    ffmpeg: ffmpegPackage.path,
    programme: new Programme(() => 0),
    privateTargets: true,
    line,
    wordsOf: (error) => `in words: ${(error as Error).message}`,
    now: () => instant(Date.now()),
    onChange: () => states.push(relay.state),
  });
  relays.push(relay);
  return { relay, states };
}

test.each(['rtmp://127.0.0.1:70000/app', 'rtmp://256.256.256.256/app', 'rtmp://[1::2::3]/app', 'nonsense'])(
  'an address that nobody can read, %s, is a failed try and nothing worse',
  async (address) => {
    const { relay, states } = relayTo(() => Promise.resolve({ address, backupAddress: null, key: 'k' }));
    relay.start();
    await until(() => states.some(({ state }) => state === 'waiting'));
    expect(relay.state.said).toBe('its address cannot be read');
    await relay.stop();
  },
);

test('where private networks are not sent to, a name that leads into one is not connected to', async () => {
  for (const host of ['127.0.0.1', 'localhost', '[::1]', '10.0.0.7', '[fd00::1]', '169.254.169.254']) {
    await expect(IngestTunnel.open(`rtmp://${host}:1935/app`, false)).rejects.toThrow('private network');
  }
});

describe('the tunnel', () => {
  test('carries bytes both ways and ends with either end', async () => {
    let far: Socket | null = null;
    const address = await listen((socket) => {
      far = socket;
      socket.on('data', (bytes) => socket.write(`heard ${String(bytes)}`));
    });
    const tunnel = await IngestTunnel.open(address, true);
    expect(tunnel.nearAddress).toMatch(/^rtmp:\/\/127\.0\.0\.1:\d+\/app$/);
    const { connect } = await import('node:net');
    const near = connect(Number(new URL(tunnel.nearAddress.replace('rtmp', 'http')).port), '127.0.0.1');
    near.write('hello');
    expect(String(await new Promise((heard) => near.once('data', heard)))).toBe('heard hello');
    const gone = new Promise((closed) => near.once('close', closed));
    far!.destroy();
    await gone;
    tunnel.close();
  });

  test('says why an ingest cannot be reached', async () => {
    const address = await listen((socket) => {
      socket.on('error', () => undefined);
      socket.write('this is not a handshake', () => socket.destroy());
    });
    const port = Number(new URL(address.replace('rtmp', 'http')).port);
    await expect(IngestTunnel.open(`rtmps://127.0.0.1:${port}/app`, true)).rejects.toThrow(Unreachable);
    await expect(IngestTunnel.open(`rtmps://127.0.0.1:${port}/app`, true)).rejects.toThrow(/secure connection|hung up/);
    const closed = servers.pop()!;
    await new Promise((done) => closed.close(done));
    await expect(IngestTunnel.open(address, true)).rejects.toThrow('nobody answers at its address');
  });
});

test('a far end that is not there is tried again, with growing waits, until the relay is stopped', async () => {
  let asked = 0;
  const address = await listen(() => undefined);
  await new Promise((done) => servers.pop()!.close(done));
  const { relay, states } = relayTo(async () => {
    asked++;
    return { address, backupAddress: null, key: 'k' };
  });
  relay.start();
  relay.start(); // a second call changes nothing
  await until(() => asked === 3);
  const waits = states.filter(({ state }) => state === 'waiting');
  expect(waits.length).toBeGreaterThanOrEqual(2);
  expect(new Set(waits.map(({ said }) => said))).toEqual(new Set(['nobody answers at its address']));
  expect(waits.every(({ nextTryAt }) => nextTryAt !== null && nextTryAt > 0)).toBe(true);
  await relay.stop();
  expect(relay.state.state).toBe('idle');
  const before = asked;
  await new Promise((pause) => setTimeout(pause, 1_500));
  expect(asked).toBe(before);
});

test('a network that does not give a line is told of in words, and asked again', async () => {
  let asked = 0;
  const address = await listen(() => undefined);
  const { relay, states } = relayTo(async () => {
    asked++;
    if (asked === 1) throw new NetworkSilence('it is busy');
    return { address, backupAddress: null, key: 'k' };
  });
  relay.start();
  await until(() => asked === 2);
  expect(states.find(({ state }) => state === 'waiting')!.said).toBe('in words: it is busy');
});

test('stopped and begun anew while it still asks for its line, it connects once, and by the newer answer', async () => {
  const [old, anew] = [[] as Socket[], [] as Socket[]];
  const [oldAddress, newAddress] = [await listen((socket) => old.push(socket)), await listen((socket) => anew.push(socket))];
  const answers: ((line: IngestLine) => void)[] = [];
  const { relay } = relayTo(() => new Promise((answer) => answers.push(answer)));
  relay.start();
  await relay.stop();
  relay.start();
  answers[1]!({ address: newAddress, backupAddress: null, key: 'new' });
  await until(() => anew.length > 0);
  answers[0]!({ address: oldAddress, backupAddress: null, key: 'old' });
  await new Promise((pause) => setTimeout(pause, 300));
  // A tunnel that was opened for nothing is closed again.
  expect(old.every(({ readyState }) => readyState !== 'open')).toBe(true);
  expect(anew).toHaveLength(1);
});

describe('a channel that takes less than goes out', () => {
  const TAKES = { maxHeight: 1080, maxKbps: 600 };
  const picture = ['-f', 'lavfi', '-i', 'testsrc2=size=1280x720:rate=30', '-f', 'lavfi', '-i', 'sine=frequency=440', '-t', '8'];
  const coding = [
    '-c:v',
    'libx264',
    '-preset',
    'ultrafast',
    '-b:v',
    '2500k',
    '-g',
    '30',
    '-bf',
    '0',
    '-pix_fmt',
    'yuv420p',
    '-c:a',
    'aac',
    '-f',
    'flv',
    'pipe:1',
  ];
  let tags: FlvTag[];
  beforeAll(async () => {
    const { stdout } = await promisify(execFile)(ffmpegPackage.path, ['-loglevel', 'error', ...picture, ...coding], {
      encoding: 'buffer',
      maxBuffer: 20_000_000,
    });
    tags = new FlvReader().push(stdout);
  });

  /** Sends those eight seconds twice as fast, to an ingest that measures what comes. */
  async function sent(room: boolean): Promise<{ facts: OutsideFacts; rendition: RelayState['rendition'] }> {
    const measure = new OutsideMeasure();
    const address = await listen((socket) =>
      readEncoder(socket, {
        admit: () => Promise.resolve(null),
        begins: () => undefined,
        packet: ({ kind, timeMs, data }) => kind !== 'script' && measure.note({ kind, timestampMs: timeMs, data }, timeMs),
        gone: () => undefined,
      }),
    );
    let elapsed = 0;
    const programme = new Programme(() => elapsed);
    const relay: Relay = new Relay({
      ...{ name: 'test', ffmpeg: ffmpegPackage.path, programme, privateTargets: true },
      line: () => Promise.resolve({ address, key: 'k', takes: TAKES }),
      goesOut: () => ({ height: 720, kbps: 2_500 }),
      room: () => room,
      wordsOf: String,
      now: () => instant(Date.now()),
      onChange: () => undefined,
    });
    relays.push(relay);
    const input = new ProgrammeInput('stage');
    programme.select(input);
    relay.start();
    await until(() => relay.state.state !== 'idle');
    await new Promise((next) => setTimeout(next, 300));
    const began = Date.now();
    for (const tag of tags) {
      const wait = tag.timestampMs / 2 - (Date.now() - began);
      if (wait > 20) await new Promise((next) => setTimeout(next, wait));
      elapsed = tag.timestampMs;
      programme.feed(input, tag);
    }
    await until(() => measure.facts.height !== null && measure.facts.kbps !== null);
    const { rendition } = relay.state;
    await relay.stop();
    return { facts: measure.facts, rendition };
  }

  test('gets it made smaller, with its sound, and the host is told what that is', async () => {
    const { facts, rendition } = await sent(true);
    expect(rendition).toMatchObject({ height: 360, kbps: 510 });
    expect(facts).toMatchObject({ video: 'H.264', audio: 'AAC', height: 360 });
    expect(facts.kbps!).toBeLessThan(900);
  }, 60_000);

  test('gets it as it is where the machine has no room, which is said', async () => {
    const { facts, rendition } = await sent(false);
    expect(facts).toMatchObject({ height: 720 });
    expect(rendition).toBe('no room');
  }, 60_000);
});
