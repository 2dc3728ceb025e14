// The programme of one show as it goes out: tags come in from whatever source is on, and every reader
// (relays, the house page) gets them as one unbroken FLV stream.
import { ProgrammeHeaders, ProgrammeReader, ProgrammeSplicer, type FlvTag } from '@lantern/core';

export type Sink = (bytes: Uint8Array) => void;

export class Programme {
  private readonly splicer = new ProgrammeSplicer();
  private readonly headers = new ProgrammeHeaders();
  private readonly readers = new Map<symbol, { reader: ProgrammeReader; sink: Sink }>();
  private source: object | null = null;

  /** Takes one tag. The first tag of another source switches to it at that source's first key frame. */
  feed(source: object, tag: FlvTag): void {
    if (this.source !== source) {
      this.source = source;
      this.splicer.changeSource();
    }
    for (const out of this.splicer.push(tag)) {
      this.headers.note(out);
      for (const { reader, sink } of this.readers.values()) {
        const bytes = reader.bytesFor(out);
        if (bytes) for (const part of bytes) sink(part);
      }
    }
  }

  /** Adds a reader, which starts at the next key frame. The function returned takes it off again. */
  read(sink: Sink): () => void {
    const id = Symbol('reader');
    this.readers.set(id, { reader: new ProgrammeReader(this.headers), sink });
    return () => void this.readers.delete(id);
  }

  get lengthMs(): number {
    return this.splicer.lengthMs;
  }
}
