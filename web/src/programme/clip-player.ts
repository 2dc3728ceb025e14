// A clip as it is played into a programme: fetched as it is needed and a little ahead, its pictures decoded beside the compositor, its sound handed
// on in time. Goes by the compositor's clock, so that it plays on while the stage's tab is hidden.
import { FlvReader, FlvSyntaxError, isKeyFrame, isSequenceHeader, type FlvTag } from '@lantern/core';
import { TagPicture } from './tag-picture';

/** So much of it is held ready, in ms: enough for a line that hesitates. */
const AHEAD_MS = 6_000;
const DECODED_AHEAD_MS = 400;
const SOUND_AHEAD_MS = 700;
const MOST_DECODING = 10;
/** From then on it goes, and its first sound has been decoded. */
const BEGINS_AFTER_MS = 25;
/** Nothing more has come for so long, and the clip is given up. */
const GIVEN_UP_MS = 3_000;
const PICTURE_MS = 34;
const AGAIN_AFTER_MS = 700;

/** What is to be played. Times in ms of the clip; `untilMs` null: to its end. */
export interface Playing {
  id: string;
  url: string;
  kind: 'film' | 'sound';
  fromMs: number;
  untilMs: number | null;
}

/** What is told of a clip. `startedAt`: when its beginning is seen, in ms since the epoch by this machine's clock, with fractions. */
export type ClipTold =
  { state: 'ready' } | { state: 'playing'; startedAt: number } | { state: 'sound'; tag: FlvTag } | { state: 'over'; whole: boolean } | { state: 'failed' };

export class ClipPlayer {
  private readonly reader = new FlvReader();
  private readonly abort = new AbortController();
  private readonly picture = new TagPicture({ due: (mediaMs) => this.due(mediaMs) });
  private pictures: FlvTag[] = [];
  private sounds: FlvTag[] = [];
  private startedAt: number | null = null;
  private wanted = false;
  private ready = false;
  private ended = false;
  private allCame = false;
  /** Up to where it has come. */
  private cameMs = 0;
  private cameAt = performance.now();
  private goOn: () => void = () => undefined;

  constructor(
    readonly clip: Playing,
    private readonly tell: (told: ClipTold) => void,
  ) {
    void this.fetch();
  }

  /** Begins as soon as its first picture is there. */
  start(): void {
    this.wanted = true;
  }

  /** The picture that is due now; null: there is none. Belongs to this, and is closed by it. */
  at(now: number): VideoFrame | null {
    // Its first picture is there from the press on: nothing else stands in its place for the moment that its sound needs.
    return this.startedAt === null ? null : this.picture.at(Math.max(now, this.startedAt));
  }

  /** Does what is due: to be called with each picture of the programme. */
  work(now: number): void {
    if (this.ended) return;
    const { kind, fromMs, untilMs } = this.clip;
    const position = this.startedAt === null ? fromMs : fromMs + now - this.startedAt;
    while (this.pictures.length && this.pictures[0]!.timestampMs <= position + DECODED_AHEAD_MS && this.picture.decoding < MOST_DECODING)
      this.picture.take(this.pictures.shift()!);
    this.goOn();
    if (this.startedAt === null) {
      if (!this.ready && (kind === 'film' ? this.picture.has(fromMs) : this.sounds.length > 1)) {
        this.ready = true;
        this.tell({ state: 'ready' });
      }
      if (this.ready && this.wanted) {
        this.startedAt = now + BEGINS_AFTER_MS;
        this.tell({ state: 'playing', startedAt: performance.timeOrigin + this.startedAt });
      } else if (this.wanted && now - this.cameAt > GIVEN_UP_MS) this.fail();
      return;
    }
    while (this.sounds.length && this.sounds[0]!.timestampMs <= position + SOUND_AHEAD_MS) this.tell({ state: 'sound', tag: this.sounds.shift()! });
    const beyond = position > this.cameMs + PICTURE_MS;
    if (position >= (untilMs ?? Infinity) || (beyond && this.allCame)) this.finish(true);
    // What was held has been played, and nothing more comes.
    else if (beyond && now - this.cameAt > GIVEN_UP_MS) this.finish(false);
  }

  close(): void {
    this.ended = true;
    this.abort.abort();
    this.goOn();
    this.picture.close();
    this.pictures = [];
    this.sounds = [];
  }

  private due(mediaMs: number): number | null {
    return this.startedAt === null ? null : this.startedAt + mediaMs - this.clip.fromMs;
  }

  private finish(whole: boolean): void {
    this.close();
    this.tell({ state: 'over', whole });
  }

  private fail(): void {
    if (this.ended) return;
    this.close();
    this.tell({ state: 'failed' });
  }

  /** Reads it to its end. A line that breaks, or a server that is started anew, is asked once more from where it broke, as long as there is something left to play. */
  private async fetch(): Promise<void> {
    let received = 0;
    while (!this.ended) {
      try {
        const answer = await fetch(this.clip.url, { signal: this.abort.signal, ...(received && { headers: { range: `bytes=${received}-` } }) });
        // Whole again although a part was asked for: what is known already cannot be told from what is not.
        if (!answer.ok || !answer.body || (received > 0 && answer.status !== 206)) throw new Error(`answered ${answer.status}`);
        const whole = received + Number(answer.headers.get('content-length') ?? 0);
        const body = answer.body.getReader();
        for (;;) {
          const { done, value } = await body.read();
          if (done) break;
          received += value.length;
          this.cameAt = performance.now();
          for (const tag of this.reader.push(value)) this.take(tag);
          if (this.ended || this.cameMs > (this.clip.untilMs ?? Infinity)) break;
          while (!this.ended && this.heldMs > AHEAD_MS) await new Promise<void>((next) => (this.goOn = next));
        }
        await body.cancel().catch(() => undefined);
        if (received < whole && !this.ended && this.cameMs <= (this.clip.untilMs ?? Infinity)) throw new Error('broke off');
        this.allCame = true;
        if (this.cameMs === 0) this.fail();
        return;
      } catch (error) {
        // What cannot be read ends it there; what does not come is asked for again.
        if (error instanceof FlvSyntaxError || this.abort.signal.aborted) break;
        await new Promise((next) => setTimeout(next, AGAIN_AFTER_MS));
      }
    }
    if (!this.ready) this.fail();
  }

  /** What lies before the beginning is left out, but for what its first picture is made from. */
  private take(tag: FlvTag): void {
    const { fromMs, untilMs } = this.clip;
    if (tag.kind === 'script') return;
    if (tag.kind === 'video') {
      if (isSequenceHeader(tag)) return this.picture.take(tag);
      if (isKeyFrame(tag) && tag.timestampMs <= fromMs) this.pictures = [];
      this.pictures.push(tag);
    } else if (isSequenceHeader(tag) || tag.timestampMs >= fromMs) {
      if (untilMs === null || tag.timestampMs < untilMs) this.sounds.push(tag);
    }
    this.cameMs = Math.max(this.cameMs, tag.timestampMs);
  }

  /** How much of it is held, in ms. */
  private get heldMs(): number {
    const first = Math.min(this.pictures[0]?.timestampMs ?? Infinity, this.sounds[0]?.timestampMs ?? Infinity);
    return first === Infinity ? 0 : this.cameMs - Math.max(first, this.startedAt === null ? this.clip.fromMs : 0);
  }
}
