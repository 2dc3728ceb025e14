// The own sound of a guest: agreed to, sent piece by piece, laid beside the recording, and taken back.
import {
  GUEST_PASS_HEADER,
  ownSoundPath,
  UPLOAD_OFFSET,
  type DoorView,
  type GuestPassLink,
  type GuestView,
  type OwnSoundView,
  type ShowView,
} from '@lantern/contract';
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Bus } from '../foundation/bus';
import { Clock } from '../foundation/clock';
import { SETTINGS, type Settings } from '../foundation/settings';
import { JobsService } from '../jobs/jobs.service';
import { recordingFolder } from '../media/stretch';
import { RecordingRows } from '../recording/recording-rows';
import { Show } from '../shows/show.entities';
import { speech as spoken } from '../test/speech';
import { TestStation } from '../test/station';

const RATE = 48_000;
let station: TestStation;
let settings: Settings;
let show: ShowView;
let began: number;

beforeAll(async () => {
  station = await TestStation.open();
  settings = station.app.get<Settings>(SETTINGS);
});
afterAll(() => station.close());
beforeEach(async () => {
  show = await onAir({ ownSounds: true });
});

async function onAir(change: object): Promise<ShowView> {
  const made = (await station.as(station.http().post('/api/shows')).send(station.draft([], change)).expect(201)).body as ShowView;
  began = station.app.get(Clock).now() - 60_000;
  await station.database.getRepository(Show).update({ id: made.id }, { state: 'onAir', onAirSince: began });
  return made;
}
async function guest(name = 'Dr Oriel Vance', of = show, more = {}): Promise<{ id: string; pass: string }> {
  const all = (await station.as(station.http().post(`/api/shows/${of.id}/guests`)).send({ name, ...more })).body as GuestView[];
  const { id } = all.find((each) => each.name === name)!;
  const { url } = (await station.as(station.http().post(`/api/shows/${of.id}/guests/${id}/pass`)).send({})).body as GuestPassLink;
  return { id, pass: url.split('#')[1]! };
}
const say = (pass: string, agrees: boolean) => station.http().post('/api/door/own-sound').send({ pass, agrees });
const send = (pass: string, beganAt: number, offset: number, bytes: Buffer, type = 'audio/webm;codecs=opus') =>
  station.http().patch(ownSoundPath(beganAt)).set(GUEST_PASS_HEADER, pass).set(UPLOAD_OFFSET, String(offset)).set('content-type', type).send(bytes);
const sounds = async (of = show) =>
  ((await station.as(station.http().get(`/api/shows/${of.id}/own-sounds`)).expect(200)).body as { sounds: OwnSoundView[] }).sounds;
const folder = () => recordingFolder(settings, show.id);
const kept = (id: string) => (existsSync(folder()) ? readdirSync(folder()).filter((name) => name.includes(id)) : []);

const speech = (seconds: number, seed: number) => spoken(seconds, seed, RATE);
function mixed(seconds: number, ...parts: [Int16Array, number][]): Int16Array {
  const mix = new Int16Array(seconds * RATE);
  for (const [samples, atS] of parts)
    for (let at = 0; at < samples.length; at++) {
      const place = Math.round(atS * RATE) + at;
      if (place < mix.length) mix[place] = mix[place]! + samples[at]!;
    }
  return mix;
}
const encode = (samples: Int16Array, args: string[]): Buffer => {
  const input = Buffer.from(samples.buffer, samples.byteOffset, samples.byteLength);
  return execFileSync(settings.ffmpeg, ['-v', 'error', '-f', 's16le', '-ar', '48000', '-ac', '1', '-i', 'pipe:0', ...args], { input, maxBuffer: 1e9 });
};
const take = (samples: Int16Array): Buffer => encode(samples, ['-c:a', 'libopus', '-b:a', '96k', '-f', 'webm', 'pipe:1']);
const decoded = (path: string): Int16Array => {
  const bytes = execFileSync(settings.ffmpeg, ['-v', 'error', '-i', path, '-f', 's16le', '-ac', '1', '-ar', '48000', 'pipe:1'], { maxBuffer: 1e9 });
  return new Int16Array(bytes.buffer, bytes.byteOffset, bytes.length / 2);
};
const loud = (samples: Int16Array, fromS: number, toS: number): number =>
  Math.sqrt(samples.subarray(fromS * RATE, toS * RATE).reduce((sum, each) => sum + each * each, 0) / ((toS - fromS) * RATE));
/** By how many seconds `what` is best heard later than `fromS`, of those up to a quarter second. */
function laterBy(samples: Int16Array, what: Int16Array, fromS: number): number {
  let [best, at] = [-Infinity, 0];
  for (let lag = -12_000; lag <= 12_000; lag += 24) {
    let both = 0;
    for (let n = 0; n < what.length; n += 24) both += Math.abs(what[n]!) * Math.abs(samples[Math.round(fromS * RATE) + lag + n] ?? 0);
    if (both > best) [best, at] = [both, lag / RATE];
  }
  return at;
}
async function over(samples: Int16Array): Promise<void> {
  const lengthMs = (samples.length / RATE) * 1_000;
  mkdirSync(folder(), { recursive: true });
  encode(samples, ['-y', '-c:a', 'aac', '-b:a', '160k', '-f', 'mp4', join(folder(), 'recording.mp4')]);
  await station.database.getRepository(Show).update({ id: show.id }, { state: 'over', endedAt: station.app.get(Clock).now() });
  await station.app.get(RecordingRows).become(show.id, { state: 'ready', lengthMs, parts: [{ fromMs: 0, atMs: 0, lengthMs }] });
}

