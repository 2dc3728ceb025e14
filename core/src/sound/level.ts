// Loudness of short blocks of sound, and what it means for a host.

/** dBFS below which a microphone counts as silent, and above which it will distort. */
export const SILENT_BELOW_DB = -55;
export const LOUD_ABOVE_DB = -3;
const FLOOR_DB = -90;

export interface Level {
  /** Root mean square and highest sample, in dB relative to full scale; never below -90. */
  rmsDb: number;
  peakDb: number;
}

/** The level of a block of samples in [-1, 1]. An empty block is silent. */
export function levelOf(samples: Float32Array): Level {
  let sum = 0;
  let peak = 0;
  for (const sample of samples) {
    sum += sample * sample;
    peak = Math.max(peak, Math.abs(sample));
  }
  const decibels = (amplitude: number) => Math.max(FLOOR_DB, 20 * Math.log10(amplitude || 1e-9));
  return { rmsDb: decibels(Math.sqrt(sum / Math.max(1, samples.length))), peakDb: decibels(peak) };
}

/** A level as a part of a meter from -60 dB (0) to full scale (1). */
export function meterShare(db: number): number {
  return Math.min(1, Math.max(0, (db + 60) / 60));
}
