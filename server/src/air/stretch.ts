// One unbroken run of pieces from one recorder in a browser: kept as it came, and turned into FLV.
// The picture is copied; only the sound is encoded anew, Opus to AAC, as RTMP wants it.
import { FlvReader, FlvSyntaxError, type FlvTag } from '@lantern/core';
import { Logger } from '@nestjs/common';
import { closeSync, openSync, writeFileSync, writeSync } from 'node:fs';
import { join } from 'node:path';
import { MediaProcess } from './media-process';

/** Where the parts of one stretch lie. `done` exists once its FLV is complete. */
export function stretchFiles(folder: string, stretch: number) {
  const base = join(folder, `stretch-${String(stretch).padStart(4, '0')}`);
  return { pieces: `${base}.webm`, flv: `${base}.flv`, done: `${base}.done` };
}

/** ffmpeg's arguments from a recorder's WebM to FLV on its output. */
export function webmToFlvArgs(input: string): string[] {
  return ['-probesize', '60000', '-analyzeduration', '0', '-f', 'matroska', '-i', input]
    .concat(['-c:v', 'copy', '-c:a', 'aac', '-b:a', '160k', '-ar', '48000', '-ac', '2'])
    .concat(['-flush_packets', '1', '-max_interleave_delta', '500000', '-flvflags', 'no_duration_filesize', '-f', 'flv', 'pipe:1']);
}

export class Stretch {
  private readonly log: Logger;
  private readonly files: ReturnType<typeof stretchFiles>;
  private readonly reader = new FlvReader();
  private readonly converter: MediaProcess;
  private readonly piecesFile: number;
  private readonly flvFile: number;
  private closed = false;
  private whole = true;
  /** Whether all that came is on the disk. */
  kept = true;
  nextPiece = 0;
  lastPieceAt = 0;

  constructor(
    readonly number: number,
    folder: string,
    ffmpeg: string,
    onTag: (stretch: Stretch, tag: FlvTag) => void,
  ) {
    this.log = new Logger(`stretch ${number}`);
    this.files = stretchFiles(folder, number);
    this.piecesFile = openSync(this.files.pieces, 'a');
    this.flvFile = openSync(this.files.flv, 'w');
    this.converter = new MediaProcess({
      name: `stretch ${number}`,
      ffmpeg,
      args: webmToFlvArgs('pipe:0'),
      onOutput: (bytes) => {
        this.keep(this.flvFile, bytes);
        try {
          for (const tag of this.reader.push(bytes)) onTag(this, tag);
        } catch (error) {
          if (!(error instanceof FlvSyntaxError)) throw error;
          this.log.error(error.message);
          this.converter.kill();
        }
      },
      onGone: (lastWords) => {
        if (!this.closed) {
          this.whole = false;
          this.log.error(`the converter stopped: ${lastWords}`);
        }
      },
    });
  }

  /** Takes the next piece: it is on disk before this returns, or `kept` tells that it is not. Pieces out of turn are a caller's mistake. */
  take(piece: Buffer, now: number): void {
    this.keep(this.piecesFile, piece);
    this.converter.write(piece);
    this.nextPiece += 1;
    this.lastPieceAt = now;
  }

  /** A disk that takes no more costs the recording, and never the picture. */
  private keep(file: number, bytes: Uint8Array): void {
    try {
      writeSync(file, bytes);
    } catch (error) {
      if (this.kept) this.log.error(`the recording breaks off: ${error instanceof Error ? error.message : String(error)}`);
      this.kept = false;
      this.whole = false;
    }
  }

  /** Finishes both files. May be called twice. */
  async close(): Promise<void> {
    if (this.closed) return;
    this.closed = true;
    await this.converter.end(5_000);
    closeSync(this.piecesFile);
    closeSync(this.flvFile);
    try {
      if (this.whole) writeFileSync(this.files.done, '');
    } catch (error) {
      this.log.error(`the end of the stretch could not be noted: ${error instanceof Error ? error.message : String(error)}`);
    }
  }
}
