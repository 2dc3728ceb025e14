// A recording made from real media: whole stretches, and one that a dying server cut short.
import 'reflect-metadata';
import ffmpegPackage from '@ffmpeg-installer/ffmpeg';
import { BLANK_SHEET, FlvReader, flvHeader, flvTagBytes, ProgrammeInput, ProgrammeSplicer, USUAL_TIMES, type PartNote } from '@lantern/core';
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, statSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { DataSource } from 'typeorm';
import { programmeFile, programmeNotes, stretchFiles } from '../media/stretch';
import type { Settings } from '../foundation/settings';
import { openDatabase } from '../database/database';
import { Bus } from '../foundation/bus';
import type { Clock } from '../foundation/clock';
import { JobsService } from '../jobs/jobs.service';
import { Station } from '../people/people.entities';
import { plannedFacts } from '../shows/draft';
import { BLANK_SHOW } from '../shows/blank';
import { Show } from '../shows/show.entities';
import type { RemovalService } from '../shows/removal.service';
import { ShowRows } from '../shows/show-rows';
import { RecordingRows } from './recording-rows';
import { RecordingService } from './recording.service';

type Made = Awaited<ReturnType<RecordingRows['of']>>;

const folder = mkdtempSync(join(tmpdir(), 'lantern-recording-'));
const settings = { dataDir: folder, recordingsDir: join(folder, 'recordings'), ffmpeg: ffmpegPackage.path } as Settings;
let database: DataSource;
let recordings: RecordingService;
let rows: RecordingRows;
let jobs: JobsService;
let now = Date.now();

beforeAll(async () => {
  database = await openDatabase(settings);
  jobs = new JobsService(database, new Bus(), { now: () => now } as Clock);
  rows = new RecordingRows(database);
  const removal = { takeAlong: () => undefined } as unknown as RemovalService;
  recordings = new RecordingService(new ShowRows(database), database, rows, jobs, new Bus(), { now: () => now } as Clock, settings, removal);
  await database
    .getRepository(Station)
    .insert({ id: 's', name: 'Alderfell Sky Club', zone: 'UTC', cities: [], milestoneTimes: USUAL_TIMES, feedHash: null, slug: 's', supportersHash: null });
});
afterAll(async () => {
  await jobs.onApplicationShutdown();
  await database.destroy();
  rmSync(folder, { recursive: true, force: true });
});

/** What becomes of the recording of a show that is over, with a folder for its stretches. */
async function recordingOf(id: string, fill: (folder: string) => void): Promise<Made> {
  const facts = { id, stationId: 's', slug: id, short: id, title: 'Dusk Report', startsAt: 0, lengthMs: 1, onAirSince: 0, endedAt: 1 };
  const sheet = { ...BLANK_SHEET, zone: 'UTC', date: '1970-01-01', time: '00:00', title: '' };
  await database.getRepository(Show).insert({ ...BLANK_SHOW, ...plannedFacts(sheet), ...facts, state: 'over' });
  const own = join(settings.recordingsDir, id);
  mkdirSync(own, { recursive: true });
  fill(own);
  return made(id);
}

/** The recording once it has been made, or tried to be. */
async function made(id: string): Promise<Made> {
  await recordings.ask({ id, stationId: 's' });
  await jobs.settled('recording');
  return rows.of(id);
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

/** The grey of a black card, as pictures of a stage never are. */
const DARK = 40;

/** FLV of a card for so many seconds. */
function cardFlv(own: string, seconds: number): string {
  const path = join(own, 'card.flv');
  const source = ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'color=black:s=320x180:r=30', '-f', 'lavfi', '-i', 'anullsrc=r=48000', '-t', String(seconds)];
  execFileSync(settings.ffmpeg, [...source, '-c:v', 'libx264', '-g', '15', '-bf', '0', '-pix_fmt', 'yuv420p', '-c:a', 'aac', '-f', 'flv', path]);
  return path;
}

