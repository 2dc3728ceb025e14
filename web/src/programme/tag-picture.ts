// Pictures that come as tags of FLV, as of an outside line: decoded as they come (WebCodecs) and given out when they are due. Runs beside the compositor.
import { isKeyFrame, isSequenceHeader, Playout, type FlvTag } from '@lantern/core';
import { LINE_WAITS_MS, readTag } from './line-tag';

/** Pictures that are decoded and not due yet: more than half a second of them are never needed. */
const MOST_WAITING = 24;
/** Beyond, decoding does not keep up: pictures up to the next key frame are left out. */
const MOST_DECODING = 30;
/** No picture for so long, and there is none. */
const GONE_MS = 2_000;
const FLV_HEAD_BYTES = 5;

/** When what is of `mediaMs` is due, in ms as `performance.now` counts them; null: that is not known yet. */
export interface DueTimes {
  due(mediaMs: number): number | null;
}

export class TagPicture {
  private decoder: VideoDecoder | null = null;
  private configuration: VideoDecoderConfig | null = null;
  private waitsForKey = true;
  private waiting: VideoFrame[] = [];
  private shown: VideoFrame | null = null;
  private shownAt = 0;

  constructor(private readonly times: DueTimes) {}

  /** How many tags are being decoded. */
  get decoding(): number {
    return this.decoder?.decodeQueueSize ?? 0;
  }

  /** Whether a picture of `mediaMs` or later has been decoded, and waits. */
  has(mediaMs: number): boolean {
    return this.waiting.some(({ timestamp }) => timestamp / 1_000 >= mediaMs);
  }

  /** Takes one tag of the picture. What cannot be read is left out. */
  take(tag: FlvTag): void {
    if (isSequenceHeader(tag)) return this.configure(tag);
    if (!this.configuration || tag.data.length <= FLV_HEAD_BYTES || tag.data[1] !== 1) return;
    const key = isKeyFrame(tag);
    if (this.decoding > MOST_DECODING) this.waitsForKey = true;
    if (this.waitsForKey && !key) return;
    this.waitsForKey = false;
    try {
      this.decoder ??= this.made(this.configuration);
      // Composition time (E.4.3.1), signed, in ms: pictures may be shown in another order than they are decoded in.
      const composition = ((tag.data[2]! << 24) | (tag.data[3]! << 16) | (tag.data[4]! << 8)) >> 8;
      const timestamp = (tag.timestampMs + composition) * 1_000;
      this.decoder.decode(new EncodedVideoChunk({ type: key ? 'key' : 'delta', timestamp, data: tag.data.subarray(FLV_HEAD_BYTES) }));
    } catch {
      this.fail();
    }
  }

  /** The picture that is due now; null: there is none. Belongs to this, and is closed by it. */
  at(now: number): VideoFrame | null {
    while (this.waiting.length && (this.times.due(this.waiting[0]!.timestamp / 1_000) ?? 0) <= now) {
      this.shown?.close();
      this.shown = this.waiting.shift()!;
      this.shownAt = now;
    }
    if (this.shown && now - this.shownAt > GONE_MS) {
      this.shown.close();
      this.shown = null;
    }
    return this.shown;
  }

  close(): void {
    this.fail();
    this.configuration = null;
    this.drop();
    this.shown?.close();
    this.shown = null;
  }

  /** AVCDecoderConfigurationRecord (ISO/IEC 14496-15, 5.3.3.1): its profile, constraints and level name the codec (RFC 6381, 3.3). */
  private configure({ data }: FlvTag): void {
    const description = data.slice(FLV_HEAD_BYTES);
    if (description.length < 7) return;
    const codec = `avc1.${[...description.subarray(1, 4)].map((byte) => byte.toString(16).padStart(2, '0')).join('')}`;
    const before = this.configuration?.description as Uint8Array | undefined;
    if (before && this.configuration!.codec === codec && before.every((byte, at) => byte === description[at]) && before.length === description.length) return;
    this.fail();
    this.configuration = { codec, description, optimizeForLatency: true };
  }

  private made(configuration: VideoDecoderConfig): VideoDecoder {
    const decoder: VideoDecoder = new VideoDecoder({
      output: (picture) => {
        if (this.decoder !== decoder) return picture.close();
        this.waiting.push(picture);
        if (this.waiting.length > MOST_WAITING) this.waiting.shift()!.close();
      },
      // What it cannot decode begins again at the next key frame.
      error: () => {
        if (this.decoder === decoder) this.fail();
      },
    });
    decoder.configure(configuration);
    return decoder;
  }

  private fail(): void {
    const { decoder } = this;
    this.decoder = null;
    this.waitsForKey = true;
    if (decoder && decoder.state !== 'closed') decoder.close();
  }

  /** What waits is due no more. */
  drop(): void {
    for (const picture of this.waiting.splice(0)) picture.close();
  }
}

/** The picture of an outside line. */
export class LinePicture {
  private readonly playout = new Playout(LINE_WAITS_MS);
  private readonly pictures = new TagPicture(this.playout);

  take(bytes: ArrayBuffer, now: number): void {
    const tag = readTag(bytes);
    if (!tag) return;
    if (!isSequenceHeader(tag) && this.playout.note(tag.timestampMs, now)) this.pictures.drop();
    this.pictures.take(tag);
  }

  /** The picture that is due now; null: there is none. Belongs to this, and is closed by it. */
  at(now: number): VideoFrame | null {
    return this.pictures.at(now);
  }

  close(): void {
    this.pictures.close();
  }
}