test('nothing is taken of a guest who has not agreed, for a show that does not want it, or of a moment at which it was not on', async () => {
  const { id, pass } = await guest();
  expect(((await station.http().post('/api/door').send({ pass })).body as DoorView).ownSound).toEqual({ wanted: true, said: 'unasked', kept: false });
  await send(pass, began, 0, Buffer.from('abc')).expect(403);
  expect(((await say(pass, true).expect(200)).body as DoorView).ownSound.said).toBe('agreed');
  await send(pass, began - 600_000, 0, Buffer.from('abc')).expect(422);
  await send(pass, began, 0, Buffer.from('abc'), 'video/x-flv').expect(415);
  await send('no pass at all but long enough', began, 0, Buffer.from('abc')).expect(404);
  await station.http().patch(ownSoundPath(began)).set(UPLOAD_OFFSET, '0').send(Buffer.from('abc')).expect(401);
  expect(kept(id)).toEqual([]);
  const another = await onAir({ title: 'Another evening' });
  const there = await guest('Tomasz Wren', another);
  await say(there.pass, true).expect(409);
  await send(there.pass, began, 0, Buffer.from('abc')).expect(403);
  const list = (await station.as(station.http().get(`/api/shows/${show.id}/guests`))).body as GuestView[];
  expect(list.map(({ ownSound }) => ownSound)).toEqual(['agreed']);
});

test('a piece that is sent twice, or does not join on, does no harm: what is there is told', async () => {
  const { pass } = await guest();
  await say(pass, true);
  const path = ownSoundPath(began + 1_000);
  const there = () => station.http().head(path).set(GUEST_PASS_HEADER, pass);
  await there().expect(404);
  expect((await send(pass, began + 1_000, 0, Buffer.from('one ')).expect(204)).headers[UPLOAD_OFFSET]).toBe('4');
  await send(pass, began + 1_000, 0, Buffer.from('one ')).expect(409);
  expect((await there().expect(204)).headers[UPLOAD_OFFSET]).toBe('4');
  await Promise.all([send(pass, began + 1_000, 4, Buffer.from('two')), send(pass, began + 1_000, 4, Buffer.from('two'))]);
  expect((await there()).headers[UPLOAD_OFFSET]).toBe('7');
  await send(pass, began + 1_000, 7, Buffer.alloc(1_000_001)).expect(413);
  expect((await there()).headers[UPLOAD_OFFSET]).toBe('7');
});

test('what they took back is gone, and nothing comes in behind that', async () => {
  const { id, pass } = await guest();
  await say(pass, true);
  await send(pass, began, 0, Buffer.from('abc')).expect(204);
  expect(await sounds()).toEqual([expect.objectContaining({ name: 'Dr Oriel Vance', state: 'waits', receivedBytes: 3 })]);
  expect(((await station.http().post('/api/door').send({ pass })).body as DoorView).ownSound.kept).toBe(true);
  const [, late] = await Promise.all([say(pass, false).expect(200), send(pass, began, 3, Buffer.from('def'))]);
  expect([204, 403, 409]).toContain(late.status);
  expect(kept(id)).toEqual([]);
  expect(await sounds()).toEqual([]);
  await send(pass, began, 0, Buffer.from('abc')).expect(403);
});

test('what a server that was killed had not removed of what somebody took back goes as the next one starts, and is handed to nobody before', async () => {
  const { id, pass } = await guest();
  await say(pass, true);
  await send(pass, began, 0, Buffer.from('abc')).expect(204);
  await station.database.query(`UPDATE guests SET ownSound = 'removing' WHERE id = ?`, [id]);
  expect(await sounds()).toEqual([]);
  const { folder: data } = station;
  await station.close(true);
  station = await TestStation.open(data);
  settings = station.app.get<Settings>(SETTINGS);
  for (let tries = 0; tries < 100 && kept(id).length; tries++) await new Promise((next) => setTimeout(next, 20));
  expect([kept(id), ((await station.http().post('/api/door').send({ pass })).body as DoorView).ownSound.said]).toEqual([[], 'refused']);
});

