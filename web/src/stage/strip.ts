// A strip of the mixer: what comes in, how loud, whether viewers hear it and whether whoever runs the stage does.
import { SoundWatch, type Level, type SoundVerdict } from '@lantern/core';

/** Fast enough not to be heard as a click, slow enough not to be one. */
const FADE_S = 0.02;
const DUCK_S = 0.12;
const RISE_S = 0.6;

export interface StripState {
  /** As a factor. */
  gain: number;
  /** Into the programme. */
  goesOut: boolean;
  /** To the ears at the stage. */
  here: boolean;
}

export class Strip {
  readonly input: GainNode;
  private readonly ducked: GainNode;
  private readonly gate: GainNode;
  private readonly monitor: GainNode;
  private readonly sides: readonly { analyser: AnalyserNode; block: Float32Array<ArrayBuffer> }[];
  private readonly watch = new SoundWatch();

  constructor(
    private readonly context: AudioContext,
    outs: readonly AudioNode[],
  ) {
    this.input = context.createGain();
    this.ducked = context.createGain();
    this.gate = context.createGain();
    this.monitor = context.createGain();
    this.gate.gain.value = 0;
    this.monitor.gain.value = 0;
    // Of one channel both sides are made: a side that is silent is one that came so.
    this.input.channelCount = 2;
    this.input.channelCountMode = 'explicit';
    const split = context.createChannelSplitter(2);
    this.input.connect(split);
    this.sides = [0, 1].map((side) => {
      const analyser = context.createAnalyser();
      analyser.fftSize = 4096;
      split.connect(analyser, side);
      return { analyser, block: new Float32Array(analyser.fftSize) };
    });
    this.input.connect(this.ducked);
    this.ducked.connect(this.gate);
    for (const out of outs) this.gate.connect(out);
    this.ducked.connect(this.monitor).connect(context.destination);
  }

  set({ gain, goesOut, here }: StripState): void {
    this.to(this.input, gain, FADE_S);
    this.to(this.gate, goesOut ? 1 : 0, FADE_S);
    this.to(this.monitor, here ? 1 : 0, FADE_S);
  }

  /** What goes out goes there too. */
  sendTo(out: AudioNode): void {
    this.gate.connect(out);
  }

  /** What comes in, whether it goes out or not. */
  tapTo(node: AudioNode): void {
    this.ducked.connect(node);
  }

  close(): void {
    for (const node of [this.input, this.ducked, this.gate, this.monitor]) node.disconnect();
  }

  /** Makes way for something else by so many dB, and comes back more slowly. */
  duck(db: number): void {
    this.to(this.ducked, 10 ** (db / 20), db < 0 ? DUCK_S : RISE_S);
  }

  /** How loud what comes in is at this moment, and what is to be said of it. */
  hear(): { level: Level; verdict: SoundVerdict } {
    for (const { analyser, block } of this.sides) analyser.getFloatTimeDomainData(block);
    const [left, right] = this.sides as [(typeof this.sides)[number], (typeof this.sides)[number]];
    const verdict = this.watch.hear(left.block, right.block, this.context.sampleRate, performance.now());
    return { level: this.watch.lastLevel, verdict };
  }

  /** Something else comes in from now on. */
  forget(): void {
    this.watch.forget();
  }

  private to(node: GainNode, value: number, seconds: number): void {
    node.gain.setTargetAtTime(value, this.context.currentTime, seconds);
  }
}
