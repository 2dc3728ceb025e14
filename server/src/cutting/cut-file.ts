// The file of a cut: pictures and sound of what is kept, one after the other, copied wherever that can be.
import {
  flvHeader,
  flvTagBytes,
  isEndOfSequence,
  isKeyFrame,
  isSequenceHeader,
  lengthOfParts,
  partsOfCut,
  piecesOf,
  pictureSizeOf,
  PicturesWithTheirSets,
  shownAt,
  soundOf,
  USUAL_TARGET_LUFS,
  type Chapter,
  type CutPiece,
  type FlvTag,
  type Passage,
  type PictureTimes,
} from '@lantern/core';
import { randomUUID } from 'node:crypto';
import { readdir, rename, rm, writeFile } from 'node:fs/promises';
import { join as pathOf } from 'node:path';
import { MediaProcess } from '../media/media-process';
import { lastNumber, runToEnd, runToFile } from '../media/run-to-end';
import { tagsFrom } from '../media/tags-from';

const BACKLOG_BYTES = 8_000_000;
const MAY_TAKE_MS = 30 * 60_000;
/** Sought a little before, so that rounding loses no picture; what is not kept is left out by its own time. */
const SEEK_BEFORE_MS = 0.4;
const SOUND_BEFORE_MS = 300;
/** By so much what is encoded may have been moved in rounding; pictures are further apart. */
const ROUNDED_MS = 2;
/** Pictures a second of a still. */
const CARD_RATE = 30;
/** Samples in a frame of AAC (ISO/IEC 14496-3, 4.5.1.1). */
const AAC_SAMPLES = 1_024;
/** Quieter than this is no show, and stays as it is, in LUFS. */
const TOO_QUIET_LUFS = -50;
/** Where joining it ends and bringing it to its loudness begins, as a share of the work. */
const LEVELLED_FROM = 0.3;
const HALF = /\.mp4\.[^/]+\.(joined\.mp4|levelled\.mp4|chapters|card\.png)$/;
/** Full scale less one decibel. */
const CEILING = 0.891;

export interface CutOrder {
  recording: string;
  /** Where it is put once it is whole. */
  target: string;
  /** In order. */
  kept: readonly Passage[];
  times: PictureTimes;
  /** In ms of the cut. */
  chapters: readonly Chapter[];
  levelled: boolean;
  /** A still picture that stands before all of it, in silence; null: none. */
  card: { png: Buffer; lastsMs: number } | null;
}

/** Makes the file; returns its length in ms. Throws where it cannot be made, or `signal` says stop; nothing is left then. `onProgress` gets a share of 1. */
export async function makeCutFile(ffmpeg: string, order: CutOrder, onProgress: (share: number) => void, signal: AbortSignal): Promise<number> {
  const { target, chapters, levelled, kept, card } = order;
  // Of its own: what a killed server had begun may still be written to by whatever it had begun it with.
  const own = `${target}.${randomUUID()}`;
  const [joined, names, level, still] = [`${own}.joined.mp4`, `${own}.chapters`, `${own}.levelled.mp4`, `${own}.card.png`];
  try {
    await writeFile(names, chaptersFile(chapters, (card?.lastsMs ?? 0) + lengthOfParts(partsOfCut(kept))));
    if (card) await writeFile(still, card.png);
    const lengthMs = await join(ffmpeg, order, { joined, names, still }, (share) => onProgress(share * (levelled ? LEVELLED_FROM : 0.99)), signal);
    if (levelled) await levelTo(ffmpeg, joined, level, (ms) => onProgress(Math.min(0.99, LEVELLED_FROM + (1 - LEVELLED_FROM) * (ms / lengthMs / 2))), signal);
    await rename(levelled ? level : joined, target);
    return lengthMs;
  } finally {
    for (const path of [joined, names, level, still]) await rm(path, { force: true });
  }
}

/** What was begun of files whose names begin so, and never became them. */
export async function removeHalves(folder: string, prefix: string): Promise<void> {
  for (const name of await readdir(folder)) if (name.startsWith(prefix) && HALF.test(name)) await rm(pathOf(folder, name), { force: true });
}