test('takes are laid beside the recording where they are heard in it, and all between is silent', async () => {
  const { id, pass } = await guest();
  await say(pass, true);
  const [first, second] = [speech(25, 1), speech(12, 2)];
  // In the recording they are heard 0.34 s later than they were taken by the clocks; the host speaks too.
  await over(mixed(70, [first, 5.34], [second, 45.34], [speech(70, 3), 0]));
  for (const [samples, atS] of [
    [first, 5],
    [second, 45],
  ] as const) {
    const bytes = take(samples);
    for (let at = 0; at < bytes.length; at += 100_000) await send(pass, began + atS * 1_000, at, bytes.subarray(at, at + 100_000)).expect(204);
  }
  // A server that was killed in the middle left half of it.
  writeFileSync(join(folder(), `own-${id}.killed.half`), 'half');
  expect(await sounds()).toEqual([expect.objectContaining({ state: 'making', url: null })]);
  station.travelTo(station.app.get(Clock).now() + 30_000);
  await station.app.get(JobsService).settled('own sounds');
  const [made] = await sounds();
  expect(kept(id).filter((name) => name.endsWith('.half'))).toEqual([]);
  expect(made).toMatchObject({ guestId: id, name: 'Dr Oriel Vance', state: 'ready', words: '' });
  const file = await station
    .as(
      station
        .http()
        .get(made!.url!)
        .buffer(true)
        .parse(collect as never),
    )
    .expect(200);
  expect([file.headers['content-type'], (file.body as Buffer).length]).toEqual(['audio/flac', made!.bytes]);
  const path = join(settings.dataDir, 'heard.flac');
  writeFileSync(path, file.body as Buffer);
  const heard = decoded(path);
  expect(heard.length / RATE).toBeCloseTo(70, 1);
  for (const [what, atS] of [
    [first, 5.34],
    [second, 45.34],
  ] as const)
    expect(Math.abs(laterBy(heard, what, atS))).toBeLessThanOrEqual(0.02);
  expect([loud(heard, 0, 5), loud(heard, 31, 45), loud(heard, 58, 70)].map(Math.round)).toEqual([0, 0, 0]);
  expect(loud(heard, 6, 29)).toBeGreaterThan(500);
  await station.http().get(made!.url!).expect(401);
  // Removed by the host, who was asked for it.
  await station.as(station.http().delete(`/api/shows/${show.id}/own-sounds/${id}`)).expect(200);
  expect([await sounds(), kept(id)]).toEqual([[], []]);
});

test('what is no sound is told once, and keeps nobody else’s from being made', async () => {
  const [odd, good] = [await guest('Juno Hartsel'), await guest()];
  for (const { pass } of [odd, good]) await say(pass, true);
  await over(mixed(20, [speech(10, 4), 5]));
  await send(odd.pass, began + 5_000, 0, Buffer.from('#EXTM3U\nfile:///etc/hostname\n'.repeat(50))).expect(204);
  await send(good.pass, began + 5_000, 0, take(speech(10, 4))).expect(204);
  station.travelTo(station.app.get(Clock).now() + 30_000);
  await station.app.get(JobsService).settled('own sounds');
  expect((await sounds()).map(({ name, state }) => [name, state]).sort()).toEqual([
    ['Dr Oriel Vance', 'ready'],
    ['Juno Hartsel', 'failed'],
  ]);
  expect((await sounds()).find(({ state }) => state === 'failed')!.words).toContain('Juno Hartsel');
  const job = await station.app.get(JobsService).find('own sounds', show.id);
  await station.app.get(JobsService).settled('own sounds');
  expect((await station.app.get(JobsService).find('own sounds', show.id))!.tries).toBe(job!.tries);
  // The recording is made anew, with what came late: what can be laid beside it is.
  await over(mixed(30, [speech(10, 4), 15]));
  // What was laid beside the earlier one does not fit.
  expect((await sounds()).map(({ url }) => url)).toEqual([null, null]);
  station.app.get(Bus).tell({ kind: 'recording', showId: show.id });
  for (let tries = 0; tries < 100 && (await sounds()).every(({ url }) => url === null); tries++) await new Promise((next) => setTimeout(next, 50));
  const again = (await sounds()).find(({ state }) => state === 'ready')!;
  expect(decoded(join(folder(), `own-${again.guestId}.flac`)).length / RATE).toBeCloseTo(30, 1);
  await station.app.get(JobsService).settled('own sounds');
  expect((await station.app.get(JobsService).find('own sounds', show.id))!.givenUpAt).not.toBeNull();
});

test('long after the end nothing more is taken, and nothing of a recording that was removed', async () => {
  const { pass } = await guest();
  await say(pass, true);
  await send(pass, began + 1_000, 0, Buffer.from('abc')).expect(204);
  await over(mixed(10, [speech(5, 5), 1]));
  await station.as(station.http().delete(`/api/shows/${show.id}/recording`)).expect(200);
  expect(await sounds()).toEqual([]);
  await send(pass, began + 1_000, 0, Buffer.from('abc')).expect(410);
  await station.app.get(RecordingRows).become(show.id, { state: 'ready' });
  station.travelTo(station.app.get(Clock).now() + 2 * 3_600_000);
  await send(pass, began + 1_000, 0, Buffer.from('abc')).expect(410);
});

const collect = (response: NodeJS.ReadableStream, done: (error: Error | null, body: Buffer) => void) => {
  const all: Buffer[] = [];
  response.on('data', (bytes: Buffer) => all.push(bytes));
  response.on('end', () => done(null, Buffer.concat(all)));
};
