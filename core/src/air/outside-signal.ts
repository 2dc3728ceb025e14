// What comes on an outside line, measured as it comes and judged in words: what of it can go out as it is, what is made anew first, and
// what single channels would not take.
import type { FlvTag } from '../flv/tags';
import { isKeyFrame, isSequenceHeader } from '../flv/tags';
import type { RuleSheet } from '../channels/rules';
import { codecOf, pictureSizeOf, soundOf } from '../flv/codecs';

/** Rates and distances are taken over so long, in ms. */
const MEASURED_OVER_MS = 5_000;
/** Every network of the rule sheets takes key frames so far apart, in ms; and viewers join at them. */
export const KEY_FRAMES_MOST_MS = 2_000;
/** The programme's own picture: what is larger is brought to it. */
const LARGEST_HEIGHT = 720;
/** Pictures a second beside 30 are taken as they are within this. */
const RATES = { least: 23, most: 31 };
/** More than any network takes, in kbit/s. */
const MOST_KBPS = 6_000;

/** Null: not known yet, or there is none. */
export interface OutsideFacts {
  video: string | null;
  audio: string | null;
  width: number | null;
  height: number | null;
  framesPerSecond: number | null;
  kbps: number | null;
  keyFramesMs: number | null;
  soundRate: number | null;
  soundChannels: number | null;
}

export const NO_FACTS: OutsideFacts = {
  ...{ video: null, audio: null, width: null, height: null, framesPerSecond: null, kbps: null, keyFramesMs: null, soundRate: null, soundChannels: null },
};

/** Measures one connection, tag by tag. `now` only goes forward, in ms. */
export class OutsideMeasure {
  private known: OutsideFacts = NO_FACTS;
  private since: number | null = null;
  private pictures = 0;
  private bytes = 0;
  private lastKeyMs: number | null = null;

  get facts(): OutsideFacts {
    return this.known;
  }

  note(tag: FlvTag, now: number): void {
    if (tag.kind === 'script') return;
    const codec = codecOf(tag);
    if (tag.kind === 'audio') {
      if (this.known.audio !== codec) this.known = { ...this.known, audio: codec };
      const sound = codec === 'AAC' && isSequenceHeader(tag) ? soundOf(tag) : null;
      if (sound) this.known = { ...this.known, soundRate: sound.rate, soundChannels: sound.channels };
    } else {
      if (this.known.video !== codec) this.known = { ...this.known, video: codec };
      const size = codec === 'H.264' && isSequenceHeader(tag) ? pictureSizeOf(tag) : null;
      if (size) this.known = { ...this.known, ...size };
      if (!isSequenceHeader(tag)) this.pictures += 1;
      if (isKeyFrame(tag)) {
        if (this.lastKeyMs !== null) this.known = { ...this.known, keyFramesMs: tag.timestampMs - this.lastKeyMs };
        this.lastKeyMs = tag.timestampMs;
      }
    }
    this.since ??= now;
    this.bytes += tag.data.length;
    const forMs = now - this.since;
    if (forMs < MEASURED_OVER_MS) return;
    this.known = { ...this.known, framesPerSecond: Math.round((this.pictures * 1000) / forMs), kbps: Math.round((this.bytes * 8) / forMs) };
    this.since = now;
    this.pictures = 0;
    this.bytes = 0;
  }
}

export type OutsideTrouble =
  | { code: 'codec'; what: 'picture' | 'sound'; codec: string | null }
  | { code: 'shape'; width: number; height: number }
  | { code: 'too large'; height: number }
  | { code: 'frame rate'; framesPerSecond: number }
  | { code: 'key frames'; everyMs: number }
  | { code: 'rate'; kbps: number }
  | { code: 'no sound' };

/** What keeps the picture from going out as it comes; it is made anew then. What is not known yet is no trouble. */
export function reasonsToNormalise(facts: OutsideFacts): OutsideTrouble[] {
  const { video, audio, width, height, framesPerSecond, keyFramesMs, kbps } = facts;
  const found: OutsideTrouble[] = [];
  if (video !== null && video !== 'H.264') found.push({ code: 'codec', what: 'picture', codec: video });
  if (audio !== null && audio !== 'AAC') found.push({ code: 'codec', what: 'sound', codec: audio });
  if (width !== null && height !== null) {
    // A line or two beside 16:9 are what encoders round to.
    if (Math.abs(width * 9 - height * 16) > 16 * 16) found.push({ code: 'shape', width, height });
    else if (height > LARGEST_HEIGHT) found.push({ code: 'too large', height });
  }
  if (framesPerSecond !== null && framesPerSecond > RATES.most) found.push({ code: 'frame rate', framesPerSecond });
  if (keyFramesMs !== null && keyFramesMs > KEY_FRAMES_MOST_MS + 100) found.push({ code: 'key frames', everyMs: keyFramesMs });
  if (kbps !== null && kbps > MOST_KBPS) found.push({ code: 'rate', kbps });
  return found;
}

/** What whoever looks after the encoder should know besides. */
export function otherTroubles({ audio, framesPerSecond, video }: OutsideFacts): OutsideTrouble[] {
  const found: OutsideTrouble[] = [];
  if (video !== null && audio === null && framesPerSecond !== null) found.push({ code: 'no sound' });
  if (framesPerSecond !== null && framesPerSecond < RATES.least) found.push({ code: 'frame rate', framesPerSecond });
  return found;
}

/** What goes out of what is made anew. */
const MADE_ANEW = { height: 720, kbps: 2_500 };

export type BeyondLimit =
  { code: 'lines'; height: number; most: number } | { code: 'above'; kbps: number; most: number } | { code: 'below'; kbps: number; least: number };

/** What of a picture one channel would not take as it goes out. `normalised`: it is made anew before. Rates in kbit/s. */
export function beyondLimits(facts: OutsideFacts, normalised: boolean, limits: RuleSheet['video']): BeyondLimit[] {
  if (limits === null) return [];
  const { height, kbps } = normalised ? MADE_ANEW : facts;
  const found: BeyondLimit[] = [];
  if (height !== null && height > limits.maxHeight) found.push({ code: 'lines', height, most: limits.maxHeight });
  if (kbps !== null && kbps > limits.maxKbps) found.push({ code: 'above', kbps, most: limits.maxKbps });
  if (kbps !== null && limits.minKbps !== null && kbps < limits.minKbps) found.push({ code: 'below', kbps, least: limits.minKbps });
  return found;
}
