// The stage's sound: one microphone through a gate and one outside line into the programme, and their levels for the meters.
import { levelOf, soundVerdict, type Level, type Loudness, type SoundVerdict } from '@lantern/core';
import { LineSound } from './line-sound';
import type { FromLoudness, ToLoudness } from './loudness.worklet';
import { murmur } from './murmur';
import limiterWorklet from './limiter.worklet?worker&url';
import loudnessWorklet from './loudness.worklet?worker&url';

/** Fast enough not to be heard as a click, slow enough not to be one. */
const GATE_SECONDS = 0.02;
const LEVEL_EVERY_MS = 80;
const TICK_SECONDS = 0.09;

export class SoundDesk {
  private readonly context = new AudioContext({ sampleRate: 48_000, latencyHint: 'interactive' });
  private readonly out = this.context.createMediaStreamDestination();
  /** The programme's sound without the line's own: what its people may hear of it without hearing themselves. */
  private readonly outWithoutLine = this.context.createMediaStreamDestination();
  private readonly gate = this.context.createGain();
  /** All that viewers hear, on its way out. */
  private readonly mix = this.context.createGain();
  private loudness: AudioWorkletNode | null = null;
  readonly line = new LineSound(this.context, this.mix);
  private readonly analyser = this.context.createAnalyser();
  private readonly block: Float32Array<ArrayBuffer>;
  private source: AudioNode | null = null;
  /** What comes with what is shared. */
  private readonly shareGate = this.context.createGain();
  private shareSource: MediaStreamAudioSourceNode | null = null;
  private readonly timer: number;

  constructor(onLevel: (level: Level & { verdict: SoundVerdict; line: Level }) => void, onAsleep: (asleep: boolean) => void) {
    this.gate.gain.value = 0;
    this.gate.connect(this.mix);
    this.shareGate.gain.value = 0;
    this.shareGate.connect(this.mix);
    this.shareGate.connect(this.outWithoutLine);
    this.mix.connect(this.out);
    this.gate.connect(this.outWithoutLine);
    this.analyser.fftSize = 4096;
    this.block = new Float32Array(this.analyser.fftSize);
    this.context.onstatechange = () => onAsleep(this.context.state === 'suspended');
    onAsleep(this.context.state === 'suspended');
    this.timer = window.setInterval(() => {
      this.analyser.getFloatTimeDomainData(this.block);
      const level = levelOf(this.block);
      onLevel({ ...level, verdict: soundVerdict(level), line: this.line.level });
    }, LEVEL_EVERY_MS);
  }

  /** The programme's sound. */
  get track(): MediaStreamTrack {
    return this.out.stream.getAudioTracks()[0]!;
  }

  get trackWithoutLine(): MediaStreamTrack {
    return this.outWithoutLine.stream.getAudioTracks()[0]!;
  }

  /** What the host says from now on: a microphone, or a murmur where there is none. */
  useMicrophone(stream: MediaStream | 'murmur'): void {
    this.source?.disconnect();
    if (this.source instanceof AudioBufferSourceNode) this.source.stop();
    this.source = stream === 'murmur' ? murmur(this.context) : this.context.createMediaStreamSource(stream);
    this.source.connect(this.analyser);
    this.source.connect(this.gate);
  }

  /** A short tone to the host's own ears, and to nobody else's. */
  tick(): void {
    const [tone, level] = [this.context.createOscillator(), this.context.createGain()];
    const now = this.context.currentTime;
    tone.frequency.value = 880;
    level.gain.setValueAtTime(0.12, now);
    level.gain.exponentialRampToValueAtTime(0.001, now + TICK_SECONDS);
    tone.connect(level).connect(this.context.destination);
    tone.start(now);
    tone.stop(now + TICK_SECONDS);
  }

  /** The sound of what is shared; null: nothing is, or it has none. */
  useShare(stream: MediaStream | null): void {
    this.shareSource?.disconnect();
    this.shareSource = stream?.getAudioTracks().length ? this.context.createMediaStreamSource(stream) : null;
    this.shareSource?.connect(this.shareGate);
  }

  openShare(open: boolean): void {
    this.shareGate.gain.setTargetAtTime(open ? 1 : 0, this.context.currentTime, GATE_SECONDS);
  }

  setOpen(open: boolean): void {
    this.gate.gain.setTargetAtTime(open ? 1 : 0, this.context.currentTime, GATE_SECONDS);
  }

  /** Has the programme limited on its way out, and its loudness told twice a second. Where neither can be done, the sound goes out all the same. */
  async measure(onLoudness: (loudness: Loudness) => void): Promise<void> {
    await Promise.all([limiterWorklet, loudnessWorklet].map((module) => this.context.audioWorklet.addModule(module)));
    if (this.context.state === 'closed') return;
    const limiter = new AudioWorkletNode(this.context, 'limiter', { outputChannelCount: [2] });
    this.mix.connect(limiter);
    limiter.connect(this.out);
    this.mix.disconnect(this.out);
    const node = new AudioWorkletNode(this.context, 'loudness', { numberOfOutputs: 0 });
    node.port.onmessage = ({ data }: MessageEvent<FromLoudness>) => onLoudness(data);
    limiter.connect(node);
    this.loudness = node;
  }

  /** The whole programme is measured from now on. */
  restartLoudness(): void {
    this.loudness?.port.postMessage('restart' satisfies ToLoudness);
  }

  /** Browsers keep sound asleep until a person has touched the page. */
  async wake(): Promise<void> {
    await this.context.resume();
  }

  close(): void {
    clearInterval(this.timer);
    void this.context.close();
  }
}
