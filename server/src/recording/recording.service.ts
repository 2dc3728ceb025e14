// The station's own recording: the programme as it went out, in one file that plays and seeks. Where that was not kept whole
// (a disk that was full), it is made from the pieces as they were received, stretch by stretch.
import { RemovalService } from '../shows/removal.service';
import {
  CardInHole,
  flvHeader,
  FlvReader,
  FlvSyntaxError,
  flvTagBytes,
  HoleFilling,
  holesOf,
  instant,
  LEAST_OF_CARD_MS,
  MINUTE_MS,
  PicturesWithTheirSets,
  ProgrammeInput,
  ProgrammeSplicer,
  sayDay,
  stretchesFor,
  type FlvTag,
  type Hole,
  type PartNote,
  type RecordedPart,
} from '@lantern/core';
import { Inject, Injectable, Logger, type OnApplicationBootstrap } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { createReadStream, existsSync } from 'node:fs';
import { mkdir, open, readdir, readFile, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { DataSource } from 'typeorm';
import { Clock } from '../foundation/clock';
import { PlainError, storageTrouble } from '../foundation/errors';
import { SETTINGS, type Settings } from '../foundation/settings';
import { together } from '../foundation/together';
import { JobsService, NotDone } from '../jobs/jobs.service';
import { FileSink } from '../media/file-sink';
import { MediaProcess } from '../media/media-process';
import {
  recordingFolder,
  noteDone,
  programmeFile,
  programmeNotes,
  programmeNumbers,
  stretchFiles,
  stretchNumbers,
  syncPath,
  webmToFlvArgs,
} from '../media/stretch';
import type { Show } from '../shows/show.entities';
import { Bus } from '../foundation/bus';
import type { Recording } from './recording.entities';
import { RecordingRows } from './recording-rows';
import { ShowRows } from '../shows/show-rows';

const KIND = 'recording';
const SO_FAR = 'so-far.mp4';
const SO_FAR_FRESH_MS = 30_000;
const BACKLOG_BYTES = 8_000_000;
/** The programme begins with the first key frame, and ends with what had gone out: by no more than this is it shorter than what came, for each kill. */
const MAY_BE_SHORTER_MS = 10_000;
const WHOLE_SHOW_MAY_TAKE_MS = 30 * 60_000;
/** Tried again after one minute, two, four and eight: what a disk or a busy machine keeps from being made, one of these makes. */
const TRIES_MAX = 5;

/** FLV that is packed: its path, and where the break card in it makes way for what came late. */
interface Packing {
  path: string;
  fill?: (hole: Hole, sent: Sent) => AsyncGenerator<FlvTag>;
  holes?: readonly Hole[];
}

/** The last times that went out, in ms. */
interface Sent {
  audio: number;
  video: number;
}

interface Packed {
  /** 0: there was no picture. */
  lengthMs: number;
  /** Which of the files could not be read to their end, by their places. */
  broken: number[];
  /** What of each stands where. */
  parts: RecordedPart[];
  /** What the program that packs said; null: it ended well. */
  complaint: string | null;
}

@Injectable()
export class RecordingService implements OnApplicationBootstrap {
  private readonly log = new Logger('recording');
  /** What has gone out so far, as it is being put together. */
  private readonly makingSoFar = new Map<string, Promise<string>>();

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

  /**
   * What has gone out so far of a show on air, as a file that plays and seeks; made behind everything else, and not more often than twice a
   * minute. Throws where nothing can be seen yet.
   */
  soFar(showId: string): Promise<string> {
    const known = this.makingSoFar.get(showId);
    if (known) return known;
    const made = this.makeSoFar(showId).finally(() => this.makingSoFar.delete(showId));
    this.makingSoFar.set(showId, made);
    return made;
  }

  private async makeSoFar(showId: string): Promise<string> {
    const folder = recordingFolder(this.settings, showId);
    const target = join(folder, SO_FAR);
    const before = await stat(target).catch(() => null);
    if (before && Date.now() - before.mtimeMs < SO_FAR_FRESH_MS) return target;
    const names = await readdir(folder).catch(() => []);
    // Of its own: what a killed server had begun may still be written to by whatever it had begun it with.
    const fresh = `${target}.${randomUUID()}`;
    const packings = programmeNumbers(names).map((number) => ({ path: programmeFile(folder, number) }));
    const { lengthMs, complaint } = await this.pack(packings, fresh, 'behind everything else');
    if (lengthMs === 0 || complaint !== null) {
      await rm(fresh, { force: true });
      throw new PlainError(
        409,
        lengthMs === 0 ? 'Nothing has gone out yet that could be seen again.' : 'What has gone out so far could not be put together. Try again in a moment.',
      );
    }
    await rename(fresh, target);
    return target;
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

  /** All but those of `held`, whose pieces are still being closed, are begun without waiting: a server that was killed has left them to their time. */
  async hurry(held: ReadonlySet<string>): Promise<void> {
    for (const id of await this.rows.making()) {
      const job = held.has(id) ? null : await this.jobs.find(KIND, id);
      // What was tried already waits for the time of its next try.
      if (job && job.tries === 0 && job.givenUpAt === null && job.dueAt > this.clock.now()) await this.jobs.add(job.stationId, KIND, id);
    }
  }

  /** All of a part that came late is there: a recording that was made without it is made once more. */
  async cameWhole(showId: string): Promise<void> {
    const show = await this.show(showId);
    if (show?.state === 'over') await this.ask(show);
  }

  /** How making it stands, where it has not been made at the first try. */
  async trouble(showId: string): Promise<{ words: string; nextTryAt: number | null } | null> {
    const job = await this.jobs.find(KIND, showId);
    return job?.trouble ? { words: job.trouble, nextTryAt: job.givenUpAt === null ? job.dueAt : null } : null;
  }

  private async make(showId: string): Promise<void> {
    const show = await this.show(showId);
    if (!show) return;
    let made: { lengthMs: number; parts: RecordedPart[] | null };
    try {
      made = await this.join(showId);
    } catch (error) {
      if (error instanceof NotDone) throw error;
      const storage = storageTrouble(error);
      if (!storage) this.log.error(error instanceof Error ? error.message : String(error), error instanceof Error ? error.stack : undefined);
      throw new NotDone(storage ? storage.words : 'It could not be packed.');
    } finally {
      this.bus.tell({ kind: 'recording', showId });
    }
    await this.become(showId, { state: made.lengthMs > 0 ? 'ready' : 'none', ...made });
  }

  private async become(showId: string, columns: Partial<Omit<Recording, 'showId'>>): Promise<void> {
    await this.rows.become(showId, columns);
    this.bus.tell({ kind: 'recording', showId });
  }

  private show(id: string): Promise<Show | null> {
    return this.showRows.byId(id);
  }

  /**
   * Puts what was kept into one MP4; returns its length in ms, 0 when nothing was sent, and what stands where. Throws NotDone where something was
   * sent and no picture can be had of it.
   */
  private async join(showId: string): Promise<{ lengthMs: number; parts: RecordedPart[] | null }> {
    const folder = recordingFolder(this.settings, showId);
    await mkdir(folder, { recursive: true });
    const names = await readdir(folder);
    const unfinished = join(folder, 'recording.new.mp4');
    const whole = await this.fromProgramme(folder, names, unfinished);
    const packed = whole ?? (await this.fromPieces(folder, names, unfinished));
    const received = await bytesOf(stretchNumbers(names).map((number) => stretchFiles(folder, number).pieces));
    const { lengthMs, complaint } = packed;
    if (lengthMs === 0 || complaint !== null) await rm(unfinished, { recursive: true, force: true });
    if (complaint !== null && lengthMs > 0) throw new NotDone(`It could not be packed: ${complaint}`);
    if (lengthMs === 0) {
      // Whoever went on air and sent nothing has no recording; whoever sent something must not be told so.
      if (received > 0) throw new NotDone('No picture can be read in what was received. All of it is kept.', true);
      return { lengthMs: 0, parts: null };
    }
    for (const name of names.filter((each) => each.startsWith(SO_FAR))) await rm(join(folder, name), { force: true });
    await syncPath(unfinished);
    await rename(unfinished, this.file(showId));
    await syncPath(folder, 'r');
    // Pieces of a stage have times of their own.
    return { lengthMs, parts: whole ? packed.parts : null };
  }

  /** Of the programme as it went out; null: it was not kept, or breaks off before what came from the stage does. */
  private async fromProgramme(folder: string, names: readonly string[], target: string): Promise<Packed | null> {
    const numbers = programmeNumbers(names);
    if (!numbers.length) return null;
    const stretches = stretchNumbers(names);
    const packings = await Promise.all(
      numbers.map(async (number): Promise<Packing> => {
        const notes = await notesOf(programmeNotes(folder, number));
        const path = programmeFile(folder, number);
        // What a stage without a line made after the end of the show is nobody's.
        const endMs = await lastTimeOf(path);
        const holes = holesOf(notes).map((hole) => ({ ...hole, toMs: Math.min(hole.toMs ?? Infinity, endMs) }));
        return { path, fill: (hole, sent) => this.cameLate(folder, hole, stretchesFor(hole, notes, stretches), sent), holes };
      }),
    );
    const packed = await this.pack(packings, target);
    const kept = await Promise.all(stretches.map((number) => cameInTime(folder, number)));
    const brokeOff = packed.lengthMs + MAY_BE_SHORTER_MS < kept.reduce((sum, each) => sum + each, 0);
    return packed.lengthMs === 0 || brokeOff ? null : packed;
  }

  /** Of the pieces as they came. */
  private async fromPieces(folder: string, names: readonly string[], target: string): Promise<Packed> {
    const numbers = stretchNumbers(names);
    for (const number of numbers) await this.complete(folder, number);
    const paths = numbers.map((number) => ({ path: stretchFiles(folder, number).flv }));
    const packed = await this.pack(paths, target);
    if (!packed.broken.length) return packed;
    // What was converted on air cannot be read, as after a disk has failed: the pieces may still be whole.
    for (const at of packed.broken) await this.complete(folder, numbers[at]!, true);
    return this.pack(paths, target);
  }

  /** Puts FLV files end to end. One that cannot be read any further is left there; what came before and comes after it is packed. */
  private async pack(packings: readonly Packing[], target: string, how: 'at once' | 'behind everything else' = 'at once'): Promise<Packed> {
    const splicer = new ProgrammeSplicer();
    const pictures = new PicturesWithTheirSets('whole');
    const broken: number[] = [];
    const parts: RecordedPart[] = [];
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
    if (how === 'behind everything else') mp4.stepBack();
    try {
      mp4.write(flvHeader());
      for (const [at, packing] of packings.entries()) {
        if (!existsSync(packing.path)) continue;
        const input = new ProgrammeInput(packing.path);
        splicer.select(input);
        const end = { whole: false };
        const atMs = splicer.lengthMs;
        let fromMs: number | null = null;
        for await (const tag of this.filled(packing, end)) {
          if (tag.kind === 'video') fromMs ??= tag.timestampMs;
          for (const out of splicer.push(input, tag, null)) {
            const written = pictures.push(out);
            if (written) mp4.write(flvTagBytes(written));
          }
          while (mp4.backlogBytes > BACKLOG_BYTES && !gone) await new Promise((next) => setTimeout(next, 5));
        }
        if (!end.whole) broken.push(at);
        if (fromMs !== null && splicer.lengthMs > atMs) parts.push({ fromMs, atMs, lengthMs: splicer.lengthMs - atMs });
      }
    } catch (error) {
      mp4.kill();
      await mp4.end();
      throw error;
    }
    const well = await mp4.end(WHOLE_SHOW_MAY_TAKE_MS);
    return { lengthMs: splicer.lengthMs, broken, parts, complaint: well ? null : lastWords || 'the program that packs it ended early' };
  }

  /** The tags of an FLV file, to where it can be read. `end.whole`: to its end, and there were some. */
  private async *tagsOf(path: string, end: { whole: boolean }): AsyncGenerator<FlvTag> {
    const reader = new FlvReader();
    let tags = 0;
    try {
      for await (const bytes of createReadStream(path)) {
        for (const tag of reader.push(bytes as Buffer)) {
          tags += 1;
          yield tag;
        }
      }
    } catch (error) {
      if (!(error instanceof FlvSyntaxError || error instanceof RangeError)) throw error;
      this.log.error(`${path} ends early: ${error.message}`);
      tags = 0;
    }
    end.whole = tags > 0 && reader.unfinishedBytes === 0;
  }

  /** The tags of a programme, with what the stage made in the place of the break card that stood there because its line was gone. */
  private async *filled({ path, fill, holes = [] }: Packing, end: { whole: boolean }): AsyncGenerator<FlvTag> {
    const sent: Sent = { audio: -1, video: -1 };
    const noteSent = (tag: FlvTag): FlvTag => {
      if (tag.kind !== 'script') sent[tag.kind] = tag.timestampMs;
      return tag;
    };
    const waiting = [...holes];
    /** The hole that is being passed: what comes next of what came late, and the card, which is shown where that leaves a gap. */
    let passing: { untilMs: number; late: AsyncIterator<FlvTag>; next: FlvTag | null; card: CardInHole } | null = null;
    for await (const tag of this.tagsOf(path, end)) {
      if (passing && tag.timestampMs >= passing.untilMs) {
        await passing.late.return?.();
        passing = null;
      }
      while (waiting[0] && tag.timestampMs >= waiting[0].toMs!) waiting.shift();
      if (!passing && fill && waiting[0] && tag.timestampMs >= waiting[0].fromMs) {
        const hole = waiting.shift()!;
        const late = fill(hole, { ...sent });
        passing = { untilMs: hole.toMs!, late, next: await nextOf(late), card: new CardInHole() };
      }
      const reached = () => Math.max(sent.audio, sent.video);
      while (passing?.next && passing.next.timestampMs < Math.max(tag.timestampMs, reached() + LEAST_OF_CARD_MS)) {
        yield noteSent(passing.next);
        passing.next = await nextOf(passing.late);
        passing.card.makeWay(reached());
      }
      for (const out of passing ? passing.card.push(tag) : [tag]) yield noteSent(out);
    }
  }

  /** What the stage made while viewers saw the card, as far as it has come. */
  private async *cameLate(folder: string, hole: Hole, numbers: readonly number[], sent: Sent): AsyncGenerator<FlvTag> {
    const filling = new HoleFilling(hole, sent);
    for (const number of numbers) {
      await this.complete(folder, number);
      const { flv } = stretchFiles(folder, number);
      if (!existsSync(flv)) continue;
      filling.begin(number);
      for await (const tag of this.tagsOf(flv, { whole: false })) {
        yield* filling.push(tag);
        if (filling.over) break;
      }
    }
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

const nextOf = async (tags: AsyncIterator<FlvTag>): Promise<FlvTag | null> => {
  const { done, value } = await tags.next();
  return done ? null : value;
};

/** What was noted beside a programme; a line that a kill cut short is left out. None: it is of a time before there were notes. */
async function notesOf(path: string): Promise<PartNote[]> {
  const text = await readFile(path, 'utf8').catch(() => '');
  return text.split('\n').flatMap((line) => {
    try {
      return line ? [JSON.parse(line) as PartNote] : [];
    } catch {
      return [];
    }
  });
}

async function bytesOf(paths: readonly string[]): Promise<number> {
  const sizes = await Promise.all(paths.map((path) => stat(path).then(({ size }) => size)));
  return sizes.reduce((sum, size) => sum + size, 0);
}

/** How much of a stretch came while it was on its way to viewers, in ms. */
async function cameInTime(folder: string, number: number): Promise<number> {
  const { late, flv } = stretchFiles(folder, number);
  const noted = Number(await readFile(late, 'utf8').catch(() => NaN));
  return Number.isFinite(noted) ? noted : lastTimeOf(flv);
}

/** The time of the last whole tag of an FLV, in ms, by its back pointer (annex E.3); 0 where that cannot be told. */
export async function lastTimeOf(path: string): Promise<number> {
  const file = await open(path).catch(() => null);
  if (!file) return 0;
  try {
    const { size } = await file.stat();
    const bytes = Buffer.alloc(11);
    if (size < 24) return 0;
    await file.read(bytes, 0, 4, size - 4);
    const tag = bytes.readUInt32BE(0);
    if (tag < 11 || tag + 4 > size) return 0;
    await file.read(bytes, 0, 11, size - 4 - tag);
    return bytes[0] === 8 || bytes[0] === 9 ? bytes.readUIntBE(4, 3) + bytes[7]! * 2 ** 24 : 0;
  } finally {
    await file.close();
  }
}
