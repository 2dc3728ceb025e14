// One guest's takes, laid beside the recording in which they are heard, as one file: silent wherever nothing of them was taken, and as long as it.
import { heardThere, lagAt, layBeside, LevelsOfSound, type ByTheClocks, type HeardThere, type Laid } from '@lantern/core';
import { breathe } from '../foundation/breathe';
import { MediaProcess } from '../media/media-process';
import { runToEnd } from '../media/run-to-end';
import type { TakeType } from '../media/own-sound-files';

const RATE = 48_000;
const BYTES_A_SAMPLE = 2;
const LEVELS_RATE = 8_000;
const BACKLOG_BYTES = 2_000_000;
/** At once, by whatever a file of a stranger says that it needs. */
const MAY_ALLOCATE_BYTES = 100_000_000;
const MAY_TAKE_MS = 30 * 60_000;
/** Where a browser or a show stood still there is a gap in the times, and not in the samples: it stays one from 30 ms on. */
const BY_ITS_TIMES = ['-af', 'aresample=async=1:min_hard_comp=0.03:first_pts=0'];
const SILENCE = Buffer.alloc(RATE * BYTES_A_SAMPLE);

export interface TakeToLay {
  path: string;
  type: TakeType;
  byTheClocks: ByTheClocks;
}

/** What came from a browser that is not ours is read as what it says it is, from this file alone, and no further than `lengthMs`. */
const reading = ({ path, type }: Pick<TakeToLay, 'path' | 'type'>, lengthMs: number): string[] => [
  ...['-max_alloc', String(MAY_ALLOCATE_BYTES), '-protocol_whitelist', 'file,pipe'],
  ...['-f', type === 'webm' ? 'matroska' : 'mov', '-i', path, '-map', '0:a:0', '-t', String(lengthMs / 1_000)],
  ...[...BY_ITS_TIMES, '-ac', '1'],
];

/** How loud a recording is, moment by moment. */
export async function levelsOf(ffmpeg: string, path: string, signal: AbortSignal): Promise<Float32Array> {
  return levelsBy(ffmpeg, ['-i', path, '-map', '0:a:0', ...BY_ITS_TIMES, '-ac', '1'], signal);
}

async function levelsBy(ffmpeg: string, args: string[], signal: AbortSignal): Promise<Float32Array> {
  const meter = new LevelsOfSound(LEVELS_RATE);
  await runToEnd(ffmpeg, [...args, '-ar', String(LEVELS_RATE), '-f', 's16le', 'pipe:1'], (bytes) => meter.push(bytes), signal);
  return meter.levels;
}

/**
 * Writes them to `target` as FLAC (RFC 9639), one channel of 16 bits at 48 kHz. `recording`: its levels; `lengthMs`: its length. Returns how many
 * of the takes could not be read; with all of them nothing is written.
 */
export async function layTakes(
  ffmpeg: string,
  takes: readonly TakeToLay[],
  recording: Float32Array,
  lengthMs: number,
  target: string,
  signal: AbortSignal,
): Promise<{ unread: number }> {
  const found: { take: TakeToLay; own: Float32Array; heard: HeardThere[] }[] = [];
  for (const take of takes) {
    const own = await levelsBy(ffmpeg, reading(take, lengthMs), signal).catch(() => null);
    signal.throwIfAborted();
    if (!own?.length) continue;
    const heard: HeardThere[] = [];
    for (const each of heardThere(own, recording, take.byTheClocks)) {
      if (each) heard.push(each);
      await breathe();
      signal.throwIfAborted();
    }
    found.push({ take, own, heard });
  }
  const unread = takes.length - found.length;
  if (!found.length) return { unread };
  // A take in which nobody spoke has gone the same way as the others.
  const otherwise = lagAt(
    found.flatMap(({ heard }) => heard),
    0,
    0,
  );
  const laying = new Laying(ffmpeg, target, signal);
  try {
    for (const { take, own, heard } of found) {
      // What was said when the recording had ended is not in it.
      const laid = layBeside(own, take.byTheClocks, (atMs) => lagAt(heard, atMs, otherwise)).flatMap(({ fromMs, toMs, atMs }) =>
        atMs < lengthMs ? { fromMs, toMs: Math.min(toMs, fromMs + lengthMs - atMs), atMs } : [],
      );
      if (laid.length) await laying.put(laid, reading(take, lengthMs));
    }
    await laying.end(lengthMs);
  } catch (error) {
    laying.drop();
    throw error;
  }
  return { unread };
}