/** A programme as it went out: what was on from when on, of which file, and from which time of it. Its notes lie beside it. */
function programme(own: string, cut: { path: string; stretch: number | null; atMs: number; fromMs: number; toMs: number; lost?: boolean }[]): void {
  const splicer = new ProgrammeSplicer();
  const notes: PartNote[] = [];
  const bytes = [flvHeader()];
  for (const { path, stretch: number, atMs, fromMs, toMs, lost = false } of cut) {
    const input = new ProgrammeInput(path);
    splicer.select(input);
    for (const tag of new FlvReader().push(readFileSync(path))) {
      if (tag.timestampMs > toMs || (tag.timestampMs < fromMs && tag.data[1] !== 0)) continue;
      const out = splicer.push(input, tag, atMs + tag.timestampMs - fromMs);
      if (out[0] && notes.length < cut.findIndex((each) => each.path === path && each.atMs === atMs) + 1)
        notes.push({ atMs: out[0].timestampMs, stretch: number, shiftMs: splicer.shift, lost });
      bytes.push(...out.map((each) => flvTagBytes(each)));
    }
  }
  writeFileSync(programmeFile(own, 1), Buffer.concat(bytes));
  writeFileSync(programmeNotes(own, 1), notes.map((note) => `${JSON.stringify(note)}\n`).join('') + '{"atMs": 99');
}

/** How light the pictures of a file are, two a second. */
function light(file: string): number[] {
  const grey = execFileSync(settings.ffmpeg, ['-v', 'error', '-i', file, '-vf', 'fps=2,scale=1:1', '-pix_fmt', 'gray', '-f', 'rawvideo', 'pipe:1']);
  return [...grey];
}

/** Length in ms that a player finds, and whether the file is laid out so that it can seek at once. */
function look(file: string): { lengthMs: number; indexFirst: boolean } {
  const { stderr } = spawnSync(settings.ffmpeg, ['-hide_banner', '-i', file], { encoding: 'utf8' });
  const [, hours, minutes, seconds] = /Duration: (\d+):(\d+):([\d.]+)/.exec(stderr)!;
  const bytes = readFileSync(file);
  return { lengthMs: (Number(hours) * 3600 + Number(minutes) * 60 + Number(seconds)) * 1000, indexFirst: bytes.indexOf('moov') < bytes.indexOf('mdat') };
}

test('stretches are joined end to end into a file that seeks', async () => {
  const recording = await recordingOf('two', (own) => {
    stretch(own, 1, 3);
    stretch(own, 2, 2);
  });
  expect(recording.state).toBe('ready');
  const { lengthMs, indexFirst } = look(recordings.file('two'));
  expect(lengthMs).toBeGreaterThan(4_800);
  expect(lengthMs).toBeLessThan(5_300);
  expect(Math.abs(recording.lengthMs - lengthMs)).toBeLessThan(200);
  expect(indexFirst).toBe(true);
});

test('a stretch that was cut short is converted again from its pieces, whatever of its FLV was written', async () => {
  const recording = await recordingOf('cut', (own) => {
    const { pieces, flv, done } = stretch(own, 1, 4);
    // Power went at about three quarters: the pieces end in the middle of one, the FLV much earlier.
    truncateSync(pieces, Math.floor(readFileSync(pieces).length * 0.75));
    truncateSync(flv, 2_000);
    rmSync(done);
    stretch(own, 2, 2);
  });
  expect(recording.state).toBe('ready');
  expect(recording.lengthMs).toBeGreaterThan(2_000 + 2_500);
});

test('a show that sent nothing has no recording, and that is no failure', async () => {
  const recording = await recordingOf('empty', () => undefined);
  expect([recording.state, recording.lengthMs, existsSync(recordings.file('empty'))]).toEqual(['none', 0, false]);
});

test('rubbish instead of pieces is never told as nothing, is kept, and is not tried for ever', async () => {
  const recording = await recordingOf('rubbish', (own) => writeFileSync(stretchFiles(own, 1).pieces, 'not media'));
  expect(recording.state).toBe('failed');
  expect(await recordings.trouble('rubbish')).toEqual({ words: 'No picture can be read in what was received. All of it is kept.', nextTryAt: null });
  expect(readFileSync(stretchFiles(join(settings.recordingsDir, 'rubbish'), 1).pieces, 'utf8')).toBe('not media');
  now += 3_600_000;
  await jobs.settled('recording');
  expect((await jobs.find('recording', 'rubbish'))!.tries).toBe(1);
});

