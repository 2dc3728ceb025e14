// Measures the programme's loudness where the sound passes (Web Audio API, section 1.32).
import { LoudnessMeter, type Loudness } from '@lantern/core';

/** From the stage: the whole is measured from now on. */
export type ToLoudness = 'restart';
export type FromLoudness = Loudness;

const TELL_EVERY_S = 0.5;
const SILENCE = [new Float32Array(128)];

class LoudnessProcessor extends AudioWorkletProcessor {
  private readonly meter = new LoudnessMeter(sampleRate);
  private toldAt = 0;

  constructor() {
    super();
    this.port.onmessage = ({ data }: MessageEvent<ToLoudness>) => {
      if (data === 'restart') this.meter.restart();
    };
  }

  process([sound]: Float32Array[][]): boolean {
    this.meter.push(sound?.length ? sound : SILENCE);
    if (currentTime - this.toldAt >= TELL_EVERY_S) {
      this.toldAt = currentTime;
      this.port.postMessage(this.meter.read() satisfies FromLoudness);
    }
    return true;
  }
}

registerProcessor('loudness', LoudnessProcessor);