/** Samples on their way into the file, in order; what would stand where something stands already is left out. */
class Laying {
  private readonly encoder: MediaProcess;
  private written = 0;
  private gone: string | null = null;

  constructor(
    private readonly ffmpeg: string,
    target: string,
    private readonly signal: AbortSignal,
  ) {
    const from = ['-f', 's16le', '-ar', String(RATE), '-ac', '1', '-i', 'pipe:0'];
    this.encoder = new MediaProcess({
      name: 'own sound',
      ffmpeg,
      args: ['-y', ...from, '-c:a', 'flac', '-f', 'flac', target],
      onGone: (words) => (this.gone = words || 'The program that packs it ended early.'),
    });
    this.encoder.stepBack();
  }

  async put(laid: readonly Laid[], args: string[]): Promise<void> {
    await this.silenceTo(samplesOf(laid[0]!.atMs));
    let at = 0;
    let rest: Buffer = Buffer.alloc(0);
    const decoder = new MediaProcess({
      name: 'own sound',
      ffmpeg: this.ffmpeg,
      args: [...args, '-ar', String(RATE), '-f', 's16le', 'pipe:1'],
      onOutput: (bytes) => {
        const all = rest.length ? Buffer.concat([rest, bytes]) : bytes;
        const whole = all.length - (all.length % BYTES_A_SAMPLE);
        rest = all.subarray(whole);
        this.lay(laid, at, all.subarray(0, whole));
        at += whole / BYTES_A_SAMPLE;
        if (this.encoder.backlogBytes > BACKLOG_BYTES) decoder.holdBack(this.drained());
      },
      onGone: () => undefined,
    });
    decoder.stepBack();
    const stop = () => decoder.kill();
    this.signal.addEventListener('abort', stop);
    // One that breaks off has been laid as far as it goes.
    await decoder.end(MAY_TAKE_MS);
    this.signal.removeEventListener('abort', stop);
    this.signal.throwIfAborted();
  }

  /** Samples of a take from its `at`th on, each piece of it where it is laid. */
  private lay(laid: readonly Laid[], at: number, bytes: Buffer): void {
    const count = bytes.length / BYTES_A_SAMPLE;
    for (const { fromMs, toMs, atMs } of laid) {
      const [from, to] = [Math.max(at, samplesOf(fromMs)), Math.min(at + count, samplesOf(toMs))];
      if (from >= to) continue;
      const place = from + samplesOf(atMs) - samplesOf(fromMs);
      const skipped = Math.max(0, this.written - place);
      if (from + skipped >= to) continue;
      // Within one take this is some hundredths of a second.
      for (let missing = place - this.written; missing > 0; missing -= RATE) this.write(SILENCE.subarray(0, Math.min(missing, RATE) * BYTES_A_SAMPLE));
      this.write(bytes.subarray((from + skipped - at) * BYTES_A_SAMPLE, (to - at) * BYTES_A_SAMPLE));
    }
  }

  private async silenceTo(sample: number): Promise<void> {
    while (this.written < sample) {
      this.write(SILENCE.subarray(0, Math.min(sample - this.written, RATE) * BYTES_A_SAMPLE));
      if (this.encoder.backlogBytes > BACKLOG_BYTES) await this.drained();
    }
  }

  async end(lengthMs: number): Promise<void> {
    await this.silenceTo(samplesOf(lengthMs));
    if (!(await this.encoder.end(MAY_TAKE_MS))) {
      const words = this.gone ?? 'The program that packs it ended early.';
      throw Object.assign(new Error(words), /No space left/.test(words) && { code: 'ENOSPC' });
    }
  }

  drop(): void {
    this.encoder.kill();
  }

  private write(bytes: Buffer): void {
    this.encoder.write(bytes);
    this.written += bytes.length / BYTES_A_SAMPLE;
  }

  private async drained(): Promise<void> {
    while (this.encoder.backlogBytes > BACKLOG_BYTES / 2 && this.gone === null && !this.signal.aborted) await new Promise((next) => setTimeout(next, 5));
  }
}

const samplesOf = (ms: number): number => Math.round((ms * RATE) / 1_000);
