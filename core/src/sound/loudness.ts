// How loud a programme is to its hearers, as ITU-R BS.1770-5 measures it, over the times of EBU Tech 3341.

import { TruePeak } from './true-peak';

/** Channels that count; all of them by 1, as left, right and centre do (BS.1770-5, table 3). */
const MOST_CHANNELS = 2;
/** Below it nothing counts for the whole, in LUFS; and so far below the mean of what does, in LU (annex 1, gating). */
const ABSOLUTE_GATE = -70;
const RELATIVE_GATE = -10;
/** Times are multiples of this: blocks of 400 ms that overlap by three quarters begin so far apart. */
const STEP_S = 0.1;
const MOMENTARY_STEPS = 4;
const SHORT_TERM_STEPS = 30;
/** What no level is below, so that silence is a number. */
export const SILENCE_LUFS = -120;
/** Blocks are counted by their loudness in so many classes of a tenth, so that an evening takes no more room than a minute. */
const CLASSES = 900;
const CLASS_LU = 0.1;

/** In LUFS, and dB relative to full scale for the peak. */
export interface Loudness {
  /** Of the last 400 ms. */
  momentary: number;
  /** Of the last three seconds. */
  shortTerm: number;
  /** Of all since the beginning, what is silent left out. */
  integrated: number;
  /** The highest between samples too, since it was read last. */
  truePeakDb: number;
}

interface Biquad {
  b0: number;
  b1: number;
  b2: number;
  a1: number;
  a2: number;
}

/**
 * The two filters of the K weighting for any rate, in Hz. For 48 kHz they are those of BS.1770-5, tables 1 and 2; others have the same
 * response, by the bilinear transform of the same analogue filters.
 */
export function kWeighting(rate: number): [Biquad, Biquad] {
  const shelf = ((): Biquad => {
    const [f0, gainDb, q] = [1681.974450955533, 3.999843853973347, 0.7071752369554196];
    const k = Math.tan((Math.PI * f0) / rate);
    const vh = 10 ** (gainDb / 20);
    const vb = vh ** 0.4996667741545416;
    const a0 = 1 + k / q + k * k;
    return {
      b0: (vh + (vb * k) / q + k * k) / a0,
      b1: (2 * (k * k - vh)) / a0,
      b2: (vh - (vb * k) / q + k * k) / a0,
      a1: (2 * (k * k - 1)) / a0,
      a2: (1 - k / q + k * k) / a0,
    };
  })();
  const high = ((): Biquad => {
    const [f0, q] = [38.13547087602444, 0.5003270373238773];
    const k = Math.tan((Math.PI * f0) / rate);
    const a0 = 1 + k / q + k * k;
    return { b0: 1, b1: -2, b2: 1, a1: (2 * (k * k - 1)) / a0, a2: (1 - k / q + k * k) / a0 };
  })();
  return [shelf, high];
}

const lufs = (energy: number): number => (energy > 0 ? Math.max(SILENCE_LUFS, -0.691 + 10 * Math.log10(energy)) : SILENCE_LUFS);

/** One channel on its way: the states of both filters, and its peaks. */
class Channel {
  private s1 = 0;
  private s2 = 0;
  private h1 = 0;
  private h2 = 0;
  readonly peaks = new TruePeak();

  constructor(
    private readonly shelf: Biquad,
    private readonly high: Biquad,
  ) {}

  /** The weighted sample, in transposed direct form II. */
  weighted(sample: number): number {
    const { shelf, high } = this;
    const shelved = shelf.b0 * sample + this.s1;
    this.s1 = shelf.b1 * sample - shelf.a1 * shelved + this.s2;
    this.s2 = shelf.b2 * sample - shelf.a2 * shelved;
    const out = high.b0 * shelved + this.h1;
    this.h1 = high.b1 * shelved - high.a1 * out + this.h2;
    this.h2 = high.b2 * shelved - high.a2 * out;
    return out;
  }
}

/** Measures a programme as it comes, in room that does not grow. `rate` in Hz. */
export class LoudnessMeter {
  private readonly channels: Channel[];
  private readonly stepSamples: number;
  /** Energies of the last steps, the newest at `at - 1`. */
  private readonly steps = new Float64Array(SHORT_TERM_STEPS);
  private taken = 0;
  private inStep = 0;
  private energy = 0;
  private peak = 0;
  /** By class of loudness, how many blocks and their energy. */
  private readonly counts = new Float64Array(CLASSES);
  private readonly energies = new Float64Array(CLASSES);

  constructor(rate: number) {
    this.channels = Array.from({ length: MOST_CHANNELS }, () => new Channel(...kWeighting(rate)));
    this.stepSamples = Math.round(rate * STEP_S);
  }