test('an FLV that cannot be read, although it was whole once, is made again from its pieces', async () => {
  const recording = await recordingOf('unreadable', (own) => {
    stretch(own, 1, 2);
    writeFileSync(stretch(own, 2, 3).flv, 'FLV, but not any more');
  });
  expect([recording.state, recording.lengthMs > 4_800]).toEqual(['ready', true]);
});

test('where neither FLV nor pieces can be read, the stretches that can are packed', async () => {
  const recording = await recordingOf('half', (own) => {
    stretch(own, 1, 2);
    const { flv, pieces } = stretch(own, 2, 2);
    writeFileSync(flv, '<html>');
    writeFileSync(pieces, 'not media');
    stretch(own, 3, 2);
  });
  expect(recording.state).toBe('ready');
  expect(recording.lengthMs).toBeGreaterThan(3_800);
  expect(recording.lengthMs).toBeLessThan(4_400);
});

test('a recording that the disk does not take is tried again by itself, and told meanwhile', async () => {
  const own = join(settings.recordingsDir, 'later');
  const blocked = await recordingOf('later', (folderOf) => {
    stretch(folderOf, 1, 2);
    mkdirSync(join(folderOf, 'recording.mp4', 'in the way'), { recursive: true });
  });
  expect(blocked.state).toBe('making');
  expect((await recordings.trouble('later'))!.words).toMatch(/^It could not be packed/);
  rmSync(join(own, 'recording.mp4'), { recursive: true });
  now += 61_000;
  await jobs.settled('recording');
  expect((await rows.of('later')).state).toBe('ready');
  expect(await recordings.trouble('later')).toBeNull();
});

test('the programme as it went out is the recording, in as many parts as carried it, also where one was cut by a kill', async () => {
  const recording = await recordingOf('programme', (own) => {
    stretch(own, 1, 2);
    execFileSync('cp', [stretch(own, 2, 3).flv, programmeFile(own, 1)]);
    execFileSync('cp', [stretch(own, 3, 2).flv, programmeFile(own, 2)]);
    truncateSync(programmeFile(own, 1), Math.floor(readFileSync(programmeFile(own, 1)).length * 0.9));
  });
  expect(recording.state).toBe('ready');
  // Three seconds, less what was cut, and two: not the seven that came from the stage.
  expect(recording.lengthMs).toBeGreaterThan(4_000);
  expect(recording.lengthMs).toBeLessThan(5_200);
  // What of the programme stands where is known: one part for each, end to end.
  expect(recording.parts).toHaveLength(2);
  const [first, second] = recording.parts!;
  expect(first).toMatchObject({ atMs: 0 });
  expect(second!.atMs).toBe(first!.lengthMs);
  expect(second!.atMs + second!.lengthMs).toBe(recording.lengthMs);
});

test('a programme that breaks off long before what came does is made again from the pieces', async () => {
  const recording = await recordingOf('broke-off', (own) => {
    execFileSync('cp', [stretch(own, 1, 14).flv, programmeFile(own, 1)]);
    truncateSync(programmeFile(own, 1), 60_000);
  });
  expect([recording.state, recording.lengthMs > 13_500, recording.parts]).toEqual(['ready', true, null]);
});

