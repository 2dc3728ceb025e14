// A recording looked through once, so that it can be cut: small pictures of it on one sheet, how loud it is, and when each of its pictures is shown.
import { flvHeader, flvTagBytes, isEndOfSequence, isKeyFrame, isSequenceHeader, shownAt, type FlvTag, type PictureTimes } from '@lantern/core';
import { open, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { breathe } from '../foundation/breathe';
import { MediaProcess, READ_FLV } from '../media/media-process';
import { runToEnd } from '../media/run-to-end';
import { tagsFrom } from '../media/tags-from';

const WIDTH = 160;
const HEIGHT = 90;
const COLUMNS = 16;
const MOST_PICTURES = 240;
const LEAST_APART_MS = 2_000;
const SOUND_EVERY_MS = 100;
const SOUND_RATE = 8_000;
const KEY = 0x8000_0000;
const BACKLOG_BYTES = 4_000_000;
const PATIENCE_MS = 60_000;

/** `bytes` and `changedMs`: of the recording that was looked through. */
export interface Survey {
  bytes: number;
  changedMs: number;
  strip: { everyMs: number; count: number };
  sound: { count: number };
  reordered: boolean;
}

export const STRIP = { width: WIDTH, height: HEIGHT, columns: COLUMNS };
export const SOUND = { everyMs: SOUND_EVERY_MS };
const NAMES = { survey: 'survey.json', strip: 'survey-strip.jpg', sound: 'survey-sound.bin', times: 'survey-times.bin' };
export const surveyFile = (folder: string, which: keyof typeof NAMES): string => join(folder, NAMES[which]);

/** What was found of the recording that lies there now; null: nobody has looked yet, or at another. */
export async function surveyOf(folder: string, recording: string): Promise<Survey | null> {
  try {
    const survey = JSON.parse(await readFile(surveyFile(folder, 'survey'), 'utf8')) as Survey;
    const { size, mtimeMs } = await stat(recording);
    return survey.bytes === size && survey.changedMs === mtimeMs ? survey : null;
  } catch {
    return null;
  }
}

/** Looks through a recording of `lengthMs`. Everything else on the machine goes first. */
export async function makeSurvey(ffmpeg: string, folder: string, recording: string, lengthMs: number, signal: AbortSignal): Promise<void> {
  const { size, mtimeMs } = await stat(recording);
  await rm(surveyFile(folder, 'survey'), { force: true });
  const strip = { everyMs: Math.max(LEAST_APART_MS, Math.ceil(lengthMs / MOST_PICTURES)), count: 0 };
  strip.count = Math.max(1, Math.ceil(lengthMs / strip.everyMs));
  const sheet = new SheetOfPictures(ffmpeg, surveyFile(folder, 'strip'), strip, signal);
  const { reordered, times } = await picturesOf(ffmpeg, recording, sheet, signal);
  await writeFile(surveyFile(folder, 'times'), times);
  const sound = await soundOf(ffmpeg, recording, signal);
  await writeFile(surveyFile(folder, 'sound'), sound);
  const survey: Survey = { bytes: size, changedMs: mtimeMs, strip, sound: { count: sound.length }, reordered };
  await writeFile(`${surveyFile(folder, 'survey')}.new`, JSON.stringify(survey));
  await rename(`${surveyFile(folder, 'survey')}.new`, surveyFile(folder, 'survey'));
}

/** When the pictures of a recording are shown. */
export async function timesOf(folder: string, { reordered }: Survey): Promise<PictureTimes> {
  const all = wordsIn(await readFile(surveyFile(folder, 'times')));
  return { atMs: all.map((each) => each & ~KEY), keysAtMs: all.filter((each) => each >= KEY).map((each) => each & ~KEY), reordered };
}

/** The times of the pictures of a recording from `fromMs` to `toMs`, at most so many. */
export async function timesBetween(folder: string, fromMs: number, toMs: number, most: number): Promise<number[]> {
  const file = await open(surveyFile(folder, 'times'));
  try {
    const { size } = await file.stat();
    const one = Buffer.alloc(4);
    const at = async (index: number) => {
      await file.read(one, 0, 4, index * 4);
      return one.readUInt32LE(0) & ~KEY;
    };
    let [low, high] = [0, size >> 2];
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((await at(middle)) < fromMs) low = middle + 1;
      else high = middle;
    }
    const bytes = Buffer.alloc(4 * Math.min(most, (size >> 2) - low));
    await file.read(bytes, 0, bytes.length, low * 4);
    return [...wordsIn(bytes)].map((each) => each & ~KEY).filter((ms) => ms < toMs);
  } finally {
    await file.close();
  }
}

function wordsIn(bytes: Buffer): Uint32Array {
  return new Uint32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + (bytes.length & ~3)));
}

/** Small pictures of a recording on one sheet, one for each stretch of it: the key picture that is seen as it begins. Only those are decoded. */
class SheetOfPictures {
  private readonly media: MediaProcess;
  private words = '';
  private gone = false;
  private written = 0;
  private last: FlvTag | null = null;
  private readonly stop = () => this.media.kill();

