// A guest's own sound of nearly an hour, taken by a clock that runs off, laid beside the recording: how long that takes, how far off it stands at the
// worst, and how long the server stands still meanwhile.
import { expect, test } from '@playwright/test';
import ffmpegPackage from '@ffmpeg-installer/ffmpeg';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { monitorEventLoopDelay } from 'node:perf_hooks';
import { layTakes, levelsOf } from '../server/src/own-sounds/lay-beside';
import { speech } from '../server/src/test/speech';

const MINUTES = Number(process.env.LANTERN_OWN_SOUND_MINUTES ?? 60);
const RATE = 8_000;
/** The guest's clock is so much too fast: a tenth of a millisecond a second, as bad ones are. */
const RUNS_OFF = 1e-4;
const HEARD_AT_S = 120.34;

const levels = (samples: Int16Array): Float32Array =>
  Float32Array.from({ length: Math.floor(samples.length / 80) }, (_, at) => {
    let sum = 0;
    for (let n = at * 80; n < at * 80 + 80; n++) sum += Math.abs(samples[n]!);
    return sum;
  });

test('an own sound is laid beside an hour', async () => {
  test.setTimeout(900_000);
  const ffmpeg = ffmpegPackage.path;
  const folder = mkdtempSync(join(tmpdir(), 'lantern-bench-own-'));
  const file = (name: string) => join(folder, name);
  const pcm = ['-v', 'error', '-f', 's16le', '-ar', String(RATE), '-ac', '1', '-i', 'pipe:0', '-ar', '48000'];
  const write = (samples: Int16Array, args: string[]) => execFileSync(ffmpeg, [...pcm, ...args], { input: Buffer.from(samples.buffer), maxBuffer: 1e9 });
  try {
    const own = speech((MINUTES - 6) * 60, 1, RATE, 2);
    const mix = speech(MINUTES * 60, 2, RATE, 2);
    for (let at = 0; at < own.length; at++) {
      const place = Math.round(HEARD_AT_S * RATE + at * (1 - RUNS_OFF));
      mix[place] = (mix[place] ?? 0) + own[at]!;
    }
    write(own, ['-c:a', 'libopus', '-b:a', '96k', '-f', 'webm', file('take.webm')]);
    write(mix, ['-c:a', 'aac', '-b:a', '160k', '-ac', '2', '-f', 'mp4', file('recording.mp4')]);
    const stood = monitorEventLoopDelay({ resolution: 5 });
    stood.enable();
    const began = performance.now();
    const signal = new AbortController().signal;
    const lengthMs = MINUTES * 60_000;
    const recording = await levelsOf(ffmpeg, file('recording.mp4'), signal);
    const levelsS = (performance.now() - began) / 1_000;
    const take = { path: file('take.webm'), type: 'webm' as const, byTheClocks: (ms: number) => 120_000 + ms };
    expect(await layTakes(ffmpeg, [take], recording, lengthMs, file('laid.flac'), signal)).toEqual({ unread: 0 });
    const tookS = (performance.now() - began) / 1_000;
    stood.disable();
    const bytes = execFileSync(ffmpeg, ['-v', 'error', '-i', file('laid.flac'), '-ar', String(RATE), '-f', 's16le', 'pipe:1'], { maxBuffer: 1e9 });
    const laid = levels(new Int16Array(bytes.buffer, bytes.byteOffset, bytes.length / 2));
    const said = levels(own);
    // Each half minute five seconds are looked for again.
    let worstMs = 0;
    for (let at = 1_000; at + 500 < said.length; at += 3_000) {
      const should = Math.round(HEARD_AT_S * 100 + at * (1 - RUNS_OFF));
      let [best, lag] = [-1, 0];
      for (let off = -40; off <= 40; off++) {
        let both = 0;
        for (let n = 0; n < 500; n++) both += said[at + n]! * (laid[should + off + n] ?? 0);
        if (both > best) [best, lag] = [both, off];
      }
      worstMs = Math.max(worstMs, Math.abs(lag) * 10);
    }
    console.log(
      `own sound of ${MINUTES - 6} min beside ${MINUTES} min: ${tookS.toFixed(1)} s (${levelsS.toFixed(1)} s of it for the recording’s levels), at the worst ${worstMs} ms off; ` +
        `without being set right ${Math.round((MINUTES - 6) * 60_000 * RUNS_OFF)} ms; longest stand-still ${(stood.max / 1e6).toFixed(0)} ms`,
    );
    expect(worstMs).toBeLessThanOrEqual(50);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});
