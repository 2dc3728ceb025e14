// One unbroken run of pieces from one recorder in a browser: kept as it came, and turned into FLV.
// The picture is copied; only the sound is encoded anew, Opus to AAC, as RTMP wants it.
import { FlvReader, FlvSyntaxError, ProgrammeInput, type FlvTag } from '@lantern/core';
import { Logger } from '@nestjs/common';
import { open } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { Settings } from '../foundation/settings';
import { FileSink } from './file-sink';
import { MediaProcess } from './media-process';

/** Some ten seconds of picture that a converter has not taken: it will not catch up. */
const CONVERTER_BACKLOG_BYTES = 8_000_000;

/** Where all that comes from the stage of one show is kept. */
export const recordingFolder = (settings: Pick<Settings, 'recordingsDir'>, showId: string): string => join(settings.recordingsDir, showId);

/**
 * Where the parts of one stretch lie. `done` exists once its FLV is complete and on the disk itself, `late` once pieces came that had not
 * reached us in time: it says how much had, in ms.
 */
export function stretchFiles(folder: string, stretch: number) {
  const base = join(folder, `stretch-${String(stretch).padStart(4, '0')}`);
  return { pieces: `${base}.webm`, flv: `${base}.flv`, done: `${base}.done`, late: `${base}.late` };
}

/** The numbers of the stretches among the names of files. */
export const stretchNumbers = (names: readonly string[]): number[] => numbersIn(names, /^stretch-(\d+)\.webm$/);

/** Where the programme as it went out is kept: a file for each time that something carried it. */
export const programmeFile = (folder: string, number: number): string => join(folder, `programme-${String(number).padStart(4, '0')}.flv`);

/** What was noted beside it of what was in it when (`PartNote`), a line of JSON each. */
export const programmeNotes = (folder: string, number: number): string => programmeFile(folder, number).replace(/\.flv$/, '.parts');

/** The numbers of the programmes among the names of files. */
export const programmeNumbers = (names: readonly string[]): number[] => numbersIn(names, /^programme-(\d+)\.flv$/);

function numbersIn(names: readonly string[], pattern: RegExp): number[] {
  return names.flatMap((name) => Number(pattern.exec(name)?.[1] ?? []) || []).sort((a, b) => a - b);
}

/** ffmpeg's arguments from a recorder's WebM to FLV on its output. */
export function webmToFlvArgs(input: string): string[] {
  // Its head says all that there is to find out: whoever reads further waits for a still picture to fill the probe.
  return ['-probesize', '4096', '-analyzeduration', '0', '-f', 'matroska', '-i', input]
    .concat(['-c:v', 'copy', '-c:a', 'aac', '-b:a', '160k', '-ar', '48000', '-ac', '2'])
    .concat(['-flush_packets', '1', '-max_interleave_delta', '500000', '-flvflags', 'no_duration_filesize', '-f', 'flv', 'pipe:1']);
}

export class Stretch {
  private readonly log: Logger;
  private readonly files: ReturnType<typeof stretchFiles>;
  private readonly reader = new FlvReader();
  private readonly converter: MediaProcess;
  private readonly pieces: FileSink;
  private readonly flv: FileSink;
  private ending: Promise<void> | null = null;
  private converterGone = false;
  /** What comes of it, to the programme. */
  readonly input: ProgrammeInput;
  nextPiece = 0;
  lastPieceAt = 0;

  constructor(
    readonly number: number,
    folder: string,
    ffmpeg: string,
    onTag: (stretch: Stretch, tag: FlvTag) => void,
    /** The converter has ended before the stretch: nothing more comes of it, and another has to begin. */
    onBroken: (stretch: Stretch) => void = () => undefined,
  ) {
    this.log = new Logger(`stretch ${number}`);
    this.input = new ProgrammeInput(`stretch ${number}`);
    this.files = stretchFiles(folder, number);
    this.pieces = new FileSink(this.files.pieces);
    this.flv = new FileSink(this.files.flv);
    this.converter = new MediaProcess({
      name: `stretch ${number}`,
      ffmpeg,
      args: webmToFlvArgs('pipe:0'),
      onOutput: (bytes) => {
        this.flv.write(bytes);
        try {
          for (const tag of this.reader.push(bytes)) onTag(this, tag);
        } catch (error) {
          // Whatever it is, it costs this stretch and no more.
          this.log.error(error instanceof Error ? error.message : String(error), error instanceof FlvSyntaxError ? undefined : (error as Error).stack);
          this.converter.kill();
        }
      },
      onGone: (lastWords) => {
        if (this.ending) return;
        this.converterGone = true;
        this.log.error(`the converter stopped: ${lastWords}`);
        onBroken(this);
      },
    });
  }

  /** Whether all that came is on the disk, or on its way there. */
  get kept(): boolean {
    return this.pieces.trouble === null && this.flv.trouble === null;
  }

  /** Takes the next piece. `settled` is called once it is written, or will never be, as `kept` then tells. Pieces out of turn are a caller's mistake. */
  take(piece: Buffer, now: number, settled: () => void): void {
    this.pieces.write(piece, settled);
    if (!this.converterGone && this.converter.backlogBytes > CONVERTER_BACKLOG_BYTES) {
      this.log.error('the converter takes nothing any more');
      this.converter.kill();
    } else this.converter.write(piece);
    this.nextPiece += 1;
    this.lastPieceAt = now;
  }

  /** Whether nothing comes of it any more although nobody has closed it. */
  get broken(): boolean {
    return this.converterGone;
  }

  /** Finishes both files. May be called twice. */
  close(): Promise<void> {
    return (this.ending ??= this.end());
  }

  private async end(): Promise<void> {
    const killed = !(await this.converter.end(5_000));
    const kept = await Promise.all([this.pieces.close(), this.flv.close()]);
    if (killed || this.converterGone || kept.includes(false)) return;
    await noteDone(this.files.done).catch((error: unknown) =>
      this.log.error(`the end of the stretch could not be noted: ${error instanceof Error ? error.message : String(error)}`),
    );
  }
}

/** Says that a stretch is complete, so that it is still said after a power cut: file and folder are on the disk itself. */
export async function noteDone(path: string): Promise<void> {
  await syncPath(path, 'w');
  await syncPath(dirname(path), 'r');
}

/** Has the disk itself confirm a file, or the names in a folder (fsync, POSIX.1-2017). */
export async function syncPath(path: string, flags: 'r' | 'r+' | 'w' = 'r+'): Promise<void> {
  const file = await open(path, flags);
  try {
    await file.sync();
  } finally {
    await file.close();
  }
}
