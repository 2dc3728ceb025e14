// Cuts of a recording of which every picture says which one it is.
import ffmpegPackage from '@ffmpeg-installer/ffmpeg';
import { lengthOfParts, partsOfCut, recordedAt, type Passage } from '@lantern/core';
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { clicksOf, stampsOf, writeStamped } from '../test/stamped';
import { makeCutFile, removeHalves, type CutOrder } from './cut-file';
import { makeSurvey, surveyFile, surveyOf, timesBetween, timesOf } from './survey';

const ffmpeg = ffmpegPackage.path;
const folder = mkdtempSync(join(tmpdir(), 'lantern-cut-'));
const recording = join(folder, 'recording.mp4');
const target = join(folder, 'cut.mp4');
const going = () => new AbortController().signal;
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const KEPT: Passage[] = [
  { fromMs: 1_500, toMs: 6_000 },
  { fromMs: 8_000, toMs: 8_700 },
  { fromMs: 10_333, toMs: 15_367 },
];
let card: CutOrder['card'] = null;
/** The numbers that are stamped on the small pictures of a sheet: bars of ten in the middle of 160 by 90, the lowest first. */
async function numbersOn(path: string, count: number): Promise<number[]> {
  const { data, info } = await sharp(path).greyscale().raw().toBuffer({ resolveWithObject: true });
  const isWhite = (picture: number, bar: number) => data[45 * info.width + picture * 160 + bar * 10 + 5]! > 128;
  return Array.from({ length: count }, (_, picture) => Array.from({ length: 16 }, (__, bar) => (isWhite(picture, bar) ? 2 ** bar : 0)).reduce((a, b) => a + b));
}
const cut = async (kept: readonly Passage[], levelled = false, signal = going(), onProgress: (share: number) => void = () => undefined) => {
  const survey = (await surveyOf(folder, recording))!;
  const chapters = [
    { atMs: 0, name: 'Opening; a=b' },
    { atMs: 5_000, name: 'The comet' },
  ];
  return makeCutFile(ffmpeg, { recording, target, kept, times: await timesOf(folder, survey), chapters, levelled, card }, onProgress, signal);
};

describe.each([
  ['as browsers encode', ['-g', '60', '-bf', '0']],
  ['with pictures at odd times', ['-g', '47', '-bf', '0', '-vf', 'setpts=PTS+0.013/TB', '-vsync', 'passthrough', '-enc_time_base', '1:1000']],
  ['with pictures that are decoded in another order', ['-g', '60', '-bf', '2', '-b_strategy', '0']],
])('a recording %s', (_, more) => {
  beforeAll(async () => {
    writeStamped(ffmpeg, recording, 20, more);
    await makeSurvey(ffmpeg, folder, recording, 20_000, going());
  });

  test('is looked through', async () => {
    const survey = (await surveyOf(folder, recording))!;
    expect(survey.reordered).toBe(more.includes('2'));
    expect(survey.strip).toEqual({ everyMs: 2_000, count: 10 });
    expect(survey.sound.count).toBeGreaterThanOrEqual(199);
    const { atMs, keysAtMs } = await timesOf(folder, survey);
    const [, every] = more;
    expect([atMs.length, keysAtMs.length]).toEqual([600, Math.ceil(600 / Number(every))]);
    expect(await timesBetween(folder, 990, 1_100, 100)).toEqual(Array.from(atMs).filter((ms) => ms >= 990 && ms < 1_100));
    // Each small picture is the key picture that is seen as its stretch begins.
    const seen = Array.from({ length: 10 }, (__, at) => Array.from(atMs).indexOf(Array.from(keysAtMs).findLast((ms) => ms <= at * 2_000) ?? keysAtMs[0]!));
    expect(await numbersOn(surveyFile(folder, 'strip'), 10)).toEqual(seen);
  });

  test('is cut to the picture, with its sound beside it', async () => {
    const shares: number[] = [];
    expect(await cut(KEPT, false, going(), (share) => shares.push(share))).toBe(10_234);
    const stamps = stampsOf(ffmpeg, target);
    const { atMs: times } = await timesOf(folder, (await surveyOf(folder, recording))!);
    const wanted = Array.from(times).flatMap((ms, number) => (KEPT.some(({ fromMs, toMs }) => ms >= fromMs && ms < toMs) ? [number] : []));
    expect(stamps.map(({ number }) => number).join(' ')).toBe(wanted.join(' '));
    const parts = partsOfCut(KEPT);
    for (const { number, atMs } of stamps) expect(Math.abs(recordedAt(parts, Math.max(0, atMs + 1))! - 1 - times[number]!)).toBeLessThan(2);
    // A click at each whole second that was kept.
    const clicks = clicksOf(ffmpeg, target);
    expect(clicks).toHaveLength(10);
    for (const at of clicks) {
      const second = recordedAt(parts, at)! / 1_000;
      expect(Math.abs(second - Math.round(second))).toBeLessThan(0.02);
    }
    expect(shares.every((share, at) => share >= 0 && share <= 1 && (at === 0 || share >= shares[at - 1]! - 0.01))).toBe(true);
    const told = spawnSync(ffmpeg, ['-i', target], { encoding: 'utf8' }).stderr;
    expect(told).toContain('Opening; a=b');
    expect(told).toContain('The comet');
    expect(readdirSync(folder).filter((name) => name.startsWith('cut.'))).toEqual(['cut.mp4']);
  });
});

