// What is wrong with a sound as it comes in: heard for a while before it is said, and for a while before it is taken back, so that nothing flickers.
import { levelOf, LOUD_ABOVE_DB, SILENT_BELOW_DB, type Level } from './level';

export type SoundVerdict = 'silent' | 'good' | 'too loud' | 'one-sided' | 'humming';

/** One side is said to be silent where the other is so much louder, in dB. */
const ONE_SIDED_DB = 24;
/** Mains of the world, in Hz, and how many of their multiples are looked for: hum is the sum of them. */
const MAINS_HZ = [50, 60] as const;
const MULTIPLES = [1, 2, 3, 4, 5];
/** The part of a quiet moment's power that is hum. */
const HUM_SHARE = 0.6;
/** Quieter than this it is heard by nobody, in dB of full scale. */
const HUM_HEARD_DB = -62;
const SECOND_MS = 1_000;
/** Seconds in a row before something is said, and before it is taken back. */
const SAID_AFTER = 4;
const TAKEN_BACK_AFTER = 2;

/** Watches one sound. Told of a block of it some ten times a second; times in ms, going forward. */
export class SoundWatch {
  private secondBegan = -Infinity;
  /** Of the second that goes on: the loudest of either side, and the quietest moment that was to be heard at all. */
  private loudest: [number, number] = [-Infinity, -Infinity];
  private quietest: { rmsDb: number; humming: boolean } | null = null;
  private readonly said = { 'one-sided': new Lasting(), humming: new Lasting() };
  private level: Level = { rmsDb: -90, peakDb: -90 };

  /** `left`, `right`: samples in [-1, 1], alike where a sound has one channel; `rate`: samples a second. Says what is to be said of it now. */
  hear(left: Float32Array, right: Float32Array, rate: number, now: number): SoundVerdict {
    const [one, other] = [levelOf(left), levelOf(right)];
    this.level = { rmsDb: Math.max(one.rmsDb, other.rmsDb), peakDb: Math.max(one.peakDb, other.peakDb) };
    if (now - this.secondBegan >= SECOND_MS) this.close(now);
    this.loudest = [Math.max(this.loudest[0], one.rmsDb), Math.max(this.loudest[1], other.rmsDb)];
    const louder = one.rmsDb >= other.rmsDb ? left : right;
    const { rmsDb } = this.level;
    // Words go up and down; hum is what stays in between.
    if (rmsDb > HUM_HEARD_DB && (this.quietest === null || rmsDb < this.quietest.rmsDb)) this.quietest = { rmsDb, humming: humShare(louder, rate) > HUM_SHARE };
    return this.verdict;
  }

  /** It is another sound from now on: nothing is known of it. */
  forget(): void {
    for (const lasting of Object.values(this.said)) lasting.forget();
    this.secondBegan = -Infinity;
    this.quietest = null;
  }

  /** The level of the louder side, as it was heard last. */
  get lastLevel(): Level {
    return this.level;
  }

  private get verdict(): SoundVerdict {
    const { peakDb, rmsDb } = this.level;
    if (peakDb > LOUD_ABOVE_DB) return 'too loud';
    if (this.said['one-sided'].stands) return 'one-sided';
    if (this.said.humming.stands) return 'humming';
    return rmsDb < SILENT_BELOW_DB ? 'silent' : 'good';
  }

  private close(now: number): void {
    const [left, right] = this.loudest;
    if (this.secondBegan > -Infinity) {
      // Of silence nothing can be said, and nothing is taken back.
      if (Math.max(left, right) > SILENT_BELOW_DB) this.said['one-sided'].second(Math.abs(left - right) > ONE_SIDED_DB);
      this.said.humming.second(this.quietest?.humming ?? false);
    }
    this.secondBegan = now;
    this.loudest = [-Infinity, -Infinity];
    this.quietest = null;
  }
}

/** Something that is said once it has lasted, and taken back once it has been gone for a while. */
class Lasting {
  private seconds = 0;
  stands = false;

  forget(): void {
    this.seconds = 0;
    this.stands = false;
  }

  second(there: boolean): void {
    this.seconds = there === this.stands ? 0 : this.seconds + 1;
    if (this.seconds < (this.stands ? TAKEN_BACK_AFTER : SAID_AFTER)) return;
    this.stands = there;
    this.seconds = 0;
  }
}

/** The part of a block's power that lies on the multiples of one mains frequency, 0 to 1: of the one that it has more of. */
export function humShare(samples: Float32Array, rate: number): number {
  const { length } = samples;
  const windowed = new Float32Array(length);
  const hann = hannOf(length);
  let power = 0;
  for (let at = 0; at < length; at++) {
    const sample = samples[at]!;
    power += sample * sample;
    windowed[at] = sample * hann[at]!;
  }
  if (!power) return 0;
  const hum = (mains: number) => MULTIPLES.reduce((sum, multiple) => sum + powerAt(windowed, mains * multiple, rate), 0);
  return Math.min(1, Math.max(...MAINS_HZ.map(hum)) / (power / length));
}

let hann = new Float32Array(0);

/** Blocks are of one length: its window is worked out once. */
function hannOf(length: number): Float32Array {
  if (hann.length !== length) hann = Float32Array.from({ length }, (_, at) => 0.5 - 0.5 * Math.cos((2 * Math.PI * at) / length));
  return hann;
}

/** Mean power of a tone within a block under a Hann window: Goertzel's algorithm (1958). */
function powerAt(windowed: Float32Array, hz: number, rate: number): number {
  const { length } = windowed;
  const coefficient = 2 * Math.cos((2 * Math.PI * hz) / rate);
  let [before, last] = [0, 0];
  for (let at = 0; at < length; at++) {
    const now = windowed[at]! + coefficient * last - before;
    before = last;
    last = now;
  }
  const square = before * before + last * last - coefficient * before * last;
  return (8 * square) / (length * length);
}