  /** Takes samples in [-1, 1], an array a channel, all of one length; channels beyond the second are left out. One alone is the left one. */
  push(sound: readonly Float32Array[]): void {
    const count = Math.min(MOST_CHANNELS, sound.length);
    const length = sound[0]?.length ?? 0;
    for (let at = 0; at < length; at++) {
      for (let which = 0; which < count; which++) {
        const sample = sound[which]![at]!;
        const channel = this.channels[which]!;
        const weighted = channel.weighted(sample);
        this.energy += weighted * weighted;
        const peak = channel.peaks.push(sample);
        if (peak > this.peak) this.peak = peak;
      }
      if (++this.inStep === this.stepSamples) this.step();
    }
  }

  /** What is heard now and has been so far. The peak begins anew with each reading. */
  read(): Loudness {
    const { peak } = this;
    this.peak = 0;
    return {
      momentary: lufs(this.mean(MOMENTARY_STEPS)),
      shortTerm: lufs(this.mean(SHORT_TERM_STEPS)),
      integrated: this.integrated(),
      truePeakDb: Math.max(SILENCE_LUFS, 20 * Math.log10(peak || 1e-9)),
    };
  }

  /** What was measured so far counts no more for the whole. */
  restart(): void {
    this.counts.fill(0);
    this.energies.fill(0);
  }

  private step(): void {
    this.steps[this.taken % SHORT_TERM_STEPS] = this.energy / this.stepSamples;
    this.taken += 1;
    this.inStep = 0;
    this.energy = 0;
    if (this.taken < MOMENTARY_STEPS) return;
    const energy = this.mean(MOMENTARY_STEPS);
    const loudness = lufs(energy);
    if (loudness <= ABSOLUTE_GATE) return;
    const of = Math.min(CLASSES - 1, Math.floor((loudness - ABSOLUTE_GATE) / CLASS_LU));
    this.counts[of]! += 1;
    this.energies[of]! += energy;
  }

  /** Mean energy of the last steps; of a beginning, what there is counts as if silence had been before. */
  private mean(steps: number): number {
    let sum = 0;
    for (let back = 1; back <= Math.min(steps, this.taken); back++) sum += this.steps[(this.taken - back) % SHORT_TERM_STEPS]!;
    return sum / steps;
  }

  private integrated(): number {
    const over = (gate: number): number => {
      let [count, energy] = [0, 0];
      const from = Math.max(0, Math.floor((gate - ABSOLUTE_GATE) / CLASS_LU));
      for (let of = from; of < CLASSES; of++) {
        count += this.counts[of]!;
        energy += this.energies[of]!;
      }
      return count ? lufs(energy / count) : SILENCE_LUFS;
    };
    const all = over(ABSOLUTE_GATE);
    return all === SILENCE_LUFS ? SILENCE_LUFS : over(all + RELATIVE_GATE);
  }
}

/** What streams are usually made at, in LUFS. */
export const USUAL_TARGET_LUFS = -16;
/** Others that are asked for: of loud streams, of quiet ones, and of broadcast (EBU R 128). */
export const TARGETS_LUFS = [-14, USUAL_TARGET_LUFS, -18, -23] as const;
/** Above it a converter of somebody else's may distort, in dB relative to full scale (EBU R 128, s1). */
export const MOST_TRUE_PEAK_DB = -1;
/** So far from its target a programme is heard as too quiet or too loud, in LU. */
const QUIET_BELOW_LU = 7;
const LOUD_ABOVE_LU = 4;
const SILENT_LUFS = -55;

/**
 * How many dB a prepared sound is made louder, or with a minus quieter, so that it is as loud as a programme: up to its target, and no
 * further than its peaks allow.
 */
export const gainTo = ({ integrated, truePeakDb }: Pick<Loudness, 'integrated' | 'truePeakDb'>, target = USUAL_TARGET_LUFS): number =>
  Math.min(target - integrated, MOST_TRUE_PEAK_DB - truePeakDb);

export type LoudnessVerdict = 'silent' | 'too quiet' | 'good' | 'too loud' | 'clips';

/** What a reading means for who listens. `target` in LUFS. */
export function loudnessVerdict({ momentary, shortTerm, truePeakDb }: Loudness, target = USUAL_TARGET_LUFS): LoudnessVerdict {
  if (truePeakDb > MOST_TRUE_PEAK_DB) return 'clips';
  if (momentary < SILENT_LUFS && shortTerm < SILENT_LUFS) return 'silent';
  if (shortTerm > target + LOUD_ABOVE_LU) return 'too loud';
  return shortTerm < target - QUIET_BELOW_LU ? 'too quiet' : 'good';
}
