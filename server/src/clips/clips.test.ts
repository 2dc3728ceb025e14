// Clips as hosts bring them, against the whole server with a real ffmpeg.
import ffmpegPackage from '@ffmpeg-installer/ffmpeg';
import type { ClipView, ShowView } from '@lantern/contract';
import { FlvReader, isKeyFrame, isSequenceHeader, LoudnessMeter, pictureSizeOf } from '@lantern/core';
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { DataSource } from 'typeorm';
import { Clip } from './clip.entities';
import { ClipsService } from './clips.service';
import { TestStation } from '../test/station';

const FFMPEG = process.env.FFMPEG_PATH ?? ffmpegPackage.path;
let station: TestStation;
beforeAll(async () => (station = await TestStation.open()));
afterAll(() => station.close());
beforeEach(() => station.forgetTries());

const as = (method: 'get' | 'post' | 'patch' | 'delete', path: string, who = station.cookie) => station.as(station.http()[method](path), who);

/** Seconds of a tone, as a file of that kind. */
function tone(file: string, seconds = 3, args: string[] = []): Buffer {
  const path = join(station.folder, file);
  const source = ['-f', 'lavfi', '-i', `sine=frequency=440:sample_rate=44100:duration=${seconds}`];
  execFileSync(FFMPEG, ['-y', '-loglevel', 'error', ...source, '-ac', '2', ...args, '-metadata', 'title=Secret name', path]);
  return readFileSync(path);
}
const send = (bytes: Buffer, name = 'Evening tune') =>
  as('post', `/api/clips?name=${encodeURIComponent(name)}`)
    .type('application/octet-stream')
    .send(bytes);

async function settled(): Promise<ClipView[]> {
  for (;;) {
    const { body } = await as('get', '/api/clips').expect(200);
    const clips = body as ClipView[];
    if (clips.every(({ state }) => state !== 'making')) return clips;
    await new Promise((next) => setTimeout(next, 50));
  }
}
async function added(bytes: Buffer, name?: string): Promise<ClipView> {
  await send(bytes, name).expect(201);
  return (await settled())[0]!;
}
const stationId = async () => (await station.database.getRepository(Clip).find({ take: 1 }))[0]!.stationId;
const filesOf = ({ id }: Pick<ClipView, 'id'>) => readdirSync(join(station.folder, 'pictures')).filter((file) => file.startsWith(id));

test.each([
  ['tone.wav', []],
  ['tone.mp3', []],
  ['tone.m4a', []],
  ['tone.ogg', ['-c:a', 'libvorbis']],
  ['tone.flac', []],
])('%s is made as loud as a programme, in the form in which programmes are sent', async (file, args) => {
  const clip = await added(tone(file, 3, args));
  expect(clip).toMatchObject({ name: 'Evening tune', state: 'ready', words: '', usedBy: [] });
  expect(Math.abs(clip.lengthMs - 3_000)).toBeLessThan(200);
  // A tone of an eighth of full scale came at some −22 LUFS; −16 is the usual loudness of a stream.
  expect(Math.abs(clip.cameAt! + clip.gainDb + 16)).toBeLessThan(0.2);
  const { body } = await as('get', clip.url!).expect(200).expect('content-type', 'audio/mp4');
  expect((body as Buffer).includes('Secret name')).toBe(false);
  const path = (await station.app.get(ClipsService).toSend(await stationId(), clip.id))!;
  const tags = new FlvReader().push(readFileSync(path)).filter(({ kind }) => kind !== 'script');
  expect(new Set(tags.map(({ kind }) => kind))).toEqual(new Set(['audio']));
  const { stderr } = spawnSync(FFMPEG, ['-hide_banner', '-nostats', '-i', path, '-af', 'ebur128', '-f', 'null', '-'], { encoding: 'utf8' });
  const integrated = Number(/I:\s+(-?[\d.]+) LUFS\s+Threshold/.exec(stderr)![1]);
  expect(Math.abs(integrated + 16)).toBeLessThan(0.5);
});

