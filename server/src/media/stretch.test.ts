// Stretches of real media: what is kept of them, and what becomes of the picture when something breaks.
import ffmpegPackage from '@ffmpeg-installer/ffmpeg';
import type { FlvTag } from '@lantern/core';
import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Stretch, stretchFiles } from './stretch';

const ffmpeg = ffmpegPackage.path;
const folder = mkdtempSync(join(tmpdir(), 'lantern-stretch-'));
let pieces: Buffer[] = [];

beforeAll(() => {
  const source = ['-f', 'lavfi', '-i', 'testsrc=s=320x180:r=30', '-f', 'lavfi', '-i', 'sine=frequency=300:sample_rate=48000', '-t', '3'];
  const picture = ['-c:v', 'libx264', '-preset', 'ultrafast', '-bf', '0', '-g', '15', '-pix_fmt', 'yuv420p', '-c:a', 'libopus'];
  const path = join(folder, 'source.webm');
  execFileSync(ffmpeg, ['-v', 'error', '-y', ...source, ...picture, '-cluster_time_limit', '250', '-f', 'matroska', path]);
  const bytes = readFileSync(path);
  pieces = Array.from({ length: 12 }, (_, at) => bytes.subarray(Math.floor((at * bytes.length) / 12), Math.floor(((at + 1) * bytes.length) / 12)));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

async function until(condition: () => boolean): Promise<void> {
  for (let tries = 0; tries < 500 && !condition(); tries++) await new Promise((next) => setTimeout(next, 20));
  expect(condition()).toBe(true);
}

test('what comes is picture and is kept, and is said to be whole only once it is', async () => {
  const tags: FlvTag[] = [];
  const stretch = new Stretch(1, folder, ffmpeg, (_, tag) => tags.push(tag));
  const files = stretchFiles(folder, 1);
  const settled: number[] = [];
  pieces.forEach((piece, at) => stretch.take(piece, at, () => settled.push(at)));
  await until(() => settled.length === 12 && tags.length > 20);
  expect([settled, stretch.nextPiece, existsSync(files.done)]).toEqual([pieces.map((_, at) => at), 12, false]);
  await Promise.all([stretch.close(), stretch.close()]);
  expect([existsSync(files.done), statSync(files.pieces).size]).toEqual([true, pieces.reduce((sum, { length }) => sum + length, 0)]);
});

test('where nothing can be written the picture goes on', async () => {
  const tags: FlvTag[] = [];
  const nowhere = join(folder, 'not', 'there');
  const stretch = new Stretch(2, nowhere, ffmpeg, (_, tag) => tags.push(tag));
  let settled = 0;
  for (const piece of pieces) stretch.take(piece, 0, () => (settled += 1));
  await until(() => tags.some(({ kind }) => kind === 'video') && settled === 12);
  expect([stretch.kept, stretch.broken]).toEqual([false, false]);
  await stretch.close();
  expect(existsSync(stretchFiles(nowhere, 2).done)).toBe(false);
});

test('a converter that ends early is told, so that another stretch begins; what came is kept and not said to be whole', async () => {
  let broke = 0;
  const stretch = new Stretch(
    3,
    folder,
    ffmpeg,
    () => undefined,
    () => (broke += 1),
  );
  stretch.take(Buffer.from('this is no media at all'.repeat(4_000)), 0, () => undefined);
  await until(() => broke === 1);
  expect(stretch.broken).toBe(true);
  let settled = false;
  stretch.take(pieces[0]!, 1, () => (settled = true));
  await until(() => settled);
  await stretch.close();
  const files = stretchFiles(folder, 3);
  expect([existsSync(files.done), existsSync(files.pieces), broke]).toEqual([false, true, 1]);
});
