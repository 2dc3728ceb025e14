// What fills the seats, beside the compositor: the newest picture of each, whether one comes at all, and its shape.
import type { Seat, Shapes } from '@lantern/core';
import type { ClipPlayer } from './clip-player';
import { DrawnSource, type Drawn } from './drawn-source';
import { LinePicture } from './tag-picture';
import { sizeOf, type Picture } from './paint';

/** A camera that brings nothing for so long stands still, or is gone. What is shared may well stand still. */
const STILL_MS = 3_000;

type Source =
  | { kind: 'still'; picture: ImageBitmap }
  | { kind: 'frames'; reader: ReadableStreamDefaultReader<VideoFrame>; frame: VideoFrame | null; cameAt: number }
  | { kind: 'drawn'; drawn: DrawnSource };

export class Sources {
  readonly line = new LinePicture();
  /** What is played; null: nothing is. */
  clip: ClipPlayer | null = null;
  private readonly sources = new Map<Seat, Source>();
  /** Of the seats of which there is a picture. */
  private known: Partial<Record<Seat, number>> = {};
  /** Counts whatever changes where pictures stand. */
  version = 0;

  constructor(private readonly onSeen: (seat: Seat, seen: boolean) => void) {}

  get shapes(): Shapes {
    return this.known;
  }

  isSeen(seat: Seat): boolean {
    return this.known[seat] !== undefined;
  }

  set(seat: Seat, from: ReadableStream<VideoFrame> | ImageBitmap | Drawn | null): void {
    this.forget(seat);
    if (from === null) return this.note(seat, null);
    if (from instanceof ImageBitmap) {
      this.sources.set(seat, { kind: 'still', picture: from });
      return this.note(seat, from);
    }
    if (!(from instanceof ReadableStream)) {
      const drawn = new DrawnSource(from);
      this.sources.set(seat, { kind: 'drawn', drawn });
      return this.note(seat, drawn.picture);
    }
    const source: Source = { kind: 'frames', reader: from.getReader(), frame: null, cameAt: performance.now() };
    this.sources.set(seat, source);
    void this.read(seat, source);
  }

  /** The newest picture of a seat; null: there is none. Belongs to this, and is closed by it. */
  at(seat: Seat, now: number): Picture | null {
    const source = this.sources.get(seat);
    if (!source) return seat === 'line' ? this.line.at(now) : seat === 'clip' ? (this.clip?.at(now) ?? null) : null;
    return source.kind === 'drawn' ? source.drawn.at(now) : source.kind === 'still' ? source.picture : source.frame;
  }

  /** The newest picture of a real camera on a seat; null: none is there. */
  cameraAt(seat: Seat, now: number): VideoFrame | null {
    const source = this.sources.get(seat);
    return source?.kind === 'frames' && now - source.cameAt < STILL_MS ? source.frame : null;
  }

  /** Looks whether everything still comes. */
  look(now: number): void {
    for (const seat of ['line', 'clip'] as const) if (!this.sources.has(seat)) this.note(seat, this.at(seat, now));
    for (const [seat, source] of this.sources) {
      if (source.kind !== 'frames' || !source.frame || seat === 'share' || now - source.cameAt < STILL_MS) continue;
      source.frame.close();
      source.frame = null;
      this.note(seat, null);
    }
  }

  close(): void {
    this.line.close();
    this.clip?.close();
    for (const seat of [...this.sources.keys()]) this.forget(seat);
  }

  private async read(seat: Seat, source: Extract<Source, { kind: 'frames' }>): Promise<void> {
    for (;;) {
      const { done, value } = await source.reader.read().catch(() => ({ done: true, value: undefined }));
      if (this.sources.get(seat) !== source) return value?.close();
      if (done || !value) break;
      source.frame?.close();
      source.frame = value;
      source.cameAt = performance.now();
      this.note(seat, value);
    }
    this.forget(seat);
    this.note(seat, null);
  }

  private forget(seat: Seat): void {
    const source = this.sources.get(seat);
    if (!source) return;
    this.sources.delete(seat);
    if (source.kind === 'still') source.picture.close();
    if (source.kind !== 'frames') return;
    source.frame?.close();
    source.frame = null;
    source.reader.cancel().catch(() => undefined);
  }

  private note(seat: Seat, picture: Picture | null): void {
    const before = this.known[seat];
    const size = picture && sizeOf(picture);
    const shape = size && size.height > 0 ? size.width / size.height : undefined;
    if (before === shape) return;
    const known = { ...this.known };
    if (shape === undefined) delete known[seat];
    else known[seat] = shape;
    this.known = known;
    this.version++;
    if ((before === undefined) !== (shape === undefined)) this.onSeen(seat, shape !== undefined);
  }
}
