// Keeps the programme's sound below its ceiling where it passes (Web Audio API, section 1.32).
import { Limiter, MOST_TRUE_PEAK_DB } from '@lantern/core';

/** Encoders add a little to every peak. */
const CEILING_DB = MOST_TRUE_PEAK_DB - 0.3;

class LimiterProcessor extends AudioWorkletProcessor {
  private readonly limiter = new Limiter(sampleRate, CEILING_DB);

  process([sound]: Float32Array[][], [out]: Float32Array[][]): boolean {
    if (out) this.limiter.process(sound ?? [], out);
    return true;
  }
}

registerProcessor('limiter', LimiterProcessor);
