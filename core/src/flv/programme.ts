// The programme as one unbroken line of tags, whichever source it comes from, and copies of it for
// readers that join at any moment. Knows nothing of processes or sockets.
import { flvHeader, flvTagBytes, isKeyFrame, isSequenceHeader, type FlvTag } from './tags';

/** The step between the last tag of one source and the first of the next: one picture at 30 a second. */
const STEP_MS = 33;

/**
 * Joins sources end to end. A source counts from its first key frame; what it sends before is
 * dropped. Output times never go back, and each change of source repeats the decoder's
 * configuration, so that any player keeps playing.
 */
export class ProgrammeSplicer {
  private lastOutMs = -STEP_MS;
  private lastOutByKind = { audio: 0, video: 0, script: 0 };
  /** Added to the current source's times; null until its first key frame. */
  private shiftMs: number | null = null;
  private headers = new Map<FlvTag['kind'], FlvTag>();

  /** From the next tag on, a new source is in the programme. */
  changeSource(): void {
    this.shiftMs = null;
    this.headers.clear();
  }

  /** The tags to send on for one tag of the current source, with programme times. Often one, none before the first key frame. */
  push(tag: FlvTag): FlvTag[] {
    if (tag.kind === 'script') return [];
    if (isSequenceHeader(tag)) {
      this.headers.set(tag.kind, tag);
      return this.shiftMs === null ? [] : [this.timed(tag)];
    }
    if (this.shiftMs !== null) return [this.timed(tag)];
    if (!isKeyFrame(tag) || !this.headers.has('video')) return [];
    this.shiftMs = this.lastOutMs + STEP_MS - tag.timestampMs;
    return [...[...this.headers.values()].map((header) => this.timed({ ...header, timestampMs: tag.timestampMs })), this.timed(tag)];
  }

  /** Length of the programme so far, in ms. */
  get lengthMs(): number {
    return Math.max(0, this.lastOutMs + STEP_MS);
  }

  private timed(tag: FlvTag): FlvTag {
    const timestampMs = Math.max(this.lastOutByKind[tag.kind], tag.timestampMs + this.shiftMs!);
    this.lastOutByKind[tag.kind] = timestampMs;
    this.lastOutMs = Math.max(this.lastOutMs, timestampMs);
    return { ...tag, timestampMs };
  }
}

/**
 * One reader's copy of the programme. Joins at a key frame with header and configuration first, so
 * what it is given is a whole FLV stream from its first byte.
 */
export class ProgrammeReader {
  private joined = false;

  constructor(private readonly programme: ProgrammeHeaders) {}

  /** The bytes that this reader gets for one programme tag; null while it waits for a key frame. */
  bytesFor(tag: FlvTag): Uint8Array[] | null {
    if (this.joined) return [flvTagBytes(tag)];
    if (!isKeyFrame(tag) || !this.programme.video) return null;
    this.joined = true;
    const headers = [this.programme.video, this.programme.audio].filter((header) => header !== null);
    return [flvHeader(), ...headers.map((header) => flvTagBytes(header, tag.timestampMs)), flvTagBytes(tag)];
  }
}

/** The decoder configuration in force, kept for readers that join late. */
export class ProgrammeHeaders {
  video: FlvTag | null = null;
  audio: FlvTag | null = null;

  note(tag: FlvTag): void {
    if (!isSequenceHeader(tag)) return;
    if (tag.kind === 'video') this.video = tag;
    if (tag.kind === 'audio') this.audio = tag;
  }
}
