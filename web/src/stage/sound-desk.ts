// The stage's sound: its strips into the programme, which is levelled and limited on its way out, and measured.
import { Ducking, DUCKED_DB, gainOf, Leveller, STRIPS, type Level, type Loudness, type SoundVerdict, type StripName, type StripSetting } from '@lantern/core';
import { LineSound, TagSound } from './tag-sound';
import type { FromLoudness, ToLoudness } from './loudness.worklet';
import { murmur } from './murmur';
import limiterWorklet from './limiter.worklet?worker&url';
import loudnessWorklet from './loudness.worklet?worker&url';
import { Strip } from './strip';

const LEVEL_EVERY_MS = 80;
const TICK_SECONDS = 0.09;
/** Loudness is told so often, in seconds. */
const TOLD_EVERY_S = 0.5;

/** Of each strip, before any switch, and what is to be said of it. */
export type Levels = Record<StripName, Level> & { verdicts: Record<StripName, SoundVerdict> };

export class SoundDesk {
  private readonly context = new AudioContext({ sampleRate: 48_000, latencyHint: 'interactive' });
  private readonly out = this.context.createMediaStreamDestination();
  /** The programme's sound without the line's own: what its people may hear of it without hearing themselves. */
  private readonly outWithoutLine = this.context.createMediaStreamDestination();
  /** All that viewers hear, on its way out. */
  private readonly mix = this.context.createGain();
  private loudness: AudioWorkletNode | null = null;
  private readonly strips: Record<StripName, Strip>;
  readonly line: LineSound;
  /** What is played, from when on it is heard. */
  private clipStartsAt: number | null = null;
  private clipFromMs = 0;
  readonly clip: TagSound;
  private microphone: AudioNode | null = null;
  private shareSource: MediaStreamAudioSourceNode | null = null;
  private microphoneOut = false;
  private readonly ducking = new Ducking();
  private leveller: Leveller | null = null;
  private readonly timer: number;

  constructor(onLevels: (levels: Levels) => void, onAsleep: (asleep: boolean) => void) {
    const both = [this.mix, this.outWithoutLine];
    const strip = (name: StripName) => new Strip(this.context, name === 'line' ? [this.mix] : both);
    this.strips = Object.fromEntries(STRIPS.map((name) => [name, strip(name)])) as Record<StripName, Strip>;
    this.line = new LineSound(this.context, this.strips.line.input);
    const due = (mediaMs: number) => (this.clipStartsAt === null ? null : this.clipStartsAt + mediaMs - this.clipFromMs);
    this.clip = new TagSound(this.context, { due }, this.strips.clip.input);
    this.mix.connect(this.out);
    this.context.onstatechange = () => onAsleep(this.context.state === 'suspended');
    onAsleep(this.context.state === 'suspended');
    this.timer = window.setInterval(() => {
      const heard = STRIPS.map((name) => [name, this.strips[name].hear()] as const);
      const levels = Object.fromEntries(heard.map(([name, { level }]) => [name, level])) as Record<StripName, Level>;
      const verdicts = Object.fromEntries(heard.map(([name, { verdict }]) => [name, verdict])) as Record<StripName, SoundVerdict>;
      // What is played makes way for whoever is heard to speak.
      this.strips.clip.duck(this.ducking.hear(this.microphoneOut ? levels.microphone.rmsDb : -Infinity, performance.now()) ? DUCKED_DB : 0);
      onLevels({ ...levels, verdicts });
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
    this.microphone?.disconnect();
    if (this.microphone instanceof AudioBufferSourceNode) this.microphone.stop();
    this.microphone = stream === 'murmur' ? murmur(this.context) : this.context.createMediaStreamSource(stream);
    this.microphone.connect(this.strips.microphone.input);
    this.strips.microphone.forget();
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
    this.shareSource?.connect(this.strips.share.input);
    this.strips.share.forget();
  }

  /** A clip is heard from `startedAt` on (ms since the epoch), at `fromMs` of it. */
  startClip(startedAt: number, fromMs: number): void {
    this.clipStartsAt = startedAt - performance.timeOrigin;
    this.strips.clip.forget();
    this.clipFromMs = fromMs;
  }

  endClip(): void {
    this.clip.clear();
    this.clipStartsAt = null;
  }

  set(name: StripName, setting: StripSetting, goesOut: boolean): void {
    this.strips[name].set({ gain: gainOf(setting), goesOut, here: setting.here });
    if (name === 'microphone') this.microphoneOut = goesOut;
  }

  /** Whether the programme is brought slowly to its loudness. */
  setLevelled(levelled: boolean, targetLufs: number): void {
    if (!levelled) this.leveller = null;
    else if (this.leveller) this.leveller.targetLufs = targetLufs;
    else this.leveller = new Leveller(targetLufs);
    if (!levelled) this.mix.gain.setTargetAtTime(1, this.context.currentTime, 1);
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
    node.port.onmessage = ({ data }: MessageEvent<FromLoudness>) => {
      const gainDb = this.leveller?.hear(data, TOLD_EVERY_S);
      if (gainDb !== undefined) this.mix.gain.setTargetAtTime(10 ** (gainDb / 20), this.context.currentTime, TOLD_EVERY_S);
      onLoudness(data);
    };
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
