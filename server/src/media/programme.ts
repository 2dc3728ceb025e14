// The programme of one show as it goes out: tags come in from its inputs, one of which is selected, and every reader
// (relays, the house page, the recording) gets them as one unbroken FLV stream in the wall time of the show.
import {
  flvTagBytes,
  isKeyFrame,
  isSequenceHeader,
  PICTURE_KBPS,
  PictureRate,
  PicturesWithTheirSets,
  pictureSizeOf,
  ProgrammeStart,
  ProgrammeReader,
  ProgrammeSplicer,
  type FlvTag,
  type ProgrammeInput,
  type Rendition,
} from '@lantern/core';
import type { OutgoingPictures } from './outgoing-pictures';

const STAGE_HEIGHT = 720;

export type Sink = (bytes: Uint8Array) => void;

export class Programme {
  private readonly splicer = new ProgrammeSplicer();
  private readonly pictures = new PicturesWithTheirSets('line');
  private readonly start = new ProgrammeStart();
  private readonly readers = new Map<symbol, { reader: ProgrammeReader; sink: Sink }>();
  private firstMs: number | null = null;
  private readonly rate = new PictureRate();
  private noted: { input: ProgrammeInput; shiftMs: number } | null = null;

  constructor(
    /** How long the show has been on air, by a clock that only goes forward. */
    private readonly elapsedMs: () => number,
    /** From `atMs` on an input is in the programme, or is so with other times. Called before its tags go to readers. */
    private readonly onPart: (atMs: number, input: ProgrammeInput, shiftMs: number) => void = () => undefined,
    /** Keeps what has just gone out; null: nobody will ask. */
    private readonly outgoing: OutgoingPictures | null = null,
  ) {}

  /** Has an input come on at its next key frame. */
  select(input: ProgrammeInput): void {
    this.splicer.select(input);
  }

  get onAir(): ProgrammeInput | null {
    return this.splicer.onAir;
  }

  /** Takes one tag of an input, selected or not. */
  feed(input: ProgrammeInput, tag: FlvTag): void {
    const outs = this.splicer.push(input, tag, Math.round(this.elapsedMs()));
    if (outs[0]) this.notePart(outs[0].timestampMs);
    for (const spliced of outs) {
      const out = this.pictures.push(spliced)!;
      this.firstMs ??= out.timestampMs;
      this.start.note(out);
      this.rate.note(out);
      if (out.kind === 'video' && isSequenceHeader(out)) this.outgoing?.noteHead(out);
      else if (isKeyFrame(out)) this.outgoing?.noteKeyFrame(out);
      let bytes: Uint8Array | null = null;
      const ready = () => (bytes ??= flvTagBytes(out));
      for (const { reader, sink } of this.readers.values()) for (const part of reader.bytesFor(out, ready) ?? []) sink(part);
    }
  }

  private notePart(atMs: number): void {
    const { onAir, shift } = this.splicer;
    if (!onAir || (this.noted?.input === onAir && Math.abs(this.noted.shiftMs - shift) < 1)) return;
    this.noted = { input: onAir, shiftMs: shift };
    this.onPart(atMs, onAir, shift);
  }

  /** The size of the pictures that go out; null: nothing has, or it cannot be told. */
  get pictureSize(): { width: number; height: number } | null {
    return this.start.video && pictureSizeOf(this.start.video);
  }

  /** What goes out at the most: as much as a stage sends where its line is good, or what came on a line and was more. */
  get goesOut(): Rendition {
    return { height: this.pictureSize?.height ?? STAGE_HEIGHT, kbps: Math.max(PICTURE_KBPS[0], this.rate.mostKbps) };
  }

  /** Adds a reader, which begins with the next key frame; `at once`: with the last one, if there is one. The function returned takes it off again. */
  read(sink: Sink, begins: 'next' | 'at once' = 'next'): () => void {
    const id = Symbol('reader');
    const reader = new ProgrammeReader(this.start);
    this.readers.set(id, { reader, sink });
    if (begins === 'at once') for (const part of reader.join() ?? []) sink(part);
    return () => void this.readers.delete(id);
  }

  /** The programme's time by now, in ms since the show went on air. */
  get endMs(): number {
    return this.splicer.lengthMs;
  }

  /** How much has gone out since its first picture, in ms. */
  get lengthMs(): number {
    return this.firstMs === null ? 0 : this.splicer.lengthMs - this.firstMs;
  }
}
