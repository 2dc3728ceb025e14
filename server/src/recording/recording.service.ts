// The station's own recording: all stretches of a show in one file that plays and seeks. Stretches
// that were cut short (a server that was killed, a disk that was full) are converted again from the pieces as received.
import { RemovalService } from '../shows/removal.service';
import { flvHeader, FlvReader, FlvSyntaxError, flvTagBytes, instant, MINUTE_MS, ProgrammeSplicer, sayDay } from '@lantern/core';
import { Inject, Injectable, Logger, type OnApplicationBootstrap } from '@nestjs/common';
import { createReadStream, existsSync } from 'node:fs';
import { mkdir, readdir, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { DataSource } from 'typeorm';
import { Clock } from '../foundation/clock';
import { storageTrouble } from '../foundation/errors';
import { SETTINGS, type Settings } from '../foundation/settings';
import { together } from '../foundation/together';
import { JobsService, NotDone } from '../jobs/jobs.service';
import { FileSink } from '../media/file-sink';
import { MediaProcess } from '../media/media-process';
import { recordingFolder, noteDone, stretchFiles, syncPath, webmToFlvArgs } from '../media/stretch';
import type { Show } from '../shows/show.entities';
import { Bus } from '../foundation/bus';
import type { Recording } from './recording.entities';
import { RecordingRows } from './recording-rows';
import { ShowRows } from '../shows/show-rows';

const KIND = 'recording';
const BACKLOG_BYTES = 8_000_000;
const WHOLE_SHOW_MAY_TAKE_MS = 30 * 60_000;
/** Tried again after one minute, two, four and eight: what a disk or a busy machine keeps from being made, one of these makes. */
const TRIES_MAX = 5;

interface Packed {
  /** 0: there was no picture. */
  lengthMs: number;
  /** Numbers of stretches that could not be read to their end. */
  broken: number[];
  /** What the program that packs said; null: it ended well. */
  complaint: string | null;
}

@Injectable()
export class RecordingService implements OnApplicationBootstrap {
  private readonly log = new Logger('recording');
  constructor(
    private readonly showRows: ShowRows,
    private readonly database: DataSource,
    private readonly rows: RecordingRows,
    private readonly jobs: JobsService,
    private readonly bus: Bus,
    private readonly clock: Clock,
    @Inject(SETTINGS) private readonly settings: Settings,
    removal: RemovalService,
  ) {
    removal.takeAlong({
      table: 'recordings',
      where: 'showId = ?',
      keptBy: async (showId) =>
        (await this.rows.of(showId)).state === 'making' ? 'The recording of this show is being made. Wait until it is ready, then remove it.' : null,
    });
    jobs.takeUp({
      kind: KIND,
      atOnce: 1,
      triesMax: TRIES_MAX,
      waitMs: (tries) => MINUTE_MS * 2 ** (tries - 1),
      run: (showId) => this.make(showId),
      gaveUp: (showId) => this.become(showId, { state: 'failed' }),
      words: async (showId) => {
        const show = await this.show(showId);
        return show
          ? `Put together the recording of “${show.title}”, ${sayDay(instant(show.startsAt), show.zone)}`
          : 'Put together the recording of a show that was removed';
      },
    });
  }

  /** A server from before there were jobs, or one that was killed between two steps, may have left a recording that nobody makes. */
  async onApplicationBootstrap(): Promise<void> {
    for (const id of await this.rows.making()) {
      const stationId = await this.showRows.stationOf(id);
      if (stationId && !(await this.jobs.find(KIND, id))) await this.jobs.add(stationId, KIND, id);
    }
  }

  file(showId: string): string {
    return join(recordingFolder(this.settings, showId), 'recording.mp4');
  }

  /** Has the recording of a show that is over be made; asked for twice, it is made once. */
  async ask({ id, stationId }: Pick<Show, 'id' | 'stationId'>): Promise<void> {
    await together(this.database, () => this.want({ id, stationId }, this.clock.now()));
    this.bus.tell({ kind: 'recording', showId: id });
  }

  /** Notes within the transaction that ends a show that its recording is wanted: what comes from the stage may take until `dueAt` to be closed. */
  async want({ id, stationId }: Pick<Show, 'id' | 'stationId'>, dueAt: number): Promise<void> {
    await this.rows.become(id, { state: 'making' });
    await this.jobs.add(stationId, KIND, id, dueAt);
  }

  /** How making it stands, where it has not been made at the first try. */
  async trouble(showId: string): Promise<{ words: string; nextTryAt: number | null } | null> {
    const job = await this.jobs.find(KIND, showId);
    return job?.trouble ? { words: job.trouble, nextTryAt: job.givenUpAt === null ? job.dueAt : null } : null;
  }

  private async make(showId: string): Promise<void> {
    const show = await this.show(showId);
    if (!show) return;
    let lengthMs: number;
    try {
      lengthMs = await this.join(showId);
    } catch (error) {
      if (error instanceof NotDone) throw error;
      const storage = storageTrouble(error);
      if (!storage) this.log.error(error instanceof Error ? error.message : String(error), error instanceof Error ? error.stack : undefined);
      throw new NotDone(storage ? storage.words : 'It could not be packed.');
    } finally {
      this.bus.tell({ kind: 'recording', showId });
    }
    await this.become(showId, { state: lengthMs > 0 ? 'ready' : 'none', lengthMs });
  }

  private async become(showId: string, columns: Partial<Omit<Recording, 'showId'>>): Promise<void> {
    await this.rows.become(showId, columns);
    this.bus.tell({ kind: 'recording', showId });
  }

  private show(id: string): Promise<Show | null> {
    return this.showRows.byId(id);
  }

  /**
   * Puts the stretches end to end into one MP4; returns its length in ms, 0 when nothing was sent. Throws NotDone where something was
   * sent and no picture can be had of it.
   */
  private async join(showId: string): Promise<number> {
    const folder = recordingFolder(this.settings, showId);
    await mkdir(folder, { recursive: true });
    const numbers = (await readdir(folder)).map((name) => Number(/^stretch-(\d+)\.webm$/.exec(name)?.[1] ?? 0)).filter(Boolean);
    numbers.sort((a, b) => a - b);
    let received = 0;
    for (const number of numbers) {
      await this.complete(folder, number);
      received += (await stat(stretchFiles(folder, number).pieces)).size;
    }
    const unfinished = join(folder, 'recording.new.mp4');
    let packed = await this.pack(folder, numbers, unfinished);
    if (packed.broken.length) {
      // What was converted on air cannot be read, as after a disk has failed: the pieces may still be whole.
      for (const number of packed.broken) await this.complete(folder, number, true);
      packed = await this.pack(folder, numbers, unfinished);
    }
    const { lengthMs, complaint } = packed;
    if (lengthMs === 0 || complaint !== null) await rm(unfinished, { recursive: true, force: true });
    if (complaint !== null && lengthMs > 0) throw new NotDone(`It could not be packed: ${complaint}`);
    if (lengthMs === 0) {
      // Whoever went on air and sent nothing has no recording; whoever sent something must not be told so.
      if (received > 0) throw new NotDone('No picture can be read in what was received. All of it is kept.', true);
      return 0;
    }
    await syncPath(unfinished);
    await rename(unfinished, this.file(showId));
    await syncPath(folder, 'r');
    return lengthMs;
  }

  /** A stretch that cannot be read any further is left there; what came before and comes after it is packed. */
  private async pack(folder: string, numbers: number[], target: string): Promise<Packed> {
    const splicer = new ProgrammeSplicer();
    const broken: number[] = [];
    let lastWords = '';
    let gone = false;
    const mp4 = new MediaProcess({
      name: 'recording',
      ffmpeg: this.settings.ffmpeg,
      args: ['-y', '-f', 'flv', '-i', 'pipe:0', '-c', 'copy', '-movflags', '+faststart', '-f', 'mp4', target],
      onGone: (words) => {
        lastWords = words;
        gone = true;
      },
    });
    try {
      mp4.write(flvHeader());
      for (const number of numbers) {
        const { flv } = stretchFiles(folder, number);
        if (!existsSync(flv)) continue;
        splicer.changeSource();
        const reader = new FlvReader();
        let tags = 0;
        try {
          for await (const bytes of createReadStream(flv)) {
            for (const tag of reader.push(bytes as Buffer)) {
              tags += 1;
              for (const out of splicer.push(tag)) mp4.write(flvTagBytes(out));
            }
            while (mp4.backlogBytes > BACKLOG_BYTES && !gone) await new Promise((next) => setTimeout(next, 5));
          }
        } catch (error) {
          if (!(error instanceof FlvSyntaxError || error instanceof RangeError)) throw error;
          this.log.error(`stretch ${number} ends early: ${error.message}`);
          tags = 0;
        }
        if (tags === 0 || reader.unfinishedBytes > 0) broken.push(number);
      }
    } catch (error) {
      mp4.kill();
      await mp4.end();
      throw error;
    }
    const well = await mp4.end(WHOLE_SHOW_MAY_TAKE_MS);
    return { lengthMs: splicer.lengthMs, broken, complaint: well ? null : lastWords || 'the program that packs it ended early' };
  }

  /** Makes sure that a stretch has a complete FLV, as far as its pieces go. */
  private async complete(folder: string, number: number, anew = false): Promise<void> {
    const files = stretchFiles(folder, number);
    if (existsSync(files.done) && !anew) return;
    await rm(files.done, { force: true });
    this.log.warn(`stretch ${number} is not whole; converting its pieces again`);
    const sink = new FileSink(files.flv, { mostWaitingBytes: Infinity });
    const converter = new MediaProcess({
      name: 'recording',
      ffmpeg: this.settings.ffmpeg,
      args: webmToFlvArgs(files.pieces),
      onOutput: (bytes) => {
        sink.write(bytes);
        // What is read is bounded by what is written: a slow disk must not fill the memory.
        if (sink.backlogBytes > BACKLOG_BYTES) converter.holdBack(sink.settled());
      },
      onGone: (words) => words && this.log.warn(`stretch ${number}: ${words}`),
    });
    const well = await converter.end(WHOLE_SHOW_MAY_TAKE_MS);
    if (!(await sink.close())) throw new NotDone(`The disk took no more: ${sink.trouble}.`);
    // Pieces that end in the middle of one are an error to the converter, and are all that there will ever be.
    if (well) await noteDone(files.done);
  }
}
