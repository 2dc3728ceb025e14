// The programme as one unbroken line of tags, whichever input it comes from, and copies of it for
// readers that join at any moment. Knows nothing of processes or sockets.
import { flvHeader, flvTagBytes, isKeyFrame, isSequenceHeader, type FlvTag } from './tags';

/** The least step between the last tag of one input and the first of the next: one picture at 30 a second. */
const FRAME_MS = 33;
/** Further from the wall clock than this, and the programme is set right at a key frame. */
const DRIFT_MS = 40;
/** Pictures of which the middle one tells how late an input is: they come several at a time, and what comes in a burst is late for a moment only. */
const LATENESS_OVER = 90;
const LATENESS_FROM = 24;
/** Set back by no more than this at once: some pictures are then closer to each other. */
const BACK_AT_ONCE_MS = 250;

/** One source as the programme sees it: it remembers its own decoder configuration, whether it is on or not. */
export class ProgrammeInput {
  private readonly configuration = new Map<FlvTag['kind'], FlvTag>();

  constructor(readonly name: string) {}

  /** Keeps a tag that carries configuration. False: it says what was known already. */
  note(tag: FlvTag): boolean {
    const before = this.configuration.get(tag.kind);
    this.configuration.set(tag.kind, tag);
    return before === undefined || !sameBytes(before.data, tag.data);
  }

  get headers(): FlvTag[] {
    return [...this.configuration.values()];
  }

  get hasPicture(): boolean {
    return this.configuration.has('video');
  }
}

/**
 * Puts inputs one after the other into one line of time. One input is selected; it comes on at its next key frame, with
 * its configuration before that, and until then the one before it stays. Tags of an input that is neither change nothing.
 *
 * Times are wall time since going on air, in ms: an input comes on at max(last time + one picture, now), and whoever drifts
 * from the wall clock by more than 40 ms is set right at a key frame. They never go back, per kind.
 */
export class ProgrammeSplicer {
  private lastOutMs = -FRAME_MS;
  private readonly lastOutByKind = { audio: 0, video: 0, script: 0 };
  private lastPictureMs = -1;
  private selected: ProgrammeInput | null = null;
  private on: ProgrammeInput | null = null;
  /** Added to the times of the input that is on. */
  private shiftMs = 0;
  private joinedAtMs = 0;
  private lateness: number[] = [];

  /** Has an input come on at its next key frame. May be called again and again. */
  select(input: ProgrammeInput): void {
    this.selected = input;
  }

  /** The input whose tags go out at this moment; null: none has been on. */
  get onAir(): ProgrammeInput | null {
    return this.on;
  }

  /**
   * The tags to send on for one tag of an input, with programme times: often one, none before the first key frame of what
   * is selected. `nowMs` is the wall time since going on air; null joins inputs end to end, as a recording is.
   */
  push(input: ProgrammeInput, tag: FlvTag, nowMs: number | null): FlvTag[] {
    if (tag.kind === 'script') return [];
    if (isSequenceHeader(tag)) {
      const isNews = input.note(tag);
      return isNews && input === this.on ? [this.timed({ ...tag, timestampMs: Math.max(tag.timestampMs, this.joinedAtMs - this.shiftMs) })] : [];
    }
    const comesOn = input === this.selected && input !== this.on && isKeyFrame(tag) && input.hasPicture;
    if (comesOn) return this.join(input, tag, nowMs);
    if (input !== this.on) return [];
    if (nowMs !== null && tag.kind === 'video') this.setRight(tag, nowMs);
    // What belongs to the moments before it came on is another source's time.
    if (tag.timestampMs + this.shiftMs < this.joinedAtMs) return [];
    return [this.timed(tag)];
  }

  /** Length of the programme so far, in ms. */
  get lengthMs(): number {
    return Math.max(0, this.lastOutMs + FRAME_MS);
  }

  /** What is added to the times of the input that is on, in ms. */
  get shift(): number {
    return this.shiftMs;
  }