  constructor(
    ffmpeg: string,
    target: string,
    private readonly strip: Survey['strip'],
    private readonly signal: AbortSignal,
  ) {
    const tile = `${COLUMNS}x${Math.ceil(strip.count / COLUMNS)}`;
    const filters = `scale=${WIDTH}:${HEIGHT}:force_original_aspect_ratio=decrease,pad=${WIDTH}:${HEIGHT}:-1:-1,tile=${tile}`;
    this.media = new MediaProcess({
      name: 'sheet of pictures',
      ffmpeg,
      args: ['-y', '-threads', '1', ...READ_FLV, '-an', '-vf', filters, '-vsync', '0', '-frames:v', '1', '-q:v', '5', '-f', 'image2', target],
      onGone: (words) => {
        this.words = words;
        this.gone = true;
      },
    });
    this.media.stepBack();
    signal.addEventListener('abort', this.stop);
    this.media.write(flvHeader());
  }

  /** What the pictures after it are decoded with. */
  head(tag: FlvTag): void {
    this.media.write(flvTagBytes(tag, this.timeOf(this.written)));
  }

  async key(tag: FlvTag): Promise<void> {
    // Whatever is seen before the first is that one.
    while (this.written < this.strip.count && this.last && this.written * this.strip.everyMs < shownAt(tag)) await this.put(this.last);
    this.last = tag;
  }

  /** Throws where it could not be made. */
  async end(): Promise<void> {
    while (this.written < this.strip.count && this.last) await this.put(this.last);
    const well = await this.media.end(PATIENCE_MS);
    this.signal.removeEventListener('abort', this.stop);
    this.signal.throwIfAborted();
    if (!well) throw new Error(this.words || 'The program that draws the sheet of pictures ended early.');
  }

  drop(): void {
    this.signal.removeEventListener('abort', this.stop);
    this.media.kill();
  }

  private async put(tag: FlvTag): Promise<void> {
    this.media.write(flvTagBytes(tag, this.timeOf(this.written++)));
    while (this.media.backlogBytes > BACKLOG_BYTES && !this.gone && !this.signal.aborted) await breathe();
  }

  private timeOf(index: number): number {
    return index * this.strip.everyMs;
  }
}

async function picturesOf(ffmpeg: string, recording: string, sheet: SheetOfPictures, signal: AbortSignal): Promise<{ reordered: boolean; times: Buffer }> {
  const times: number[] = [];
  let reordered = false;
  try {
    for await (const tag of tagsFrom(ffmpeg, ['-i', recording, '-an', '-c:v', 'copy', '-copyts'], signal)) {
      if (tag.kind !== 'video' || isEndOfSequence(tag)) continue;
      if (isSequenceHeader(tag)) {
        sheet.head(tag);
        continue;
      }
      const shownMs = shownAt(tag);
      reordered ||= shownMs < (times.at(-1) ?? 0) % KEY;
      times.push(isKeyFrame(tag) ? shownMs + KEY : shownMs);
      if (isKeyFrame(tag)) await sheet.key(tag);
      if (times.length % 2_000 === 0) await breathe();
    }
    await sheet.end();
  } catch (error) {
    sheet.drop();
    throw error;
  }
  times.sort((a, b) => (a % KEY) - (b % KEY));
  const bytes = Buffer.alloc(times.length * 4);
  times.forEach((ms, at) => bytes.writeUInt32LE(ms, at * 4));
  return { reordered, times: bytes };
}

/** Root mean square of each tenth of a second. */
async function soundOf(ffmpeg: string, recording: string, signal: AbortSignal): Promise<Buffer> {
  const levels: number[] = [];
  const block = (SOUND_RATE * SOUND_EVERY_MS) / 1_000;
  let rest: Buffer = Buffer.alloc(0);
  let sum = 0;
  let count = 0;
  const take = (output: Buffer) => {
    const bytes = rest.length ? Buffer.concat([rest, output]) : output;
    let at = 0;
    for (; at + 2 <= bytes.length; at += 2) {
      const sample = bytes.readInt16LE(at) / 32_768;
      sum += sample * sample;
      count += 1;
      if (count < block) continue;
      levels.push(Math.round(Math.min(100, Math.max(0, 100 + 10 * Math.log10(sum / count || 1e-10)))));
      [sum, count] = [0, 0];
    }
    rest = bytes.subarray(at);
  };
  // A recording without sound is silent, and no fault.
  const args = ['-i', recording, '-vn', '-ac', '1', '-af', 'aresample=async=1:first_pts=0', '-ar', String(SOUND_RATE)];
  await runToEnd(ffmpeg, [...args, '-f', 's16le', 'pipe:1'], take, signal).catch((error: unknown) => {
    if (levels.length || signal.aborted || !/does not contain any stream/.test(String(error))) throw error;
  });
  return Buffer.from(levels);
}
