// Outside lines with real encoders against the whole server: who is let in, what is said of what comes, and how it goes out.
import ffmpegPackage from '@ffmpeg-installer/ffmpeg';
import type { AirView, OutsideLineView, ServerMessage, ShowView, StageCommand } from '@lantern/contract';
import { flvTagOf, HOUR_MS, isKeyFrame, isSequenceHeader, type FlvTag } from '@lantern/core';
import { spawn, type ChildProcess } from 'node:child_process';
import { WebSocket } from 'ws';
import { OWNER, TestStation } from '../test/station';

const FFMPEG = process.env.FFMPEG_PATH ?? ffmpegPackage.path;
let station: TestStation;
let moderator = '';
let hall = '';
let line: OutsideLineView;
const encoders: ChildProcess[] = [];

beforeAll(async () => {
  station = await TestStation.open();
  moderator = await station.person('moderator');
  hall = (await as('post', '/api/channels/typed-in').send({ name: 'Hall', address: 'rtmp://127.0.0.1:9/hall', key: 'hall-key-1' }).expect(201)).body.id;
});
afterAll(() => station.close());
beforeEach(async () => {
  station.forgetTries();
  const lines = (
    await as('post', '/api/outside-lines')
      .send({ name: `Hall camera ${Math.random()}` })
      .expect(201)
  ).body as OutsideLineView[];
  line = lines.at(-1)!;
});
afterEach(() => {
  for (const encoder of encoders.splice(0)) encoder.kill('SIGKILL');
});

const as = (method: 'get' | 'post' | 'put' | 'delete', path: string, who = station.cookie) => station.as(station.http()[method](path), who);

async function key(): Promise<string> {
  await as('post', '/api/session/password').send({ password: OWNER.password });
  return (await as('post', `/api/outside-lines/${line.id}/reveal`).send({ purpose: 'show' }).expect(200)).body.key;
}

/** An encoder of `size` that sends for as long as it is let; resolves with what it said at its end. */
function encoder(withKey: string, size = '640x360', app = 'in', codec = 'libx264'): Promise<string> {
  let said = '';
  const source = ['-re', '-f', 'lavfi', '-i', `testsrc=s=${size}:r=30`, '-f', 'lavfi', '-i', 'sine=sample_rate=48000'];
  const made = [
    '-c:v',
    codec,
    ...(codec === 'libx264' ? ['-preset', 'ultrafast', '-tune', 'zerolatency'] : []),
    '-pix_fmt',
    'yuv420p',
    '-g',
    '30',
    '-b:v',
    '600k',
    '-c:a',
    'aac',
    '-t',
    '40',
  ];
  const child = spawn(FFMPEG, ['-v', 'error', ...source, ...made, '-f', 'flv', `rtmp://127.0.0.1:${station.ingestPort}/${app}/${withKey}`]);
  encoders.push(child);
  child.stderr.on('data', (text) => (said += String(text)));
  return new Promise((done) => child.once('close', () => done(said)));
}

async function until<T>(look: () => Promise<T>, is: (found: T) => boolean): Promise<T> {
  let found = await look();
  for (let tries = 0; tries < 400 && !is(found); tries++) {
    await new Promise((next) => setTimeout(next, 50));
    found = await look();
  }
  if (!is(found)) throw new Error(`never so: ${JSON.stringify(found).slice(0, 800)}`);
  return found;
}
const now = async () => ((await as('get', '/api/outside-lines').expect(200)).body as OutsideLineView[]).find(({ id }) => id === line.id)!;

async function onAir(): Promise<{ show: ShowView; air: () => Promise<AirView> }> {
  const [date, time] = new Date(Date.now() + 2 * HOUR_MS).toISOString().split('T') as [string, string];
  const draft = station.draft([hall], { date, time: time.slice(0, 5), zone: 'UTC', pictureFrom: 'outside line', outsideLineId: line.id });
  const show = (await as('post', '/api/shows').send(draft).expect(201)).body as ShowView;
  await as('post', `/api/shows/${show.id}/place`).expect(200);
  await as('post', `/api/shows/${show.id}/air`).send({}).expect(200);
  return { show, air: async () => (await as('get', `/api/shows/${show.id}/air`)).body as AirView };
}

