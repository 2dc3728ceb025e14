// Takes films and sounds of strangers as they come in, and has ffmpeg make of them what is kept: one at a time, with a limit of time and
// memory, by a reader that is named and not guessed.
import { Inject, Injectable } from '@nestjs/common';
import { createWriteStream } from 'node:fs';
import { open, rm } from 'node:fs/promises';
import type { IncomingHttpHeaders } from 'node:http';
import { Transform, type Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { DiskSpace } from '../foundation/disk-space';
import { PlainError } from '../foundation/errors';
import { letGo } from '../foundation/let-go';
import { residentBytes } from '../foundation/process-use';
import { SETTINGS, type Settings } from '../foundation/settings';
import { TurnByTurn } from '../foundation/together';
import { MediaProcess } from '../media/media-process';

/** Files that wait, or come in, at one time. */
const MOST_WAITING = 4;
const STALLED_MS = 30_000;
const MAY_TAKE_MS = 600_000;
const MAY_HOLD_BYTES = 1_000_000_000;
/** What ffmpeg may tell of a file: more is a file that is made to. */
const MOST_OUTPUT_CHARS = 20_000_000;

/** Readers of ffmpeg, by their own names. */
export type FilmReader = 'mov' | 'matroska' | 'wav' | 'mp3' | 'ogg' | 'flac';

/** A file as it comes: the body of a request, as a rule. */
export type Incoming = Readable & { headers: Pick<IncomingHttpHeaders, 'content-length'> };

/** What is taken. `what`: in a word; `kinds`: what to choose instead, as a sentence. */
export interface Taking {
  what: 'film' | 'clip';
  mostBytes: number;
  readers: readonly FilmReader[];
  kinds: string;
}

/** What came of one run. `tooMuch`: why it was stopped, in words; `complaint`: ffmpeg's own last words. */
export interface Made {
  lengthMs: number;
  tooMuch: string;
  complaint: string;
  output: string;
}
/** Runs ffmpeg over the file that was taken; `args`: what follows the input; `onMade`: told how much has been made, in ms. */
export type RunFilm = (args: readonly string[], signal?: AbortSignal, onMade?: (lengthMs: number) => void) => Promise<Made>;

/** A file that is here. It holds a place among those that wait until its work is done. */
export interface TakenFilm {
  /** Does `work` when it is its turn, then removes the file. */
  inTurn: (work: (run: RunFilm) => Promise<void>) => Promise<void>;
}

@Injectable()
export class ForeignFilms {
  /** One at a time: a show may be on air meanwhile. */
  private readonly turns = new TurnByTurn();
  private waiting = 0;

  constructor(
    private readonly disk: DiskSpace,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  /** Takes a file as it comes in, to `path`. Throws what is wrong with it, and leaves nothing then. */
  async take(request: Incoming, path: string, taking: Taking): Promise<TakenFilm> {
    const { what, mostBytes, readers, kinds } = taking;
    const { filmFfmpeg } = this.settings;
    if (filmFfmpeg === null) {
      throw new PlainError(
        409,
        `No ${what}s are taken here: the ffmpeg of this server is too old to be safe with them. Install a current one (apt-get install ffmpeg), then start the server again.`,
      );
    }
    if ((await this.disk.look()).state === 'none')
      throw new PlainError(507, `The disk of the server is all but full. Free some room, then send the ${what} again.`);
    const tooLarge = () => new PlainError(413, `This ${what} is larger than ${mostBytes / 1e6} MB. Choose a shorter or smaller one.`);
    if (Number(request.headers['content-length'] ?? 0) > mostBytes) throw tooLarge();
    if (this.waiting >= MOST_WAITING) throw new PlainError(503, 'Other files are being made ready. Send this one again in a few minutes.');
    this.waiting += 1;
    try {
      const bytes = await receive(request, path, mostBytes, tooLarge, what);
      const reader = await readerOf(path);
      if (!reader || !readers.includes(reader))
        throw new PlainError(415, bytes ? `This file is not a ${what} that can be read. ${kinds}` : `This file is empty. ${kinds}`);
      return { inTurn: (work) => this.inTurn(path, work, (args, signal, onMade) => run({ ffmpeg: filmFfmpeg, path, reader, what, args, signal, onMade })) };
    } catch (error) {
      this.waiting -= 1;
      await rm(path, { force: true });
      throw error;
    }
  }

  private async inTurn(path: string, work: (run: RunFilm) => Promise<void>, by: RunFilm): Promise<void> {
    try {
      await this.turns.run('', () => work(by));
    } finally {
      this.waiting -= 1;
      await rm(path, { force: true });
    }
  }
}

/** Answers how many bytes have come. A slow line takes as long as it takes; one on which nothing comes any more does not hold a place. */
async function receive(request: Incoming, path: string, mostBytes: number, tooLarge: () => PlainError, what: string): Promise<number> {
  let bytes = 0;
  let stalled = setTimeout(() => request.destroy(), STALLED_MS);
  const counted = new Transform({
    transform(piece: Buffer, _encoding, next) {
      bytes += piece.length;
      clearTimeout(stalled);
      stalled = setTimeout(() => request.destroy(), STALLED_MS);
      next(bytes > mostBytes ? tooLarge() : null, piece);
    },
  });
  try {
    await pipeline(request, counted, createWriteStream(path));
    return bytes;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOSPC')
      throw new PlainError(507, `The disk of the server is full. Free some room, then send the ${what} again.`);
    throw error instanceof PlainError ? error : new PlainError(400, `The ${what} did not arrive whole. Send it again.`);
  } finally {
    clearTimeout(stalled);
  }
}

interface Running {
  ffmpeg: string;
  path: string;
  reader: FilmReader;
  what: string;
  args: readonly string[];
  signal?: AbortSignal | undefined;
  onMade?: ((lengthMs: number) => void) | undefined;
}

async function run({ ffmpeg, path, reader, what, args, signal, onMade }: Running): Promise<Made> {
  const made: Made = { lengthMs: 0, tooMuch: '', complaint: '', output: '' };
  if (signal?.aborted) return made;
  made.complaint = await new Promise<string>((gone) => {
    const process = new MediaProcess({
      name: what,
      ffmpeg,
      // The reader is named, so that a list of other files that calls itself a film is read by none.
      args: ['-y', '-protocol_whitelist', 'file,pipe', '-f', reader, '-i', path, '-map_metadata', '-1', '-sn', '-dn', ...args],
      onOutput: (bytes) => {
        const text = String(bytes);
        for (const [, micros] of text.matchAll(/^out_time_us=(\d+)/gm)) made.lengthMs = Math.round(Number(micros) / 1_000);
        onMade?.(made.lengthMs);
        made.output += text;
        if (made.output.length > MOST_OUTPUT_CHARS) end('room');
      },
      onGone: (words) => {
        clearTimeout(timer);
        clearInterval(look);
        signal?.removeEventListener('abort', kill);
        gone(words);
      },
    });
    const kill = () => process.kill();
    const end = (of: string) => {
      made.tooMuch = `This ${what} takes more ${of} to read than any should. Export it again, smaller.`;
      kill();
    };
    signal?.addEventListener('abort', kill, { once: true });
    const timer = setTimeout(() => end('time'), MAY_TAKE_MS);
    const look = setInterval(() => {
      letGo(
        `watching a ${what} being read`,
        residentBytes(process.pid).then((resident) => resident > MAY_HOLD_BYTES && end('memory')),
      );
    }, 100);
  });
  return made;
}

/** The reader for a file by its first bytes; null: it is none of those that are taken. */
async function readerOf(path: string): Promise<FilmReader | null> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(12), 0, 12, 0);
    if (bytesRead < 12) return null;
    const four = (at: number) => buffer.toString('latin1', at, at + 4);
    if (buffer.readUInt32BE(0) === 0x1a45dfa3) return 'matroska'; // EBML (RFC 8794, section 4)
    if (four(4) === 'ftyp') return 'mov'; // ISO/IEC 14496-12, section 4.3
    if (four(0) === 'RIFF' && four(8) === 'WAVE') return 'wav'; // EBU Tech 3285, section 2
    if (four(0) === 'OggS') return 'ogg'; // RFC 3533, section 6
    if (four(0) === 'fLaC') return 'flac'; // RFC 9639, section 6
    // ISO/IEC 11172-3, 2.4.2.3: a frame of layer III; or what is told before the first one.
    return four(0).startsWith('ID3') || (buffer[0] === 0xff && (buffer[1]! & 0xe6) === 0xe2) ? 'mp3' : null;
  } finally {
    await file.close();
  }
}
