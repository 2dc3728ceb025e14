// The highest that a sound reaches, between its samples too (ITU-R BS.1770-5, annex 2).

/** Four times as many samples, so that peaks between them are seen: 48 taps in four phases (annex 2, table 5). */
const TAPS = 12;
const FIRST = [
  ...[0.001708984375, 0.010986328125, -0.0196533203125, 0.033203125, -0.0594482421875, 0.1373291015625],
  ...[0.97216796875, -0.102294921875, 0.047607421875, -0.026611328125, 0.014892578125, -0.00830078125],
];
const SECOND = [
  ...[-0.0291748046875, 0.029296875, -0.0517578125, 0.089111328125, -0.16650390625, 0.465087890625],
  ...[0.77978515625, -0.2003173828125, 0.1015625, -0.0582275390625, 0.0330810546875, -0.0189208984375],
];
/** The other two phases are these, backwards. */
const OVERSAMPLING = Float64Array.from([FIRST, SECOND, [...SECOND].reverse(), [...FIRST].reverse()].flat());

/** Of one channel, sample by sample. */
export class TruePeak {
  /** By so many samples what is told may be late. */
  static readonly LATE = TAPS;
  /** No peak between samples is higher than so many times the highest of the samples around it. */
  static readonly MOST = Math.max(...[FIRST, SECOND].map((phase) => phase.reduce((sum, tap) => sum + Math.abs(tap), 0)));
  /** Twice beside itself, so that the last twelve always lie in a row. */
  private readonly last = new Float64Array(2 * TAPS);
  private at = 0;

  /** Takes a sample of which nothing is asked. */
  remember(sample: number): void {
    this.at = this.at === 0 ? TAPS - 1 : this.at - 1;
    this.last[this.at] = sample;
    this.last[this.at + TAPS] = sample;
  }

  /** The highest of the four samples that stand for this one. */
  push(sample: number): number {
    this.remember(sample);
    const { at, last } = this;
    let highest = 0;
    for (let from = 0; from < OVERSAMPLING.length; from += TAPS) {
      let sum = 0;
      for (let tap = 0; tap < TAPS; tap++) sum += OVERSAMPLING[from + tap]! * last[at + tap]!;
      if (sum < 0) sum = -sum;
      if (sum > highest) highest = sum;
    }
    return highest;
  }
}
