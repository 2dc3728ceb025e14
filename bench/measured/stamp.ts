// What a watched compositor tells, and where it writes the moment of its drawing.

/** Bits of the stamp, each a square of `px` pixels along the lower edge. */
export const STAMP = { bits: 41, px: 16, top: 720 - 16 } as const;

/** What the last second was like. Drawing times in ms; pictures that were due and not made, and those made, since the beginning. */
export interface Pulse {
  framesPerSecond: number;
  drawMedianMs: number;
  draw95thMs: number;
  dropped: number;
  drawn: number;
}
