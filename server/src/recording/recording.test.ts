// A recording made from real media: whole stretches, and one that a dying server cut short.
import 'reflect-metadata';
import ffmpegPackage from '@ffmpeg-installer/ffmpeg';
import { USUAL_TIMES } from '@lantern/core';
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { DataSource } from 'typeorm';
import { stretchFiles } from '../media/stretch';
import type { Settings } from '../foundation/settings';
import { openDatabase } from '../database/database';
import { Bus } from '../foundation/bus';
import type { Clock } from '../foundation/clock';
import { JobsService } from '../jobs/jobs.service';
import { Station } from '../people/people.entities';
import { BLANK_SHEET, plannedFacts } from '../shows/draft';
import { BLANK_SHOW, Show } from '../shows/show.entities';
import { RecordingService } from './recording.service';

const folder = mkdtempSync(join(tmpdir(), 'lantern-recording-'));
const settings = { dataDir: folder, recordingsDir: join(folder, 'recordings'), ffmpeg: ffmpegPackage.path } as Settings;
let database: DataSource;
let recordings: RecordingService;
let jobs: JobsService;
let now = Date.now();

beforeAll(async () => {
  database = await openDatabase(settings);
  jobs = new JobsService(database, new Bus(), { now: () => now } as Clock);
  recordings = new RecordingService(database, jobs, new Bus(), { now: () => now } as Clock, settings);
  await database
    .getRepository(Station)
    .insert({ id: 's', name: 'Alderfell Sky Club', zone: 'UTC', cities: [], milestoneTimes: USUAL_TIMES, feedHash: null, slug: 's', supportersHash: null });
});
afterAll(async () => {
  await jobs.onApplicationShutdown();
  await database.destroy();
  rmSync(folder, { recursive: true, force: true });
});

/** A show that is over, with a folder for its stretches. */
async function showWith(id: string, fill: (folder: string) => void): Promise<Show> {
  const facts = { id, stationId: 's', slug: id, short: id, title: 'Dusk Report', startsAt: 0, lengthMs: 1, onAirSince: 0, endedAt: 1 };
  const sheet = { ...BLANK_SHEET, zone: 'UTC', date: '1970-01-01', time: '00:00', title: '' };
  await database.getRepository(Show).insert({ ...BLANK_SHOW, ...plannedFacts(sheet), ...facts, state: 'over', programme: 'host', recording: 'making' });
  const own = join(settings.recordingsDir, id);
  mkdirSync(own, { recursive: true });
  fill(own);
  return made(id);
}

/** The show once its recording has been made, or tried to be. */
async function made(id: string): Promise<Show> {
  await recordings.ask({ id, stationId: 's' });
  await jobs.settled('recording');
  return database.getRepository(Show).findOneByOrFail({ id });
}

/** One stretch of `seconds`, as a recorder's WebM and as the FLV made from it. */
function stretch(own: string, number: number, seconds: number): ReturnType<typeof stretchFiles> {
  const files = stretchFiles(own, number);
  const source = [
    '-v',
    'error',
    '-y',
    '-f',
    'lavfi',
    '-i',
    'testsrc=s=320x180:r=30',
    '-f',
    'lavfi',
    '-i',
    'sine=frequency=300:sample_rate=48000',
    '-t',
    String(seconds),
  ];
  const picture = ['-c:v', 'libx264', '-preset', 'ultrafast', '-bf', '0', '-g', '15', '-pix_fmt', 'yuv420p'];
  execFileSync(settings.ffmpeg, [...source, ...picture, '-c:a', 'libopus', '-cluster_time_limit', '250', '-f', 'matroska', files.pieces]);
  execFileSync(settings.ffmpeg, ['-v', 'error', '-y', '-i', files.pieces, '-c:v', 'copy', '-c:a', 'aac', '-f', 'flv', files.flv]);
  writeFileSync(files.done, '');
  return files;
}

/** Length in ms that a player finds, and whether the file is laid out so that it can seek at once. */
function look(file: string): { lengthMs: number; indexFirst: boolean } {
  const { stderr } = spawnSync(settings.ffmpeg, ['-hide_banner', '-i', file], { encoding: 'utf8' });
  const [, hours, minutes, seconds] = /Duration: (\d+):(\d+):([\d.]+)/.exec(stderr)!;
  const bytes = readFileSync(file);
  return { lengthMs: (Number(hours) * 3600 + Number(minutes) * 60 + Number(seconds)) * 1000, indexFirst: bytes.indexOf('moov') < bytes.indexOf('mdat') };
}

