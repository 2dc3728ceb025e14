// An hour's recording looked through and cut in three places: how long that takes, and whether every edge is the very picture that was asked for.
import { expect, test } from '@playwright/test';
import { firstFrom, keptAt, partsOfCut, recordedAt, type Passage } from '@lantern/core';
import ffmpegPackage from '@ffmpeg-installer/ffmpeg';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { makeCutFile } from '../server/src/cutting/cut-file';
import { makeSurvey, surveyOf, timesOf } from '../server/src/cutting/survey';
import { clicksOf, stampsOf } from '../server/src/test/stamped';
import { writeHour } from './measured/hour';

const MINUTES = Number(process.env.LANTERN_CUT_MINUTES ?? 60);
const LENGTH_MS = MINUTES * 60_000;
const share = (part: number) => Math.round(LENGTH_MS * part) + 777;
const KEPT: Passage[] = [
  { fromMs: share(0.02), toMs: share(0.3) },
  { fromMs: share(0.35), toMs: share(0.7) },
  { fromMs: share(0.72), toMs: share(0.97) },
];

test('an hour is looked through and cut', async () => {
  test.setTimeout(1_800_000);
  const ffmpeg = ffmpegPackage.path;
  const folder = mkdtempSync(join(tmpdir(), 'lantern-bench-cut-'));
  try {
    const recording = writeHour(ffmpeg, folder, MINUTES);
    const took = async (work: () => Promise<unknown>) => {
      const began = performance.now();
      await work();
      return (performance.now() - began) / 1_000;
    };
    const signal = new AbortController().signal;
    const copyS = await took(async () =>
      execFileSync(ffmpeg, ['-v', 'error', '-y', '-i', recording, '-c', 'copy', '-movflags', '+faststart', join(folder, 'copy.mp4')]),
    );
    const surveyS = await took(() => makeSurvey(ffmpeg, folder, recording, LENGTH_MS, signal));
    const survey = (await surveyOf(folder, recording))!;
    const times = await timesOf(folder, survey);
    const target = join(folder, 'cut.mp4');
    const cutS = await took(() =>
      makeCutFile(ffmpeg, { recording, target, kept: KEPT, times, chapters: [{ atMs: 0, name: 'All' }], levelled: false, card: null }, () => undefined, signal),
    );
    const parts = partsOfCut(KEPT);
    // Which pictures they are: each minute they are counted anew.
    const wanted = Array.from(times.atMs, (ms, number) => ({ ms, number: number % 1_800 })).filter(({ ms }) =>
      KEPT.some(({ fromMs, toMs }) => ms >= fromMs && ms < toMs),
    );
    const list = execFileSync(ffmpeg, ['-v', 'error', '-i', target, '-an', '-c', 'copy', '-f', 'framecrc', '-'], { encoding: 'utf8', maxBuffer: 100_000_000 });
    expect(list.split('\n').filter((line) => line.startsWith('0,')).length).toBe(wanted.length);
    // Around each edge every picture is looked at: in between they are copies.
    let [wrong, looked] = [0, 0];
    for (const edge of parts.flatMap(({ atMs, lengthMs }) => [atMs, atMs + lengthMs])) {
      const from = Math.max(0, edge - 8_000);
      const stamps = stampsOf(ffmpeg, target, ['-ss', String(from / 1_000), '-t', '16']);
      const first = wanted.findIndex(({ ms }) => (keptAt(parts, ms) ?? 0) >= from - 0.5);
      stamps.forEach(({ number }, at) => (wrong += number === wanted[first + at]?.number ? 0 : 1));
      looked += stamps.length;
    }
    const there = clicksOf(ffmpeg, recording);
    // A click that an edge goes through begins where nobody can say.
    const apart = (at: number) => parts.every(({ atMs, lengthMs }) => Math.min(Math.abs(at - atMs), Math.abs(at - atMs - lengthMs)) > 100);
    const off = clicksOf(ffmpeg, target)
      .filter(apart)
      .map((at) => {
        const was = recordedAt(parts, at) ?? 0;
        const next = firstFrom(there, was);
        return Math.min(...[there[next - 1], there[next]].flatMap((each) => (each === undefined ? [] : [Math.abs(each - was)])));
      });
    console.log(
      `${MINUTES} min, ${Math.round(statSync(recording).size / 1e6)} MB: copied by one program in ${copyS.toFixed(1)} s; looked through in ${surveyS.toFixed(1)} s; ` +
        `three ranges cut in ${cutS.toFixed(1)} s (${(cutS / copyS).toFixed(1)} times the copy); ${wrong} of ${looked} pictures around the edges wrong; ` +
        `sound off by at most ${Math.max(...off).toFixed(1)} ms at ${off.length} clicks`,
    );
    expect(wrong).toBe(0);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});