test('a wrong key, a wrong address and one that has been replaced are refused in words; whoever sends by the old one is hung up on', async () => {
  expect(await encoder('made-up')).toContain('This key is not known here');
  const old = await key();
  expect(await encoder(old, '320x180', 'elsewhere')).toContain('This address is not known here');
  const sending = encoder(old);
  await until(now, ({ arrives }) => arrives !== null);
  await as('post', `/api/outside-lines/${line.id}/rotate`).expect(204);
  await sending;
  await until(now, ({ arrives }) => arrives === null);
  expect(await encoder(old)).toContain('This key is not known here');
  expect(await key()).not.toBe(old);
});

test('what comes is told in words, and its key to nobody who may not see keys', async () => {
  void encoder(await key());
  const { arrives } = await until(now, ({ arrives: found }) => (found?.facts.kbps ?? null) !== null);
  expect(arrives).toMatchObject({ normalised: false, facts: { video: 'H.264', audio: 'AAC', width: 640, height: 360, soundRate: 48_000 } });
  expect(arrives!.facts.framesPerSecond).toBeGreaterThan(24);
  await as('post', `/api/outside-lines/${line.id}/reveal`, moderator).send({ purpose: 'show' }).expect(403);
  await as('post', '/api/outside-lines', moderator).send({ name: 'Foyer' }).expect(403);
  expect(JSON.stringify((await as('get', '/api/outside-lines', moderator).expect(200)).body)).not.toContain(await key());
});

test('a show whose picture comes on a line has it, has the card when it falls silent, and has it again', async () => {
  const good = await key();
  void encoder(good);
  await until(now, ({ arrives }) => arrives !== null);
  const { show, air } = await onAir();
  await until(air, ({ source }) => source === `line:${line.id}`);
  await as('delete', `/api/outside-lines/${line.id}`).expect(409);
  encoders.pop()!.kill('SIGKILL');
  expect((await until(air, ({ source }) => source === 'break card')).sourceReason).toBe('silent');
  void encoder(good);
  await until(air, ({ source }) => source === `line:${line.id}`);
  await as('post', `/api/shows/${show.id}/wrap`).expect(200);
});

test('a picture of another shape is made anew, at the size that goes out', async () => {
  void encoder(await key(), '720x576');
  const { arrives } = await until(now, ({ arrives: found }) => (found?.facts.width ?? null) !== null);
  expect(arrives).toMatchObject({ normalised: true, facts: { width: 720, height: 576 } });
  const { show, air } = await onAir();
  await until(air, ({ source }) => source === `line:${line.id}`);
  const programme = station.carrier.show(show.id)!.programme;
  await until(
    async () => programme.pictureSize,
    (size) => size?.width === 1_280 && size.height === 720,
  );
  await as('post', `/api/shows/${show.id}/wrap`).expect(200);
});

test('a line is its station’s own: another station neither sees nor chooses it', async () => {
  const stranger = await station.person('owner', 'elsewhere');
  await as('post', `/api/outside-lines/${line.id}/rotate`, stranger).expect(404);
  expect((await as('get', '/api/outside-lines', stranger).expect(200)).body).toEqual([]);
});

/** Of the last command, whichever tab gave it: a tab that is reloaded counts on. */
let number = 0;