  private join(input: ProgrammeInput, tag: FlvTag, nowMs: number | null): FlvTag[] {
    this.on = input;
    this.joinedAtMs = Math.max(this.lastOutMs + FRAME_MS, nowMs ?? 0);
    this.shiftMs = this.joinedAtMs - tag.timestampMs;
    this.lateness = [];
    return [...input.headers.map((header) => this.timed({ ...header, timestampMs: tag.timestampMs })), this.timed(tag)];
  }

  private setRight(tag: FlvTag, nowMs: number): void {
    this.lateness.push(nowMs - (tag.timestampMs + this.shiftMs));
    if (this.lateness.length > LATENESS_OVER) this.lateness.shift();
    if (!isKeyFrame(tag) || this.lateness.length < LATENESS_FROM) return;
    const sorted = [...this.lateness].sort((a, b) => a - b);
    const middle = sorted[sorted.length >> 1]!;
    if (Math.abs(middle) <= DRIFT_MS) return;
    this.shiftMs += Math.max(-BACK_AT_ONCE_MS, middle);
    this.lateness = [];
  }

  private timed(tag: FlvTag): FlvTag {
    // Two pictures have two times.
    const isPicture = tag.kind === 'video' && !isSequenceHeader(tag);
    const least = isPicture ? Math.max(this.lastPictureMs + 1, this.lastOutByKind.video) : this.lastOutByKind[tag.kind];
    const timestampMs = Math.max(least, Math.round(tag.timestampMs + this.shiftMs));
    this.lastOutByKind[tag.kind] = timestampMs;
    if (isPicture) this.lastPictureMs = timestampMs;
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

  constructor(private readonly programme: ProgrammeStart) {}

  /** What a reader that joins now begins with: all since the last key frame, so that it waits for no other. Null: there has been none. */
  join(): Uint8Array[] | null {
    const [first, ...rest] = this.programme.since;
    const begun = first && this.begin(first, flvTagBytes(first));
    return begun ? [...begun, ...rest.map((tag) => flvTagBytes(tag))] : null;
  }

  /** The bytes that this reader gets for one programme tag; null while it waits for a key frame. `ready` are the tag's own bytes, made once for all readers. */
  bytesFor(tag: FlvTag, ready: () => Uint8Array = () => flvTagBytes(tag)): Uint8Array[] | null {
    if (this.joined) return [ready()];
    return isKeyFrame(tag) ? this.begin(tag, ready()) : null;
  }

  private begin(tag: FlvTag, bytes: Uint8Array): Uint8Array[] | null {
    if (!this.programme.video) return null;
    this.joined = true;
    const headers = [this.programme.video, this.programme.audio].filter((header) => header !== null);
    return [flvHeader(), ...headers.map((header) => flvTagBytes(header, tag.timestampMs)), bytes];
  }
}

/** More than this between two key frames is held for nobody, in bytes. */
const MOST_SINCE = 1_500_000;

/** What readers that join late begin with: the decoder configuration in force, and what has gone out since the last key frame. */
export class ProgrammeStart {
  video: FlvTag | null = null;
  audio: FlvTag | null = null;
  /** From a key frame on; empty until there is one. */
  since: FlvTag[] = [];
  private bytes = 0;

  note(tag: FlvTag): void {
    if (isSequenceHeader(tag)) {
      if (tag.kind === 'video') this.video = tag;
      if (tag.kind === 'audio') this.audio = tag;
      // What went before was made by another configuration.
      this.forget();
    } else if (isKeyFrame(tag)) {
      this.since = [tag];
      this.bytes = tag.data.length;
    } else if (this.since.length) {
      this.since.push(tag);
      this.bytes += tag.data.length;
      if (this.bytes > MOST_SINCE) this.forget();
    }
  }

  private forget(): void {
    this.since = [];
    this.bytes = 0;
  }
}

function sameBytes(a: Uint8Array, b: Uint8Array): boolean {
  return a.length === b.length && a.every((byte, at) => byte === b[at]);
}
