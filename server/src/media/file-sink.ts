// Bytes on their way to a disk. A disk that is slow, full or gone costs what should have been kept, and never holds up
// whoever hands the bytes over: pictures pass there.
import { Logger } from '@nestjs/common';
import { open, type FileHandle } from 'node:fs/promises';

/** What waits for a slow disk: about a minute of picture. Beyond it what is kept breaks off. */
const MOST_WAITING_BYTES = 32_000_000;
/** Power may go at any time; what was written so long ago is on the disk itself by then. */
const SYNC_EVERY_MS = 4_000;

export interface FileSinkOptions {
  mostWaitingBytes?: number;
  /** Opens the file for writing; tests hand in disks that fail. */
  open?: () => Promise<Pick<FileHandle, 'appendFile' | 'datasync' | 'sync' | 'close'>>;
}

export class FileSink {
  private readonly log = new Logger('disk');
  private readonly waiting: { bytes: Uint8Array; settled: (() => void) | null }[] = [];
  private waitingBytes = 0;
  private readonly opening: Promise<Awaited<ReturnType<NonNullable<FileSinkOptions['open']>>> | null>;
  private running: Promise<void>;
  private syncedAt = Date.now();
  private ending: Promise<boolean> | null = null;
  private broken: string | null = null;

  /** Begins a file anew, whatever stood in it. Nothing is thrown: `trouble` tells. */
  constructor(
    readonly path: string,
    private readonly options: FileSinkOptions = {},
  ) {
    this.opening = (options.open ?? (() => open(path, 'w')))().catch((error: unknown) => {
      this.breakOff(wordsOf(error));
      return null;
    });
    this.running = this.opening.then(() => this.drain());
  }

  /** Why the file ends before what was handed over; null: all is kept, or on its way. */
  get trouble(): string | null {
    return this.broken;
  }

  /** Bytes handed over and not yet written. */
  get backlogBytes(): number {
    return this.waitingBytes;
  }

  /** Takes `bytes`, which must not be changed afterwards. `settled` is called once they are written, or will never be. */
  write(bytes: Uint8Array, settled: (() => void) | null = null): void {
    if (this.broken === null && this.waitingBytes + bytes.byteLength > (this.options.mostWaitingBytes ?? MOST_WAITING_BYTES))
      this.breakOff('the disk is too slow');
    if (this.broken !== null || this.ending) return settled?.();
    this.waiting.push({ bytes, settled });
    this.waitingBytes += bytes.byteLength;
    if (this.waiting.length === 1) this.running = this.running.then(() => this.drain());
  }

  /** Resolves once nothing waits any more. */
  async settled(): Promise<void> {
    await this.running;
  }

  /** Writes what waits, has the disk confirm it, and closes. True: all that was handed over is on the disk itself. May be called twice. */
  close(): Promise<boolean> {
    return (this.ending ??= this.running.then(() => this.end()));
  }

  private async end(): Promise<boolean> {
    const file = await this.opening;
    try {
      if (this.broken === null) await file?.sync();
    } catch (error) {
      this.breakOff(wordsOf(error));
    }
    await file?.close().catch((error: unknown) => this.breakOff(wordsOf(error)));
    return this.broken === null;
  }

  /** Never throws: a file that takes no more breaks off. */
  private async drain(): Promise<void> {
    const file = await this.opening;
    while (file && this.waiting.length > 0 && this.broken === null) {
      const batch = this.waiting.splice(0);
      try {
        await file.appendFile(batch.length === 1 ? batch[0]!.bytes : Buffer.concat(batch.map(({ bytes }) => bytes)));
        if (Date.now() - this.syncedAt > SYNC_EVERY_MS) {
          await file.datasync();
          this.syncedAt = Date.now();
        }
      } catch (error) {
        this.breakOff(wordsOf(error));
      }
      for (const { bytes, settled } of batch) {
        this.waitingBytes -= bytes.byteLength;
        settled?.();
      }
    }
  }

  private breakOff(why: string): void {
    if (this.broken !== null) return;
    this.broken = why;
    this.log.error(`${this.path} breaks off: ${why}`);
    for (const { bytes, settled } of this.waiting.splice(0)) {
      this.waitingBytes -= bytes.byteLength;
      settled?.();
    }
  }
}

const wordsOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));
