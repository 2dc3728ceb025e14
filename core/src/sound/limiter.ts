// Keeps a sound below a ceiling, between its samples too, without being heard: it looks ahead, and turns down before what is too loud comes.
import { MOST_TRUE_PEAK_DB } from './loudness';
import { TruePeak } from './true-peak';

/** So long the gain takes to come down. */
const ATTACK_S = 0.005;
/** And to most of the way back. */
const RELEASE_S = 0.15;
const CHANNELS = 2;
/** A gain that nobody can tell from none. */
const AS_GOOD_AS_WHOLE = 0.9999;

/**
 * One limiter. The gain that each sample needs is held over all the samples that it takes to get there (a moving minimum), let go slowly, and smoothed by a
 * moving mean, which is never above any of the minima in it: so no peak passes before the gain has come down.
 */
export class Limiter {
  /** By so many samples what comes out is later than what went in. */
  readonly delay: number;
  private readonly ceiling: number;
  private readonly release: number;
  private readonly mean: Float64Array;
  private readonly held: number;
  /** The moving minimum as a queue of rising values, each with its place in time. */
  private readonly queue: { values: Float64Array; times: Float64Array };
  private first = 0;
  private count = 0;
  private time = 0;
  private sum: number;
  private gain = 1;
  /** For how many samples yet a high one is near, by channel. */
  private readonly near = new Int32Array(CHANNELS);
  /** The highest sample of what came before this. */
  private before = 0;
  /** For how many samples there has been nothing to turn down. */
  private rests = 0;
  private readonly waiting: Float32Array[];
  private readonly peaks = Array.from({ length: CHANNELS }, () => new TruePeak());

  /** `rate` in Hz, `ceilingDb` in dBTP. */
  constructor(rate: number, ceilingDb = MOST_TRUE_PEAK_DB) {
    const attack = Math.round(rate * ATTACK_S);
    this.ceiling = 10 ** (ceilingDb / 20);
    this.release = 1 - Math.exp(-1 / (rate * RELEASE_S));
    // What a peak needs is known up to LATE samples after it, and has to hold from then until it has passed.
    this.delay = attack + TruePeak.LATE;
    this.held = this.delay + 1;
    this.mean = new Float64Array(attack).fill(1);
    this.sum = attack;
    this.queue = { values: new Float64Array(this.held + 1), times: new Float64Array(this.held + 1) };
    this.waiting = Array.from({ length: CHANNELS }, () => new Float32Array(this.delay));
  }

  /** Takes samples of one or two channels and gives as many, later by `delay`. Where there is no input it is silence. */
  process(input: readonly Float32Array[], output: readonly Float32Array[]): void {
    const frames = output[0]?.length ?? 0;
    const loudest = Math.max(highestOf(input[0]), highestOf(input[1]));
    // So quiet, and nothing turned down any more: most of an evening is only passed on.
    const quiet = Math.max(loudest, this.before) * TruePeak.MOST < this.ceiling;
    this.before = loudest;
    if (quiet && this.gain > AS_GOOD_AS_WHOLE) this.rests += frames;
    else this.rests = 0;
    if (this.rests > this.held + this.mean.length) this.pass(input, output, frames);
    else this.limit(input, output, frames);
  }

  private limit(input: readonly Float32Array[], output: readonly Float32Array[], frames: number): void {
    for (let frame = 0; frame < frames; frame++) {
      let peak = 0;
      for (let channel = 0; channel < CHANNELS; channel++) {
        const sample = (input[channel] ?? input[0])?.[frame] ?? 0;
        const size = Math.abs(sample);
        // Between samples that are all low nothing is high.
        if (size * TruePeak.MOST >= this.ceiling) this.near[channel] = TruePeak.LATE;
        if (this.near[channel]! > 0) {
          this.near[channel]!--;
          const high = Math.max(size, this.peaks[channel]!.push(sample));
          if (high > peak) peak = high;
        } else this.peaks[channel]!.remember(sample);
      }
      const gain = this.smoothed(this.minimum(peak > this.ceiling ? this.ceiling / peak : 1));
      this.exchange(input, output, frame, gain);
    }
  }

  /** As it is, only later. */
  private pass(input: readonly Float32Array[], output: readonly Float32Array[], frames: number): void {
    if (this.gain !== 1) {
      this.gain = 1;
      this.mean.fill(1);
      this.sum = this.mean.length;
    }
    this.count = 0;
    for (let frame = 0; frame < frames; frame++) {
      if (frame >= frames - TruePeak.LATE)
        for (let channel = 0; channel < CHANNELS; channel++) this.peaks[channel]!.remember((input[channel] ?? input[0])?.[frame] ?? 0);
      this.exchange(input, output, frame, 1);
    }
  }

  /** Gives what has waited long enough, and takes what came. */
  private exchange(input: readonly Float32Array[], output: readonly Float32Array[], frame: number, gain: number): void {
    const place = this.time % this.delay;
    for (let channel = 0; channel < CHANNELS; channel++) {
      const waiting = this.waiting[channel]!;
      const out = output[channel];
      if (out) out[frame] = waiting[place]! * gain;
      waiting[place] = (input[channel] ?? input[0])?.[frame] ?? 0;
    }
    this.time++;
  }

  /** The lowest of the last `held` values. */
  private minimum(value: number): number {
    const { values, times } = this.queue;
    const size = values.length;
    while (this.count && values[(this.first + this.count - 1) % size]! >= value) this.count--;
    const end = (this.first + this.count) % size;
    values[end] = value;
    times[end] = this.time;
    this.count++;
    while (times[this.first]! <= this.time - this.held) {
      this.first = (this.first + 1) % size;
      this.count--;
    }
    return values[this.first]!;
  }

  private smoothed(needed: number): number {
    this.gain = needed < this.gain ? needed : this.gain + (needed - this.gain) * this.release;
    const place = this.time % this.mean.length;
    this.sum += this.gain - this.mean[place]!;
    this.mean[place] = this.gain;
    // What adding up and taking away leaves behind does not grow.
    if (place === 0) this.sum = this.mean.reduce((sum, each) => sum + each, 0);
    return this.sum / this.mean.length;
  }
}

function highestOf(samples: Float32Array | undefined): number {
  let highest = 0;
  for (let at = 0; samples && at < samples.length; at++) {
    const high = Math.abs(samples[at]!);
    if (high > highest) highest = high;
  }
  return highest;
}