test('its sound is brought to the usual loudness', async () => {
  const shares: number[] = [];
  await cut([{ fromMs: 0, toMs: 20_000 }], true, going(), (share) => shares.push(share));
  expect(shares.every((share, at) => share <= 1 && (at === 0 || share >= shares[at - 1]! - 0.01))).toBe(true);
  // Told of in all three rounds: joined, measured, made.
  expect([0.2, 0.5, 0.9].map((least) => shares.some((share) => share > least && share < least + 0.15))).toEqual([true, true, true]);
  const { stdout } = spawnSync(
    ffmpeg,
    ['-v', 'error', '-i', target, '-vn', '-af', 'ebur128=metadata=1,ametadata=mode=print:key=lavfi.r128.I:file=-', '-f', 'null', '-'],
    { encoding: 'utf8' },
  );
  expect(Math.abs(Number(stdout.trim().split('=').at(-1)) + 16)).toBeLessThan(1.5);
  expect(stampsOf(ffmpeg, target).map(({ number }) => number)).toEqual(Array.from({ length: 600 }, (_, at) => at));
});

test('a title card stands before it for as long as was asked, in silence, and what follows keeps its sound beside it', async () => {
  const before = await stat(target);
  card = {
    png: await sharp({ create: { width: 640, height: 160, channels: 3, background: '#ffffff' } })
      .png()
      .toBuffer(),
    lastsMs: 3_000,
  };
  try {
    expect(await cut(KEPT)).toBe(3_000 + lengthOfParts(partsOfCut(KEPT)));
  } finally {
    card = null;
  }
  expect((await stat(target)).mtimeMs).not.toBe(before.mtimeMs);
  const parts = partsOfCut(KEPT, 3_000);
  const stamps = stampsOf(ffmpeg, target);
  const WHITE = 2 ** 16 - 1;
  expect(stamps.filter(({ atMs }) => atMs < 2_999).every(({ number }) => number === WHITE)).toBe(true);
  expect(stamps.filter(({ number }) => number === WHITE)).toHaveLength(90);
  const { atMs: times } = await timesOf(folder, (await surveyOf(folder, recording))!);
  const wanted = Array.from(times).flatMap((ms, number) => (KEPT.some(({ fromMs, toMs }) => ms >= fromMs && ms < toMs) ? [number] : []));
  expect(
    stamps
      .slice(90)
      .map(({ number }) => number)
      .join(' '),
  ).toBe(wanted.join(' '));
  const clicks = clicksOf(ffmpeg, target);
  expect(clicks).toHaveLength(10);
  for (const at of clicks) {
    const second = recordedAt(parts, at)! / 1_000;
    expect(Math.abs(second - Math.round(second))).toBeLessThan(0.02);
  }
  expect(readdirSync(folder).filter((name) => name.startsWith('cut.'))).toEqual(['cut.mp4']);
});

test('what is stopped in the middle leaves nothing, and what was there stays', async () => {
  const stop = new AbortController();
  const before = (await stat(target)).mtimeMs;
  await expect(cut(KEPT, false, stop.signal, () => stop.abort())).rejects.toThrow();
  expect((await stat(target)).mtimeMs).toBe(before);
  expect(readdirSync(folder).filter((name) => name.startsWith('cut.'))).toEqual(['cut.mp4']);
});

test('what a killed server has left of a cut goes as the next is begun; other cuts stay', async () => {
  const [left, other] = [join(folder, 'cut-a-1.mp4.of-before.joined.mp4'), join(folder, 'cut-b-1.mp4.of-before.joined.mp4')];
  for (const path of [left, other, join(folder, 'cut-a-1.mp4')]) writeFileSync(path, 'half');
  await removeHalves(folder, 'cut-a-');
  expect(
    readdirSync(folder)
      .filter((name) => name.startsWith('cut-'))
      .sort(),
  ).toEqual(['cut-a-1.mp4', 'cut-b-1.mp4.of-before.joined.mp4']);
});

test('a recording that cannot be read says so', async () => {
  spawnSync('truncate', ['-s', '2000', recording]);
  expect(await surveyOf(folder, recording)).toBeNull();
  await expect(makeSurvey(ffmpeg, folder, recording, 20_000, going())).rejects.toThrow();
  expect(existsSync(surveyFile(folder, 'survey'))).toBe(false);
});