async function join(
  ffmpeg: string,
  { recording, kept, times, card }: CutOrder,
  { joined, names, still }: Record<'joined' | 'names' | 'still', string>,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<number> {
  let lastWords = '';
  let gone = false;
  const mp4 = new MediaProcess({
    name: 'cut',
    ffmpeg,
    args: [
      // Beside a second input each wait for the first takes a hundredth of a second: so many packets may have come by then.
      ...['-y', '-thread_queue_size', '1024', '-f', 'flv', '-i', 'pipe:0'],
      ...['-f', 'ffmetadata', '-i', names, '-map', '0', '-map_metadata', '1', '-map_chapters', '1'],
      // All of the file is shown: an edit list may take its last picture off it.
      ...['-c', 'copy', '-use_editlist', '0', '-movflags', '+faststart', '-f', 'mp4', joined],
    ],
    onGone: (words) => {
      lastWords = words;
      gone = true;
    },
  });
  mp4.stepBack();
  try {
    const leadMs = card?.lastsMs ?? 0;
    const parts = partsOfCut(kept, leadMs);
    const lengthMs = leadMs + lengthOfParts(parts);
    const line = new CutLine();
    mp4.write(flvHeader());
    const give = async (video: AsyncGenerator<FlvTag>, audio: AsyncGenerator<FlvTag>, atMs: number, passage: Passage) => {
      try {
        for await (const tag of line.passage(video, audio, atMs, passage)) {
          mp4.write(flvTagBytes(tag));
          while (mp4.backlogBytes > BACKLOG_BYTES && !gone) await new Promise((next) => setTimeout(next, 5));
          if (gone) throw new Error(lastWords || 'The program that packs it ended early.');
          onProgress(Math.min(1, Math.max(0, tag.timestampMs / lengthMs)));
        }
      } finally {
        await Promise.all([video.return(undefined), audio.return(undefined)]);
      }
    };
    if (card) {
      const heads = await headsOf(ffmpeg, recording, signal);
      const own = { fromMs: 0, toMs: leadMs };
      await give(cardPictures(ffmpeg, still, leadMs, heads, signal), silenceLike(ffmpeg, leadMs, heads, signal), 0, own);
    }
    const begun = line.pictures;
    for (const [at, passage] of kept.entries()) {
      const video = picturesOf(ffmpeg, recording, passage, times, signal);
      await give(video, soundOfPassage(ffmpeg, recording, passage, signal), parts[at]!.atMs, passage);
    }
    if (line.pictures === begun) throw new Error('There is no picture in what is kept.');
    if (!(await mp4.end(MAY_TAKE_MS))) throw new Error(lastWords || 'The program that packs it ended early.');
    return lengthMs;
  } catch (error) {
    mp4.kill();
    await mp4.end();
    throw error;
  }
}

/** With what pictures and sound of a recording begin; null: it has none. */
interface Heads {
  video: FlvTag | null;
  audio: FlvTag | null;
}

async function headsOf(ffmpeg: string, recording: string, signal: AbortSignal): Promise<Heads> {
  const heads: Heads = { video: null, audio: null };
  for await (const tag of tagsFrom(ffmpeg, ['-i', recording, '-t', '0.5', '-c', 'copy'], signal)) {
    if (isSequenceHeader(tag) && (tag.kind === 'video' || tag.kind === 'audio')) heads[tag.kind] ??= tag;
    if (heads.video && heads.audio) break;
  }
  return heads;
}

/** A still as pictures of the same size. */
async function* cardPictures(ffmpeg: string, picture: string, lastsMs: number, { video }: Heads, signal: AbortSignal): AsyncGenerator<FlvTag> {
  const size = video && pictureSizeOf(video);
  if (!size) throw new Error('The size of its pictures cannot be read.');
  const fit = `${size.width}:${size.height}`;
  const filters = `scale=${fit}:force_original_aspect_ratio=decrease,pad=${fit}:-1:-1,setsar=1`;
  const still = ['-loop', '1', '-framerate', String(CARD_RATE), '-t', seconds(lastsMs), '-i', picture, '-an', '-vf', filters];
  const encoding = ['-c:v', 'libx264', '-preset', 'veryfast', '-tune', 'stillimage', '-crf', '17', '-bf', '0', '-g', '60', '-pix_fmt', 'yuv420p'];
  for await (const tag of tagsFrom(ffmpeg, [...still, ...encoding], signal))
    if (tag.kind === 'video' && !isEndOfSequence(tag) && (isSequenceHeader(tag) || tag.timestampMs < lastsMs)) yield tag;
}

/** Silence of the same kind as the sound that follows; nothing where there is none. */
async function* silenceLike(ffmpeg: string, lastsMs: number, { audio }: Heads, signal: AbortSignal): AsyncGenerator<FlvTag> {
  const kind = audio && soundOf(audio);
  if (!audio || !kind) return;
  yield audio;
  const silence = `anullsrc=r=${kind.rate}:cl=${kind.channels === 1 ? 'mono' : 'stereo'}`;
  const args = ['-f', 'lavfi', '-t', seconds(lastsMs + 500), '-i', silence, '-c:a', 'aac', '-b:a', '96k'];
  for await (const tag of tagsFrom(ffmpeg, args, signal)) if (tag.kind === 'audio' && !isSequenceHeader(tag)) yield tag;
}

/** The one line of time of a cut. Times of pictures are their decoding times, as FLV has them. */
class CutLine {
  private readonly sets = new PicturesWithTheirSets('whole');
  private readonly last = { audio: -1, video: -1 };
  private frameMs = (AAC_SAMPLES * 1_000) / 48_000;
  /** Where the sound so far ends if each frame is as long as it is. */
  private soundEndsMs = 0;
  private hasSoundHead = false;
  pictures = 0;

  /** The tags of one passage, which stands at `atMs` of the cut, in order of time. */
  async *passage(video: AsyncGenerator<FlvTag>, audio: AsyncGenerator<FlvTag>, atMs: number, { fromMs, toMs }: Passage): AsyncGenerator<FlvTag> {
    const shiftMs = atMs - fromMs;
    let picture = await nextOf(video);
    let sound = await nextOf(audio);
    while (picture || sound) {
      if (picture && (isSequenceHeader(picture) || !sound || picture.timestampMs <= sound.timestampMs)) {
        const placed = this.placePicture(picture, shiftMs);
        if (placed) yield placed;
        picture = await nextOf(video);
      } else {
        const placed = this.placeSound(sound!, shiftMs, atMs + toMs - fromMs);
        if (placed) yield placed;
        sound = await nextOf(audio);
      }
    }
  }

  private placePicture(tag: FlvTag, shiftMs: number): FlvTag | null {
    if (isSequenceHeader(tag)) return this.sets.push({ ...tag, timestampMs: Math.max(0, this.last.video) });
    const shownMs = shownAt(tag) + shiftMs;
    // What is decoded earlier than it is shown begins earlier than what was encoded just before it ends.
    const timestampMs = Math.max(0, this.last.video + 1, tag.timestampMs + shiftMs);
    this.last.video = timestampMs;
    this.pictures += 1;
    const data = tag.data.slice();
    const offset = Math.max(0, shownMs - timestampMs);
    data.set([(offset >> 16) & 0xff, (offset >> 8) & 0xff, offset & 0xff], 2);
    return this.sets.push({ ...tag, timestampMs, data });
  }

  /** Whole frames, so many that they are never half a frame longer or shorter than the pictures. */
  private placeSound(tag: FlvTag, shiftMs: number, endsMs: number): FlvTag | null {
    if (isSequenceHeader(tag)) {
      const { rate } = soundOf(tag) ?? { rate: 48_000 };
      this.frameMs = (AAC_SAMPLES * 1_000) / rate;
      if (this.hasSoundHead) return null;
      this.hasSoundHead = true;
      return { ...tag, timestampMs: Math.max(0, this.last.audio) };
    }
    const begins = tag.timestampMs + shiftMs;
    if (begins < this.soundEndsMs - this.frameMs / 2 || begins + this.frameMs / 2 > endsMs) return null;
    const timestampMs = Math.max(0, this.last.audio + 1, Math.round(begins));
    this.last.audio = timestampMs;
    this.soundEndsMs = begins + this.frameMs;
    return { ...tag, timestampMs };
  }
}

/** The pictures of a passage, in the times of the recording. */
async function* picturesOf(ffmpeg: string, recording: string, passage: Passage, times: PictureTimes, signal: AbortSignal): AsyncGenerator<FlvTag> {
  for (const piece of piecesOf(passage, times)) {
    for await (const tag of tagsFrom(ffmpeg, pieceArgs(recording, piece), signal)) {
      if (tag.kind !== 'video' || isEndOfSequence(tag)) continue;
      if (isSequenceHeader(tag)) {
        yield tag;
        continue;
      }
      const shownMs = shownAt(tag) + (piece.how === 'encode' ? ROUNDED_MS : 0);
      // Where pictures are decoded in another order a group ends with the key frame of the next.
      if (shownMs >= piece.toMs && (!times.reordered || piece.how === 'encode' || isKeyFrame(tag))) break;
      if (shownMs >= piece.fromMs) yield tag;
    }
  }
}

function pieceArgs(recording: string, { how, fromMs, toMs }: CutPiece): string[] {
  // A copy begins with the key frame at or before what is sought.
  const seek = how === 'copy' ? fromMs + SEEK_BEFORE_MS : Math.max(0, fromMs - SEEK_BEFORE_MS);
  const read = ['-copyts', '-ss', seconds(seek), ...(how === 'encode' ? ['-t', seconds(toMs - fromMs + 500)] : []), '-i', recording, '-an'];
  const picture = [
    '-c:v',
    'libx264',
    '-preset',
    'veryfast',
    '-crf',
    '17',
    '-bf',
    '0',
    '-enc_time_base',
    '1:1000',
    '-g',
    '600',
    '-pix_fmt',
    'yuv420p',
    '-vsync',
    'passthrough',
  ];
  return [...read, ...(how === 'copy' ? ['-c:v', 'copy'] : picture)];
}

async function* soundOfPassage(ffmpeg: string, recording: string, { fromMs, toMs }: Passage, signal: AbortSignal): AsyncGenerator<FlvTag> {
  const args = ['-copyts', '-ss', seconds(Math.max(0, fromMs - SOUND_BEFORE_MS)), '-i', recording, '-vn', '-c:a', 'copy'];
  try {
    for await (const tag of tagsFrom(ffmpeg, args, signal)) {
      if (tag.kind !== 'audio') continue;
      if (tag.timestampMs >= toMs && !isSequenceHeader(tag)) return;
      yield tag;
    }
  } catch (error) {
    if (!/does not contain any stream/.test(String(error))) throw error;
  }
}

/** Brings the sound to the usual loudness, in one go; the pictures are copied. `onProgress` gets what was read in ms: it is read twice. */
async function levelTo(ffmpeg: string, from: string, to: string, onProgress: (ms: number) => void, signal: AbortSignal): Promise<void> {
  let text = '';
  const measure = ['-progress', 'pipe:1', '-i', from, '-vn', '-af', 'ebur128=metadata=1,ametadata=mode=print:key=lavfi.r128.I:file=-', '-f', 'null', '-'];
  let readMs = 0;
  const listen = (bytes: Buffer) => {
    text = (text + String(bytes)).slice(-2_000);
    lastNumber(bytes, /pts_time:([\d.]+)/g, 1 / 1_000, (ms) => onProgress((readMs = ms)));
  };
  await runToEnd(ffmpeg, measure, listen, signal).catch((error: unknown) => {
    if (!/does not contain any stream/.test(String(error))) throw error;
  });
  const lufs = Number(
    text
      .match(/lavfi\.r128\.I=(-?[\d.]+)/g)
      ?.at(-1)
      ?.split('=')[1] ?? NaN,
  );
  const gain = lufs > TOO_QUIET_LUFS ? USUAL_TARGET_LUFS - lufs : 0;
  const sound = ['-c:a', 'aac', '-b:a', '160k', '-af', `volume=${gain.toFixed(2)}dB,alimiter=limit=${CEILING}:level=disabled`];
  await runToFile(
    ffmpeg,
    ['-y', '-i', from, '-map', '0', '-c', 'copy', ...sound, '-use_editlist', '0', '-movflags', '+faststart', '-f', 'mp4', to],
    (ms) => onProgress(readMs + ms),
    signal,
  );
}

/** ffmpeg's own form for chapters; what has a meaning in it is escaped. */
function chaptersFile(chapters: readonly Chapter[], lengthMs: number): string {
  const all = chapters.map(({ atMs, name }, at) => {
    const end = Math.round(chapters[at + 1]?.atMs ?? lengthMs);
    return `[CHAPTER]\nTIMEBASE=1/1000\nSTART=${Math.round(atMs)}\nEND=${end}\ntitle=${name.replace(/[=;#\\\n]/g, '\\$&')}\n`;
  });
  return [';FFMETADATA1\n', ...all].join('');
}

const seconds = (ms: number): string => (ms / 1_000).toFixed(4);

const nextOf = async (tags: AsyncGenerator<FlvTag>): Promise<FlvTag | null> => {
  const { done, value } = await tags.next();
  return done ? null : value;
};