test.each([
  ['a list of other files that calls itself a sound', Buffer.from('#EXTM3U\n#EXTINF:1,\nfile:///etc/passwd\n'), 'not a clip'],
  ['nothing', Buffer.alloc(0), 'empty'],
  ['a page', Buffer.from('<!doctype html><p>no sound at all'), 'not a clip'],
])('%s is refused at once, with the way out, and leaves nothing', async (_what, bytes, words) => {
  const before = (await settled()).length;
  const { status, body } = await send(bytes);
  expect([status, body.words]).toEqual([expect.any(Number), expect.stringContaining('Choose an MP4, MOV, WebM, MKV, WAV')]);
  expect(body.words).toContain(words);
  expect(await settled()).toHaveLength(before);
  expect(readdirSync(join(station.folder, 'pictures')).filter((file) => file.includes('.clip.incoming'))).toEqual([]);
});

test.each([
  ['that begins like a sound and is none', () => Buffer.concat([tone('half.m4a').subarray(0, 40), Buffer.alloc(5_000, 7)]), 'nothing in that file'],
  ['in which there is silence', () => tone('silent.wav', 2, ['-af', 'volume=0']), 'nothing to hear'],
  ['that lasts too long', () => tone('long.wav', 905, ['-c:a', 'pcm_u8', '-ar', '8000']), 'longer than 15 minutes'],
])('a file %s is told, and can be taken out', async (_what, bytes, words) => {
  const clip = await added(bytes());
  expect(clip).toMatchObject({ state: 'failed', words: expect.stringContaining(words), url: null });
  expect(await station.app.get(ClipsService).toSend(await stationId(), clip.id)).toBeNull();
  expect(filesOf(clip)).toEqual([]);
  await as('delete', `/api/clips/${clip.id}`).expect(204);
});

/** A made-up film, as a file of that kind. */
function film(file: string, args: string[], size = '640x360', sound = true, seconds = 3): Buffer {
  const path = join(station.folder, file);
  const inputs = [
    '-f',
    'lavfi',
    '-i',
    `testsrc2=size=${size}:rate=25:duration=${seconds}`,
    ...(sound ? ['-f', 'lavfi', '-i', `sine=duration=${seconds}`] : []),
  ];
  execFileSync(FFMPEG, ['-y', '-loglevel', 'error', ...inputs, ...args, path]);
  return readFileSync(path);
}
const tagsOf = async ({ id }: ClipView) => new FlvReader().push(readFileSync(await station.app.get(ClipsService).toPlay(await stationId(), id)));

test.each([
  ['film.mp4', ['-c:v', 'libx264', '-c:a', 'aac']],
  ['film.mov', ['-c:v', 'mjpeg', '-pix_fmt', 'yuvj420p', '-c:a', 'pcm_s16le']],
  ['film.webm', ['-c:v', 'libvpx', '-deadline', 'realtime', '-c:a', 'libopus']],
  ['film.mkv', ['-c:v', 'libx264', '-c:a', 'libmp3lame']],
])('%s is made thirty pictures a second with a key frame each second, and as loud as a programme', async (file, args) => {
  const clip = await added(film(file, args));
  expect(clip).toMatchObject({ kind: 'film', state: 'ready', words: '', made: null });
  expect(Math.abs(clip.lengthMs - 3_000)).toBeLessThan(150);
  expect(Math.abs(clip.cameAt! + clip.gainDb + 16)).toBeLessThan(0.2);
  const pictures = (await tagsOf(clip)).filter((tag) => tag.kind === 'video' && !isSequenceHeader(tag) && tag.data.length > 5);
  expect(Math.abs(pictures.length - 90)).toBeLessThan(3);
  expect(
    pictures
      .filter(isKeyFrame)
      .map(({ timestampMs }) => Math.round(timestampMs / 1_000))
      .slice(0, 3),
  ).toEqual([0, 1, 2]);
  await as('get', clip.url!).expect(200).expect('content-type', 'video/mp4');
  await as('get', clip.airUrl!).expect(200).expect('content-type', 'video/x-flv');
});