test('where the card stood because the stage’s line was gone, the recording has what came late, at its time', async () => {
  const recording = await recordingOf('late', (own) => {
    const first = stretch(own, 1, 9);
    const second = stretch(own, 2, 4);
    programme(own, [
      { path: first.flv, stretch: 1, atMs: 0, fromMs: 0, toMs: 3_000 },
      { path: cardFlv(own, 10), stretch: null, atMs: 4_500, fromMs: 0, toMs: 6_000, lost: true },
      { path: second.flv, stretch: 2, atMs: 10_500, fromMs: 2_000, toMs: 4_000 },
    ]);
    // What had come in time ends here; the rest of its pieces was sent later.
    writeFileSync(first.late, '3000');
    rmSync(first.done);
    rmSync(first.flv);
  });
  expect(recording.state).toBe('ready');
  const file = recordings.file('late');
  expect(Math.abs(look(file).lengthMs - 12_500)).toBeLessThan(300);
  const shown = light(file);
  expect(shown.length).toBeGreaterThanOrEqual(24);
  expect(shown.filter((grey) => grey < DARK)).toEqual([]);
  // No picture stands where one joins on to another: of 30 a second, all are there.
  const counted = spawnSync(settings.ffmpeg, ['-hide_banner', '-i', file, '-map', '0:v', '-f', 'null', '-'], { encoding: 'utf8' }).stderr;
  expect(counted).not.toMatch(/non[- ]monoton|error/i);
  expect(Number(/frame=\s*(\d+)\D*$/.exec(counted.slice(counted.lastIndexOf('frame=')).split('fps')[0]!)![1])).toBeGreaterThan(12.2 * 30);
});

test('a break that was chosen stays a break, and so does a hole into which nothing came; what was made after the end is nobody’s', async () => {
  await recordingOf('break', (own) => {
    const { flv } = stretch(own, 1, 20);
    programme(own, [
      { path: flv, stretch: 1, atMs: 0, fromMs: 0, toMs: 3_000 },
      { path: cardFlv(own, 10), stretch: null, atMs: 3_000, fromMs: 0, toMs: 4_000 },
      { path: flv, stretch: 1, atMs: 7_000, fromMs: 7_000, toMs: 10_000 },
    ]);
  });
  const shown = light(recordings.file('break'));
  expect(shown.filter((grey) => grey < DARK).length).toBeGreaterThanOrEqual(7);
  expect(look(recordings.file('break')).lengthMs).toBeLessThan(10_500);

  await recordingOf('nothing', (own) => {
    const first = stretch(own, 1, 3);
    const second = stretch(own, 2, 3);
    programme(own, [
      { path: first.flv, stretch: 1, atMs: 0, fromMs: 0, toMs: 3_000 },
      { path: cardFlv(own, 10), stretch: null, atMs: 3_500, fromMs: 0, toMs: 5_000, lost: true },
      { path: second.flv, stretch: 2, atMs: 8_500, fromMs: 2_000, toMs: 3_000 },
    ]);
  });
  // Two seconds of the second stretch had been made by then; before that there is the card.
  const dark = light(recordings.file('nothing')).filter((grey) => grey < DARK);
  expect(dark.length).toBeGreaterThanOrEqual(4);
  expect(look(recordings.file('nothing')).lengthMs).toBeGreaterThan(9_000);
});

test('what has gone out so far can be seen while more is being written, and is put together once for all who ask', async () => {
  const own = join(settings.recordingsDir, 'so-far');
  mkdirSync(own, { recursive: true });
  await expect(recordings.soFar('so-far')).rejects.toThrow('Nothing has gone out yet');
  const { flv } = stretch(own, 1, 6);
  programme(own, [{ path: flv, stretch: 1, atMs: 0, fromMs: 0, toMs: 6_000 }]);
  // The last tag is half there.
  truncateSync(programmeFile(own, 1), statSync(programmeFile(own, 1)).size - 200);
  const [path, same] = await Promise.all([recordings.soFar('so-far'), recordings.soFar('so-far')]);
  expect(path).toBe(same);
  const told = spawnSync(settings.ffmpeg, ['-i', path], { encoding: 'utf8' }).stderr;
  expect(told).toMatch(/Duration: 00:00:0[56]/);
  expect(await recordings.soFar('so-far')).toBe(path);
});

test('one that a killed server has left is taken up again at the next start', async () => {
  await recordingOf('left', (own) => void stretch(own, 1, 2));
  await rows.become('left', { state: 'making' });
  await recordings.onApplicationBootstrap();
  await jobs.settled('recording');
  expect((await rows.of('left')).state).toBe('ready');
});