/** A stage of a show: what it is told, and what it is passed of a line. */
async function stage(show: ShowView, tab: string, who = station.cookie, more = '') {
  const socket = new WebSocket(`ws://127.0.0.1:${station.airPort}/api/stage/${show.id}?tab=tab-of-${tab}${more}`, { headers: { cookie: who } });
  const heard: ServerMessage[] = [];
  const tags: FlvTag[] = [];
  socket.on('message', (data, isBinary) => {
    if (isBinary) tags.push(flvTagOf(new Uint8Array(data as Buffer)));
    else heard.push(JSON.parse(String(data)) as ServerMessage);
  });
  await until(
    async () => heard,
    (all) => all.length > 0,
  );
  const air = async () => heard.findLast((message) => message.type === 'air') as Extract<ServerMessage, { type: 'air' }>;
  return { socket, heard, tags, air, press: (what: StageCommand) => socket.send(JSON.stringify({ type: 'command', number: ++number, ...what })) };
}

async function placed(): Promise<ShowView> {
  const [date, time] = new Date(Date.now() + 2 * HOUR_MS).toISOString().split('T') as [string, string];
  const show = (
    await as('post', '/api/shows')
      .send(station.draft([hall], { date, time: time.slice(0, 5), zone: 'UTC' }))
      .expect(201)
  ).body as ShowView;
  await as('post', `/api/shows/${show.id}/place`).expect(200);
  return show;
}

test('a line that stands on a stage is passed on to every stage of the show from its configuration and a key frame on, also after a reload, and to no phone', async () => {
  const show = await placed();
  const host = await stage(show, 'host');
  host.press({ does: 'bring', line: line.id });
  // Nothing comes on it yet.
  await until(
    async () => host.heard,
    (all) => all.some((message) => message.type === 'refused'),
  );
  void encoder(await key());
  await until(now, ({ arrives }) => arrives !== null);
  host.press({ does: 'bring', line: line.id });
  await until(host.air, ({ air }) => air.lineOnStage === line.id);
  const isWhole = async ({ tags }: { tags: FlvTag[] }) => {
    await until(
      async () => tags,
      (all) => all.some(isKeyFrame) && all.some(({ kind, data }) => kind === 'audio' && data[1] === 1),
    );
    const pictures = tags.filter(({ kind }) => kind === 'video');
    expect(pictures.findIndex(isSequenceHeader)).toBe(0);
    expect(isKeyFrame(pictures.find((tag) => !isSequenceHeader(tag))!)).toBe(true);
    expect(tags.filter(({ kind }) => kind === 'audio').findIndex(isSequenceHeader)).toBe(0);
  };
  await isWhole(host);
  // On air it is still there, and after a reload; a phone is told of it and sent nothing.
  await as('post', `/api/shows/${show.id}/air`).send({ tab: 'tab-of-host' }).expect(200);
  const [again, phone] = [await stage(show, 'host'), await stage(show, 'phone', station.cookie, '&sends=no')];
  await isWhole(again);
  expect((await phone.air()).air.lineOnStage).toBe(line.id);
  expect(phone.tags).toEqual([]);
  // Whoever only looks on brings nothing to it.
  const onlooker = await stage(show, 'onlooker', moderator);
  onlooker.press({ does: 'bring', line: null });
  await until(
    async () => onlooker.heard,
    (all) => all.some((message) => message.type === 'refused'),
  );
  again.press({ does: 'bring', line: null });
  await until(again.air, ({ air }) => air.lineOnStage === null);
  const count = again.tags.length;
  await new Promise((next) => setTimeout(next, 500));
  expect(again.tags.length - count).toBeLessThan(3);
  for (const { socket } of [host, again, phone, onlooker]) socket.terminate();
  await as('post', `/api/shows/${show.id}/wrap`).expect(200);
});

test('a line whose picture browsers cannot read is made anew for the stage on which it stands', async () => {
  const show = await placed();
  const host = await stage(show, 'host');
  void encoder(await key(), '640x360', 'in', 'flv1');
  await until(now, ({ arrives }) => arrives?.facts.video === 'H.263');
  host.press({ does: 'bring', line: line.id });
  await until(
    async () => host.tags,
    (all) => all.some(isKeyFrame),
  );
  expect(host.tags.filter(({ kind }) => kind === 'video').every(({ data }) => (data[0]! & 0x0f) === 7)).toBe(true);
  host.socket.terminate();
});