test('a film without sound is one, and a large or upright one is made to fit the programme', async () => {
  const mute = await added(film('mute.mp4', ['-c:v', 'libx264'], '1920x1080', false, 0.6));
  expect(mute).toMatchObject({ kind: 'film', state: 'ready', cameAt: null, gainDb: 0 });
  const sizeOf = async (clip: ClipView) => pictureSizeOf((await tagsOf(clip)).find((tag) => tag.kind === 'video' && isSequenceHeader(tag))!);
  expect(await sizeOf(mute)).toEqual({ width: 1280, height: 720 });
  expect(await sizeOf(await added(film('upright.mp4', ['-c:v', 'libx264', '-c:a', 'aac'], '1080x1920', true, 0.6)))).toEqual({ width: 404, height: 720 });
});

test('a sound with a picture on its cover is a sound, and a film is no music for the break card', async () => {
  const cover = film('cover.png', ['-frames:v', '1', '-update', '1'], '64x64', false);
  expect(cover.length).toBeGreaterThan(0);
  const path = join(station.folder, 'covered.mp3');
  const inputs = ['-f', 'lavfi', '-i', 'sine=frequency=440:duration=3', '-i', join(station.folder, 'cover.png')];
  execFileSync(FFMPEG, ['-y', '-loglevel', 'error', ...inputs, '-map', '0', '-map', '1', '-c:v', 'copy', '-disposition:v', 'attached_pic', path]);
  expect(await added(readFileSync(path))).toMatchObject({ kind: 'sound', state: 'ready' });
  const clip = await added(film('no-music.mp4', ['-c:v', 'libx264', '-c:a', 'aac']));
  expect(await station.app.get(ClipsService).toSend(await stationId(), clip.id)).toBeNull();
});

test('a film that breaks off is played as far as it goes, or told', async () => {
  const whole = film('broken.mkv', ['-c:v', 'libx264', '-g', '10', '-c:a', 'libmp3lame']);
  const half = await added(whole.subarray(0, Math.round(whole.length * 0.6)));
  expect(half).toMatchObject({ kind: 'film', state: 'ready' });
  expect(half.lengthMs).toBeLessThan(2_700);
  const none = await added(film('headless.mp4', ['-c:v', 'libx264', '-c:a', 'aac']).subarray(0, 9_000));
  expect(none).toMatchObject({ state: 'failed', words: expect.stringContaining('Choose an MP4') });
});

test('which part is played is kept, and something has to be left of it', async () => {
  const clip = await added(film('parts.mp4', ['-c:v', 'libx264', '-c:a', 'aac']));
  const kept = async (change: object) => as('patch', `/api/clips/${clip.id}`).send({ name: 'Parts', rights: 'Ours', ...change });
  const view = ({ body }: { body: ClipView[] }) => body.find(({ id }) => id === clip.id);
  expect(view(await kept({ inMs: 1_000, outMs: 2_000 }))).toMatchObject({ inMs: 1_000, outMs: 2_000 });
  const { status, body } = await kept({ inMs: 1_800 });
  expect([status, body.words]).toEqual([422, expect.stringContaining('at least half a second')]);
  // Beyond its end is its end; what is not said stays.
  expect(view(await kept({ outMs: 800_000 }))).toMatchObject({ inMs: 1_000, outMs: null });
});

/** Softly begun and ended: a click reaches as far as the interpolation that looks at it, and each has its own. */
const SOFT = 'afade=d=0.1,afade=t=out:st=0.9:d=0.1';

