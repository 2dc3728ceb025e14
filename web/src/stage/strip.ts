// A strip of the mixer: what comes in, how loud, whether viewers hear it and whether whoever runs the stage does.
import { levelOf, type Level } from '@lantern/core';

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
  private readonly analyser: AnalyserNode;
  private readonly block: Float32Array<ArrayBuffer>;

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
    this.analyser = context.createAnalyser();
    this.analyser.fftSize = 4096;
    this.block = new Float32Array(this.analyser.fftSize);
    this.input.connect(this.analyser);
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

  /** Makes way for something else by so many dB, and comes back more slowly. */
  duck(db: number): void {
    this.to(this.ducked, 10 ** (db / 20), db < 0 ? DUCK_S : RISE_S);
  }

  /** Of what comes in, at its own loudness. */
  get level(): Level {
    this.analyser.getFloatTimeDomainData(this.block);
    return levelOf(this.block);
  }

  private to(node: GainNode, value: number, seconds: number): void {
    node.gain.setTargetAtTime(value, this.context.currentTime, seconds);
  }
}
