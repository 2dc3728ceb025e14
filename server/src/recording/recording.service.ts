// The station's own recording: all stretches of a show in one file that plays and seeks. Stretches
// that were cut short (a server that was killed) are converted again from the pieces as received.
import { flvHeader, FlvReader, flvTagBytes, ProgrammeSplicer } from '@lantern/core';
import { Inject, Injectable, Logger } from '@nestjs/common';
import { createReadStream, createWriteStream, existsSync } from 'node:fs';
import { mkdir, readdir, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { finished } from 'node:stream/promises';
import { Subject } from 'rxjs';
import { DataSource } from 'typeorm';
import { recordingFolder } from '../air/air-session';
import { MediaProcess } from '../air/media-process';
import { stretchFiles, webmToFlvArgs } from '../air/stretch';
import { SETTINGS, type Settings } from '../foundation/settings';
import { Show } from '../shows/show.entities';

const BACKLOG_BYTES = 8_000_000;
const WHOLE_SHOW_MAY_TAKE_MS = 30 * 60_000;

@Injectable()
export class RecordingService {
  private readonly log = new Logger('recording');
  /** Identifiers of shows whose recording came to be, or failed. */
  readonly changes = new Subject<string>();
  private readonly making = new Map<string, Promise<void>>();

  constructor(
    private readonly database: DataSource,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  file(showId: string): string {
    return join(recordingFolder(this.settings, showId), 'recording.mp4');
  }

  /** Makes the recording of a show that is over; a second call while one is at work waits for that. */
  make(showId: string): Promise<void> {
    let work = this.making.get(showId);
    if (!work) {
      work = this.makeAlone(showId).finally(() => this.making.delete(showId));
      this.making.set(showId, work);
    }
    return work;
  }

  private async makeAlone(showId: string): Promise<void> {
    const shows = this.database.getRepository(Show);
    await shows.update({ id: showId }, { recording: 'making' });
    try {
      const recordingMs = await this.join(showId);
      await shows.update({ id: showId }, { recording: recordingMs > 0 ? 'ready' : 'none', recordingMs });
    } catch (error) {
      this.log.error(error instanceof Error ? error.message : String(error));
      await shows.update({ id: showId }, { recording: 'failed' });
    }
    this.changes.next(showId);
  }

  /** Puts the stretches end to end into one MP4; returns its length in ms, 0 when there is nothing. */
  private async join(showId: string): Promise<number> {
    const folder = recordingFolder(this.settings, showId);
    await mkdir(folder, { recursive: true });
    const numbers = (await readdir(folder)).map((name) => Number(/^stretch-(\d+)\.webm$/.exec(name)?.[1] ?? 0)).filter(Boolean);
    numbers.sort((a, b) => a - b);
    for (const number of numbers) await this.complete(folder, number);
    const unfinished = join(folder, 'recording.new.mp4');
    const splicer = new ProgrammeSplicer();
    const packer = new Promise<string>((resolve) => {
      void this.pack(folder, numbers, splicer, unfinished, resolve);
    });
    const complaint = await packer;
    if (splicer.lengthMs === 0) {
      await rm(unfinished, { force: true });
      return 0;
    }
    if (complaint) throw new Error(`The recording could not be packed: ${complaint}`);
    await rename(unfinished, this.file(showId));
    return splicer.lengthMs;
  }

  private async pack(folder: string, numbers: number[], splicer: ProgrammeSplicer, target: string, done: (complaint: string) => void): Promise<void> {
    const mp4 = new MediaProcess({
      name: 'recording',
      ffmpeg: this.settings.ffmpeg,
      args: ['-y', '-f', 'flv', '-i', 'pipe:0', '-c', 'copy', '-movflags', '+faststart', '-f', 'mp4', target],
      onGone: done,
    });
    mp4.write(flvHeader());
    for (const number of numbers) {
      const { flv } = stretchFiles(folder, number);
      if (!existsSync(flv)) continue;
      splicer.changeSource();
      const reader = new FlvReader();
      for await (const bytes of createReadStream(flv)) {
        for (const tag of reader.push(bytes as Buffer)) for (const out of splicer.push(tag)) mp4.write(flvTagBytes(out));
        while (mp4.backlogBytes > BACKLOG_BYTES) await new Promise((next) => setTimeout(next, 5));
      }
    }
    await mp4.end(WHOLE_SHOW_MAY_TAKE_MS);
  }

  /** Makes sure that a stretch has a complete FLV. */
  private async complete(folder: string, number: number): Promise<void> {
    const files = stretchFiles(folder, number);
    if (existsSync(files.done)) return;
    this.log.warn(`stretch ${number} was cut short; converting its pieces again`);
    const out = createWriteStream(files.flv);
    await new Promise<void>((resolve) => {
      const converter = new MediaProcess({
        name: 'recording',
        ffmpeg: this.settings.ffmpeg,
        args: webmToFlvArgs(files.pieces),
        onOutput: (bytes) => out.write(bytes),
        onGone: () => resolve(),
      });
      void converter.end(WHOLE_SHOW_MAY_TAKE_MS);
    });
    out.end();
    await finished(out);
  }
}