test.each([
  ['a tone', `sine=frequency=997:sample_rate=48000:duration=1,volume=6dB,${SOFT}`],
  ['a tone whose peaks lie between samples', `sine=frequency=5000:sample_rate=48000:duration=1,volume=12dB,${SOFT}`],
])('the stage measures %s as ffmpeg does: to a tenth of a LU, and to two tenths of a dB', (_what, source) => {
  const args = ['-hide_banner', '-nostats', '-f', 'lavfi', '-i', source, '-ac', '2', '-ar', '48000'];
  const pcm = execFileSync(FFMPEG, [...args, '-loglevel', 'error', '-f', 'f32le', 'pipe:1'], { maxBuffer: 1 << 26 });
  const samples = new Float32Array(pcm.buffer.slice(pcm.byteOffset, pcm.byteOffset + pcm.length));
  const [left, right] = [0, 1].map((channel) => samples.filter((_, at) => at % 2 === channel)) as [Float32Array, Float32Array];
  const meter = new LoudnessMeter(48_000);
  for (let at = 0; at < left.length; at += 128) meter.push([left.subarray(at, at + 128), right.subarray(at, at + 128)]);
  const { integrated, truePeakDb } = meter.read();
  const { stderr } = spawnSync(FFMPEG, [...args, '-af', 'aformat=channel_layouts=stereo,ebur128=peak=true', '-f', 'null', '-'], { encoding: 'utf8' });
  const summary = stderr.slice(stderr.lastIndexOf('Summary'));
  expect(Math.abs(integrated - Number(/I:\s+(-?[\d.]+) LUFS/.exec(summary)![1]))).toBeLessThanOrEqual(0.1);
  expect(Math.abs(truePeakDb - Number(/Peak:\s+(-?[\d.]+) dBFS/.exec(summary)![1]))).toBeLessThanOrEqual(0.2);
});

test('what is taken out while it is made ready is made no further, and leaves nothing', async () => {
  const [clip] = (await send(tone('taken-out.wav', 600)).expect(201)).body as ClipView[];
  expect(clip!.state).toBe('making');
  await as('delete', `/api/clips/${clip!.id}`).expect(204);
  // The next is not kept waiting by it, and by then nothing of it lies there.
  await added(tone('after.wav'));
  expect([filesOf(clip!), (await settled()).some(({ id }) => id === clip!.id)]).toEqual([[], false]);
});

test('what was being made ready when the server stopped is said, and not left to wait for ever', async () => {
  const clip = await added(tone('stopped.wav'));
  await station.app.get(DataSource).getRepository(Clip).update({ id: clip.id }, { state: 'making' });
  await station.app.get(ClipsService).onApplicationBootstrap();
  expect((await settled()).find(({ id }) => id === clip.id)).toMatchObject({ state: 'failed', words: expect.stringContaining('server stopped') });
});

test('it is named, with whose it is; what a show uses is not taken out, and nobody else’s is found', async () => {
  const clip = await added(tone('named.wav'), '  ');
  expect(clip.name).toBe('Untitled');
  const changed = (await as('patch', `/api/clips/${clip.id}`).send({ name: ' Night walk ', rights: 'Played by us, ours' }).expect(200)).body as ClipView[];
  expect(changed.find(({ id }) => id === clip.id)).toMatchObject({ name: 'Night walk', rights: 'Played by us, ours' });
  await as('patch', `/api/clips/${clip.id}`).send({ name: '', rights: '' }).expect(400);
  const show = (
    await as('post', '/api/shows')
      .send(station.draft([], { breakMusicId: clip.id }))
      .expect(201)
  ).body as ShowView;
  expect(show.breakMusicId).toBe(clip.id);
  expect((await settled()).find(({ id }) => id === clip.id)!.usedBy).toEqual([`“${show.title}”`]);
  const { body } = await as('delete', `/api/clips/${clip.id}`).expect(409);
  expect(body.words).toContain(show.title);
  expect(existsSync((await station.app.get(ClipsService).toSend(await stationId(), clip.id))!)).toBe(true);
  const planned = { id: 'one', from: 'clip', item: clip.id, cue: null, then: 'back' };
  const { show: free } = (
    await as('patch', `/api/shows/${show.id}`)
      .send({ base: show.version, changes: { breakMusicId: null, clips: [planned] } })
      .expect(200)
  ).body as { show: ShowView };
  expect(free.clips).toEqual([planned]);
  expect((await settled()).find(({ id }) => id === clip.id)!.usedBy).toEqual([`“${show.title}”`]);
  const moderator = await station.person('moderator');
  await as('get', clip.url!, moderator).expect(200);
  await as('delete', `/api/clips/${clip.id}`, moderator).expect(403);
  const stranger = await station.person('owner', 'another');
  await as('get', clip.url!, stranger).expect(404);
  expect(await station.app.get(ClipsService).toSend('another', clip.id)).toBeNull();
  await as('patch', `/api/clips/${clip.id}`, stranger).send({ name: 'Mine', rights: '' }).expect(404);
});
