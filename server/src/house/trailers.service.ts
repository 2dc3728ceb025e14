// A trailer for those who wait: taken as whatever film the host has, kept as one that every browser plays.
import { TRAILER_MAX_BYTES, TRAILER_MAX_MS } from '@lantern/contract';
import { Inject, Injectable, Logger, type OnApplicationBootstrap } from '@nestjs/common';
import type { Request } from 'express';
import { randomBytes } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { open, readdir, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { MediaProcess } from '../media/media-process';
import { DiskSpace } from '../foundation/disk-space';
import { PlainError } from '../foundation/errors';
import { residentBytes } from '../foundation/process-use';
import { SETTINGS, type Settings } from '../foundation/settings';
import type { Show, Trailer } from '../shows/show.entities';
import { letGo } from '../foundation/let-go';
import { Bus } from '../foundation/bus';
import { ShowRows } from '../shows/show-rows';

const KINDS = 'Choose an MP4, MOV, WebM or MKV file.';
const HEIGHT = 720;
/** Films that wait, or come in, at one time. */
const MOST_WAITING = 4;
const STALLED_MS = 30_000;
const FILM_MAY_TAKE_MS = 600_000;
const FILM_MAY_HOLD_BYTES = 1_000_000_000;
/** The end of the name of a film that is still as it came. */
const INCOMING = '.incoming';

@Injectable()
export class TrailersService implements OnApplicationBootstrap {
  private readonly log = new Logger('trailers');
  /** One at a time: a show may be on air meanwhile. */
  private queue: Promise<void> = Promise.resolve();
  private waiting = 0;

  constructor(
    private readonly showRows: ShowRows,
    private readonly bus: Bus,
    private readonly disk: DiskSpace,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    const left = (await readdir(this.settings.picturesDir)).filter((file) => file.endsWith(INCOMING));
    await Promise.all(left.map((file) => rm(join(this.settings.picturesDir, file), { force: true })));
    for (const { id, trailer } of await this.showRows.withTrailer()) {
      if (trailer?.state === 'making')
        await this.showRows.setTrailer(id, { ...trailer, state: 'failed', words: 'The server stopped while it was made. Choose the film again.' });
    }
  }

  path({ id }: { id: string }): string {
    return join(this.settings.picturesDir, `${id}.trailer.mp4`);
  }

  /** Takes a film as it comes in. Answers once it is here; making it ready goes on afterwards. Throws what is wrong with it. */
  async take(show: Show, request: Request): Promise<void> {
    if (this.settings.filmFfmpeg === null) {
      throw new PlainError(
        409,
        'No films are taken here: the ffmpeg of this server is too old to be safe with them. Install a current one (apt-get install ffmpeg), then start the server again.',
      );
    }
    if ((await this.disk.look()).state === 'none')
      throw new PlainError(507, 'The disk of the server is all but full. Free some room, then send the film again.');
    if (this.waiting >= MOST_WAITING) throw new PlainError(503, 'Other films are being made ready. Send this one again in a few minutes.');
    this.waiting += 1;
    try {
      await this.takeIn(show, request);
    } catch (error) {
      this.waiting -= 1;
      throw error;
    }
  }

  private async takeIn(show: Show, request: Request): Promise<void> {
    const version = randomBytes(6).toString('base64url');
    const incoming = `${this.path(show)}.${version}${INCOMING}`;
    const tooLarge = () => new PlainError(413, `This film is larger than ${TRAILER_MAX_BYTES / 1e6} MB. Choose a shorter or smaller one.`);
    if (Number(request.headers['content-length'] ?? 0) > TRAILER_MAX_BYTES) throw tooLarge();
    let bytes = 0;
    // A slow line takes as long as it takes; one on which nothing comes any more does not hold a place.
    let stalled = setTimeout(() => request.destroy(), STALLED_MS);
    const counted = new Transform({
      transform(piece: Buffer, _encoding, next) {
        bytes += piece.length;
        clearTimeout(stalled);
        stalled = setTimeout(() => request.destroy(), STALLED_MS);
        next(bytes > TRAILER_MAX_BYTES ? tooLarge() : null, piece);
      },
    });
    try {
      await pipeline(request, counted, createWriteStream(incoming));
    } catch (error) {
      await rm(incoming, { force: true });
      throw error instanceof PlainError ? error : new PlainError(400, 'The film did not arrive whole. Send it again.');
    } finally {
      clearTimeout(stalled);
    }
    const reader = await readerOf(incoming);
    if (!reader) {
      await rm(incoming, { force: true });
      throw new PlainError(415, bytes ? `This file is not a film that can be read. ${KINDS}` : `This file is empty. ${KINDS}`);
    }
    await this.note(show.id, { version, state: 'making', lengthMs: 0, words: '' });
    this.queue = this.queue
      .then(() => this.make(show, incoming, reader, version, show.trailer))
      .catch((error: unknown) => this.log.error(String(error)))
      .finally(() => (this.waiting -= 1));
  }

  async forget(show: Show): Promise<void> {
    await this.note(show.id, null);
    await rm(this.path(show), { force: true });
  }

  private async make(show: Show, incoming: string, reader: string, version: string, before: Trailer | null): Promise<void> {
    const made = `${this.path(show)}.new.mp4`;
    let lengthMs = 0;
    let tooMuch = '';
    const complaint = await new Promise<string>((gone) => {
      const process = new MediaProcess({
        name: 'trailer',
        ffmpeg: this.settings.filmFfmpeg!,
        // The reader is named, so that a list of other files that calls itself a film is read by none; one thread leaves room for a show.
        args: [
          ...['-y', '-protocol_whitelist', 'file,pipe', '-f', reader, '-i', incoming, '-t', String(TRAILER_MAX_MS / 1000)],
          ...['-map', '0:v:0', '-map', '0:a:0?', '-map_metadata', '-1', '-sn', '-dn'],
          ...['-vf', `scale=-2:'min(${HEIGHT},ih)',format=yuv420p`, '-c:v', 'libx264', '-preset', 'veryfast', '-crf', '23', '-threads', '1', '-r', '30'],
          ...['-c:a', 'aac', '-b:a', '128k', '-ac', '2', '-movflags', '+faststart', '-progress', 'pipe:1', '-f', 'mp4', made],
        ],
        onOutput: (bytes) => {
          for (const [, micros] of String(bytes).matchAll(/^out_time_us=(\d+)/gm)) lengthMs = Math.round(Number(micros) / 1_000);
        },
        onGone: (words) => {
          clearTimeout(timer);
          clearInterval(look);
          gone(words);
        },
      });
      const end = (of: string) => {
        tooMuch = `This film takes more ${of} to read than any trailer should. Export it again, smaller.`;
        process.kill();
      };
      const timer = setTimeout(() => end('time'), FILM_MAY_TAKE_MS);
      const look = setInterval(() => {
        letGo(
          'watching a film being read',
          residentBytes(process.pid).then((resident) => resident > FILM_MAY_HOLD_BYTES && end('memory')),
        );
      }, 100);
    });
    await rm(incoming, { force: true });
    const current = await this.showRows.byId(show.id);
    // Another film was chosen meanwhile, or none after all.
    if (current?.trailer?.version !== version) return rm(made, { force: true });
    if (lengthMs === 0 || tooMuch) {
      this.log.warn(complaint);
      await rm(made, { force: true });
      const words = tooMuch || `There is no picture in that film that can be read. ${KINDS}`;
      // What was there before stays.
      return this.note(show.id, before?.state === 'ready' ? { ...before, words } : { version, state: 'failed', lengthMs: 0, words });
    }
    await rename(made, this.path(show));
    await this.note(show.id, { version, state: 'ready', lengthMs, words: '' });
  }

  private async note(showId: string, trailer: Trailer | null): Promise<void> {
    await this.showRows.setTrailer(showId, trailer);
    this.bus.tell({ kind: 'show', showId });
  }
}

/** The reader for a file by its first bytes; null: it is none of the films that are taken. */
async function readerOf(path: string): Promise<'mov' | 'matroska' | null> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(12), 0, 12, 0);
    if (bytesRead < 12) return null;
    if (buffer.readUInt32BE(0) === 0x1a45dfa3) return 'matroska'; // EBML (RFC 8794, section 4)
    return buffer.toString('latin1', 4, 8) === 'ftyp' ? 'mov' : null; // ISO/IEC 14496-12, section 4.3
  } finally {
    await file.close();
  }
}