test('stretches are joined end to end into a file that seeks', async () => {
  const show = await showWith('two', (own) => {
    stretch(own, 1, 3);
    stretch(own, 2, 2);
  });
  expect(show.recording).toBe('ready');
  const { lengthMs, indexFirst } = look(recordings.file('two'));
  expect(lengthMs).toBeGreaterThan(4_800);
  expect(lengthMs).toBeLessThan(5_300);
  expect(Math.abs(show.recordingMs - lengthMs)).toBeLessThan(200);
  expect(indexFirst).toBe(true);
});

test('a stretch that was cut short is converted again from its pieces, whatever of its FLV was written', async () => {
  const show = await showWith('cut', (own) => {
    const { pieces, flv, done } = stretch(own, 1, 4);
    // Power went at about three quarters: the pieces end in the middle of one, the FLV much earlier.
    truncateSync(pieces, Math.floor(readFileSync(pieces).length * 0.75));
    truncateSync(flv, 2_000);
    rmSync(done);
    stretch(own, 2, 2);
  });
  expect(show.recording).toBe('ready');
  expect(show.recordingMs).toBeGreaterThan(2_000 + 2_500);
});

test('a show that sent nothing has no recording, and that is no failure', async () => {
  const show = await showWith('empty', () => undefined);
  expect([show.recording, show.recordingMs, existsSync(recordings.file('empty'))]).toEqual(['none', 0, false]);
});

test('rubbish instead of pieces is never told as nothing, is kept, and is not tried for ever', async () => {
  const show = await showWith('rubbish', (own) => writeFileSync(stretchFiles(own, 1).pieces, 'not media'));
  expect(show.recording).toBe('failed');
  expect(await recordings.trouble('rubbish')).toEqual({ words: 'No picture can be read in what was received. All of it is kept.', nextTryAt: null });
  expect(readFileSync(stretchFiles(join(settings.recordingsDir, 'rubbish'), 1).pieces, 'utf8')).toBe('not media');
  now += 3_600_000;
  await jobs.settled('recording');
  expect((await jobs.find('recording', 'rubbish'))!.tries).toBe(1);
});

test('an FLV that cannot be read, although it was whole once, is made again from its pieces', async () => {
  const show = await showWith('unreadable', (own) => {
    stretch(own, 1, 2);
    writeFileSync(stretch(own, 2, 3).flv, 'FLV, but not any more');
  });
  expect([show.recording, show.recordingMs > 4_800]).toEqual(['ready', true]);
});

test('where neither FLV nor pieces can be read, the stretches that can are packed', async () => {
  const show = await showWith('half', (own) => {
    stretch(own, 1, 2);
    const { flv, pieces } = stretch(own, 2, 2);
    writeFileSync(flv, '<html>');
    writeFileSync(pieces, 'not media');
    stretch(own, 3, 2);
  });
  expect(show.recording).toBe('ready');
  expect(show.recordingMs).toBeGreaterThan(3_800);
  expect(show.recordingMs).toBeLessThan(4_400);
});

test('a recording that the disk does not take is tried again by itself, and told meanwhile', async () => {
  const own = join(settings.recordingsDir, 'later');
  const blocked = await showWith('later', (folderOf) => {
    stretch(folderOf, 1, 2);
    mkdirSync(join(folderOf, 'recording.mp4', 'in the way'), { recursive: true });
  });
  expect(blocked.recording).toBe('making');
  expect((await recordings.trouble('later'))!.words).toMatch(/^It could not be packed/);
  rmSync(join(own, 'recording.mp4'), { recursive: true });
  now += 61_000;
  await jobs.settled('recording');
  expect((await database.getRepository(Show).findOneByOrFail({ id: 'later' })).recording).toBe('ready');
  expect(await recordings.trouble('later')).toBeNull();
});

test('one that a killed server has left is taken up again at the next start', async () => {
  const show = await showWith('left', (own) => void stretch(own, 1, 2));
  await database.getRepository(Show).update({ id: show.id }, { recording: 'making' });
  await recordings.onApplicationBootstrap();
  await jobs.settled('recording');
  expect((await database.getRepository(Show).findOneByOrFail({ id: show.id })).recording).toBe('ready');
});
