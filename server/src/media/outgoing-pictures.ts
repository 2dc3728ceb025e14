// The key frames of a programme of the last minute or so, kept as they went out: by them a picture that viewers see is found again.
import { flvHeader, flvTagBytes, whenOut, type FlvTag, type Print } from '@lantern/core';
import { smallPictures } from './small-pictures';

/** Nothing that is later is looked for. */
const KEPT_MS = 75_000;
const MOST_BYTES = 24_000_000;

export class OutgoingPictures {
  private head: FlvTag | null = null;
  private kept: { at: number; tag: FlvTag }[] = [];
  private bytes = 0;
  private looking: Promise<Print[]> | null = null;

  constructor(
    private readonly ffmpeg: string,
    private readonly now: () => number = Date.now,
  ) {}

  /** The configuration of what goes out. What was made by another is still read: each key frame has its own parameter sets. */
  noteHead(tag: FlvTag): void {
    this.head ??= tag;
  }

  noteKeyFrame(tag: FlvTag): void {
    const at = this.now();
    this.kept.push({ at, tag });
    this.bytes += tag.data.length;
    while (this.kept.length && (at - this.kept[0]!.at > KEPT_MS || this.bytes > MOST_BYTES)) this.bytes -= this.kept.shift()!.tag.data.length;
  }

  /** When each of these pictures went out, in ms since the epoch; null: it did not, or it cannot be told. */
  async whenOut(pictures: readonly Uint8Array[]): Promise<(number | null)[]> {
    // Asked for several at once, they are looked at once.
    const prints = await (this.looking ??= this.prints().finally(() => (this.looking = null)));
    return pictures.map((picture) => whenOut(picture, prints));
  }

  private async prints(): Promise<Print[]> {
    const { head, kept } = this;
    if (!head) return [];
    const frames = kept.slice();
    const bytes = [flvHeader(), flvTagBytes(head, 0), ...frames.map(({ tag }, at) => flvTagBytes(tag, at * 1_000))];
    const greys = await smallPictures(this.ffmpeg, 'flv', bytes);
    // Where one of them could not be read, nobody knows which.
    return greys.length === frames.length ? frames.map(({ at }, index) => ({ at, grey: greys[index]! })) : [];
  }
}
