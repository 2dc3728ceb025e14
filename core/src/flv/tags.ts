// FLV tags as bytes: reading a stream piece by piece and writing tags with times of our choosing.
// Source: Adobe Flash Video File Format Specification 10.1, annex E (E.2 header, E.3 body, E.4 tags).

export type FlvTagKind = 'audio' | 'video' | 'script';

/** One tag. `timestampMs` is the decoding time; `data` is the tag's body without its 11-byte head. */
export interface FlvTag {
  kind: FlvTagKind;
  timestampMs: number;
  data: Uint8Array;
}

const KIND_OF_CODE: Record<number, FlvTagKind | undefined> = { 8: 'audio', 9: 'video', 18: 'script' };
const CODE_OF_KIND: Record<FlvTagKind, number> = { audio: 8, video: 9, script: 18 };
const HEADER_BYTES = 9;
const TAG_HEAD_BYTES = 11;
const BACK_POINTER_BYTES = 4;
const CODEC_AVC = 7;
const SOUND_AAC = 10;

/** The nine header bytes for a stream with sound and picture, and the first back pointer (annex E.2, E.3). */
export function flvHeader(): Uint8Array {
  return Uint8Array.of(0x46, 0x4c, 0x56, 1, 5, 0, 0, 0, HEADER_BYTES, 0, 0, 0, 0);
}

/** The bytes of one tag at `timestampMs`, with its back pointer. Times past 2^32 ms are a caller's mistake (RangeError). */
export function flvTagBytes(tag: FlvTag, timestampMs = tag.timestampMs): Uint8Array {
  if (!(timestampMs >= 0 && timestampMs < 2 ** 32)) throw new RangeError(`FLV time out of range: ${timestampMs} ms`);
  const size = tag.data.length;
  const bytes = new Uint8Array(TAG_HEAD_BYTES + size + BACK_POINTER_BYTES);
  const view = new DataView(bytes.buffer);
  const time = Math.floor(timestampMs);
  view.setUint32(0, ((CODE_OF_KIND[tag.kind] << 24) | size) >>> 0);
  view.setUint32(4, (((time & 0xffffff) << 8) | (time >>> 24)) >>> 0);
  bytes.set(tag.data, TAG_HEAD_BYTES);
  view.setUint32(TAG_HEAD_BYTES + size, TAG_HEAD_BYTES + size);
  return bytes;
}

/** One tag from its bytes, as `flvTagBytes` makes them. Throws FlvSyntaxError where they are none. */
export function flvTagOf(bytes: Uint8Array): FlvTag {
  const kind = KIND_OF_CODE[bytes[0] ?? 0];
  const size = ((bytes[1] ?? 0) << 16) | ((bytes[2] ?? 0) << 8) | (bytes[3] ?? 0);
  if (!kind || bytes.length < TAG_HEAD_BYTES + size) throw new FlvSyntaxError('no whole tag', 0);
  const timestampMs = (((bytes[7] ?? 0) << 24) | ((bytes[4] ?? 0) << 16) | ((bytes[5] ?? 0) << 8) | (bytes[6] ?? 0)) >>> 0;
  return { kind, timestampMs, data: bytes.subarray(TAG_HEAD_BYTES, TAG_HEAD_BYTES + size) };
}

/** Whether the tag begins a picture that needs no earlier one (E.4.3.1, FrameType 1), sequence headers not counted. */
export function isKeyFrame(tag: FlvTag): boolean {
  return tag.kind === 'video' && tag.data.length > 1 && tag.data[0]! >> 4 === 1 && tag.data[1] !== 0 && !isEndOfSequence(tag);
}

/** Whether the tag carries the decoder's configuration: AVCPacketType 0 or AACPacketType 0 (E.4.3.1, E.4.2.1). */
export function isSequenceHeader(tag: FlvTag): boolean {
  if (tag.data.length < 2) return false;
  if (tag.kind === 'video') return (tag.data[0]! & 0x0f) === CODEC_AVC && tag.data[1] === 0;
  return tag.kind === 'audio' && tag.data[0]! >> 4 === SOUND_AAC && tag.data[1] === 0;
}

/** Says that no more pictures come of a source, and has none itself: AVCPacketType 2 (E.4.3.1). */
export function isEndOfSequence({ kind, data }: FlvTag): boolean {
  return kind === 'video' && (data[0]! & 0x0f) === CODEC_AVC && data[1] === 2;
}

/** When the picture of a tag is shown, in ms: its decoding time and its composition offset, 24 bits with a sign (E.4.3.1). */
export function shownAt({ timestampMs, data }: { timestampMs: number; data: Uint8Array }): number {
  return timestampMs + ((((data[2] ?? 0) << 24) | ((data[3] ?? 0) << 16) | ((data[4] ?? 0) << 8)) >> 8);
}

/** Thrown when bytes are not FLV; `offset` is where, counted from the first byte given to the reader. */
export class FlvSyntaxError extends Error {
  constructor(
    what: string,
    readonly offset: number,
  ) {
    super(`Not an FLV stream: ${what} at byte ${offset}.`);
  }
}

/** Reads FLV as it comes, in pieces of any size. Keeps only the unfinished tag. */
export class FlvReader {
  private rest = new Uint8Array(0);
  private consumed = 0;
  private headerRead = false;

  /** Bytes of a tag that has not ended yet: none at the end of a whole stream. */
  get unfinishedBytes(): number {
    return this.rest.length;
  }

  /** The tags completed by `bytes`. Throws FlvSyntaxError for a wrong signature or tag type. */
  push(bytes: Uint8Array): FlvTag[] {
    const buffer = this.rest.length ? concat(this.rest, bytes) : bytes;
    const tags: FlvTag[] = [];
    let at = 0;
    if (!this.headerRead) {
      if (buffer.length < HEADER_BYTES + BACK_POINTER_BYTES) return this.keep(buffer, 0, tags);
      if (buffer[0] !== 0x46 || buffer[1] !== 0x4c || buffer[2] !== 0x56) throw new FlvSyntaxError('no signature', this.consumed);
      at = new DataView(buffer.buffer, buffer.byteOffset).getUint32(5) + BACK_POINTER_BYTES;
      this.headerRead = true;
    }
    while (buffer.length - at >= TAG_HEAD_BYTES) {
      const view = new DataView(buffer.buffer, buffer.byteOffset + at);
      const kind = KIND_OF_CODE[buffer[at]! & 0x1f];
      if (!kind) throw new FlvSyntaxError(`tag type ${buffer[at]}`, this.consumed + at);
      const size = view.getUint32(0) & 0xffffff;
      const end = at + TAG_HEAD_BYTES + size + BACK_POINTER_BYTES;
      if (end > buffer.length) break;
      const timestampMs = (view.getUint32(4) >>> 8) + buffer[at + 7]! * 2 ** 24;
      tags.push({ kind, timestampMs, data: buffer.slice(at + TAG_HEAD_BYTES, at + TAG_HEAD_BYTES + size) });
      at = end;
    }
    return this.keep(buffer, at, tags);
  }

  private keep(buffer: Uint8Array, from: number, tags: FlvTag[]): FlvTag[] {
    this.rest = buffer.slice(from);
    this.consumed += from;
    return tags;
  }
}

function concat(a: Uint8Array, b: Uint8Array): Uint8Array<ArrayBuffer> {
  const joined = new Uint8Array(a.length + b.length);
  joined.set(a);
  joined.set(b, a.length);
  return joined;
}
