// The stage's sound: its strips into the programme, which is levelled and limited on its way out, and measured.
import {
  Ducking,
  DUCKED_DB,
  gainOf,
  GUEST_SEATS,
  isGuestSeat,
  Leveller,
  levelOf,
  STRIPS,
  type GuestSeat,
  type Level,
  type Loudness,
  type SoundVerdict,
  type StripName,
  type StripSetting,
} from '@lantern/core';
import { LineSound, TagSound } from './tag-sound';
import type { FromLoudness, ToLoudness } from './loudness.worklet';
import { murmur } from '../programme/murmur';
import limiterWorklet from './limiter.worklet?worker&url';
import loudnessWorklet from './loudness.worklet?worker&url';
import { Strip, type StripState } from './strip';

const LEVEL_EVERY_MS = 80;
const TICK_SECONDS = 0.09;
/** Loudness is told so often, in seconds. */
const TOLD_EVERY_S = 0.5;

/** Of each strip, before any switch, and what is to be said of it. */
export type Levels = Record<StripName, Level> & { verdicts: Record<StripName, SoundVerdict> };

const SILENCE = { level: { rmsDb: -90, peakDb: -90 }, verdict: 'silent' } as const;

/** What one guest hears. */
interface Return {
  track: MediaStreamTrack;
  mix: GainNode;
  /** The host's voice to them alone. */
  talk: GainNode;
  /** How loud it is at this moment, in dB. */
  hear: () => number;
}

function makeReturn(context: AudioContext): Return {
  const out = context.createMediaStreamDestination();
  const [mix, talk, analyser] = [context.createGain(), context.createGain(), context.createAnalyser()];
  talk.gain.value = 0;
  analyser.fftSize = 4096;
  mix.connect(out);
  talk.connect(out);
  mix.connect(analyser);
  const block = new Float32Array(analyser.fftSize);
  const hear = () => {
    analyser.getFloatTimeDomainData(block);
    return levelOf(block).rmsDb;
  };
  return { track: out.stream.getAudioTracks()[0]!, mix, talk, hear };
}

export class SoundDesk {
  private readonly context = new AudioContext({ sampleRate: 48_000, latencyHint: 'interactive' });
  private readonly out = this.context.createMediaStreamDestination();
  /** The programme's sound without the line's own: what its people may hear of it without hearing themselves. */
  private readonly outWithoutLine = this.context.createMediaStreamDestination();
  /** All that viewers hear, on its way out. */
  private readonly mix = this.context.createGain();
  private loudness: AudioWorkletNode | null = null;
  private readonly strips = new Map<StripName, Strip>();
  /** By seat, the programme without the voice of whoever is there. */
  private readonly returns = new Map<GuestSeat, Return>();
  private readonly voices = new Map<GuestSeat, { source: MediaStreamAudioSourceNode; sink: HTMLAudioElement }>();
  private readonly settings = new Map<StripName, StripState>();
  private heardOut = new Set<StripName>();
  readonly line: LineSound;
  /** What is played, from when on it is heard. */
  private clipStartsAt: number | null = null;
  private clipFromMs = 0;
  readonly clip: TagSound;
  private microphone: AudioNode | null = null;
  private shareSource: MediaStreamAudioSourceNode | null = null;
  private readonly ducking = new Ducking();
  private leveller: Leveller | null = null;
  private readonly timer: number;

  /** `onGuest`: of each guest, each time: how loud what goes to them is, and what comes of them, in dB. */
  constructor(onLevels: (levels: Levels) => void, onAsleep: (asleep: boolean) => void, onGuest: (seat: GuestSeat, sentDb: number, cameDb: number) => void) {
    for (const name of STRIPS) if (!isGuestSeat(name)) this.addStrip(name);
    this.line = new LineSound(this.context, this.strip('line').input);
    const due = (mediaMs: number) => (this.clipStartsAt === null ? null : this.clipStartsAt + mediaMs - this.clipFromMs);
    this.clip = new TagSound(this.context, { due }, this.strip('clip').input);
    this.mix.connect(this.out);
    this.context.onstatechange = () => onAsleep(this.context.state === 'suspended');
    onAsleep(this.context.state === 'suspended');
    this.timer = window.setInterval(() => {
      const heard = STRIPS.map((name) => [name, this.strips.get(name)?.hear() ?? SILENCE] as const);
      const levels = Object.fromEntries(heard.map(([name, { level }]) => [name, level])) as Record<StripName, Level>;
      const verdicts = Object.fromEntries(heard.map(([name, { verdict }]) => [name, verdict])) as Record<StripName, SoundVerdict>;
      // What is played makes way for whoever is heard to speak.
      const spoken = (['microphone', ...GUEST_SEATS] as const).map((name) => (this.heardOut.has(name) ? levels[name].rmsDb : -Infinity));
      this.strip('clip').duck(this.ducking.hear(Math.max(...spoken), performance.now()) ? DUCKED_DB : 0);
      for (const [seat, { hear }] of this.returns) if (this.voices.has(seat)) onGuest(seat, hear(), levels[seat].rmsDb);
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
    this.microphone.connect(this.strip('microphone').input);
    this.strip('microphone').forget();
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
    this.shareSource?.connect(this.strip('share').input);
    this.strip('share').forget();
  }

  /** A guest's voice from now on; null: none. */
  useGuest(seat: GuestSeat, track: MediaStreamTrack | null): void {
    const before = this.voices.get(seat);
    before?.source.disconnect();
    if (before) before.sink.srcObject = null;
    this.voices.delete(seat);
    if (!track) {
      this.strips.get(seat)?.close();
      this.strips.delete(seat);
      return;
    }
    const strip = this.strips.get(seat) ?? this.addStrip(seat);
    const stream = new MediaStream([track]);
    // What comes by WebRTC flows only where an element plays it (crbug.com/933677).
    const sink = new Audio();
    sink.muted = true;
    sink.srcObject = stream;
    sink.play().catch(() => undefined);
    const source = this.context.createMediaStreamSource(stream);
    source.connect(strip.input);
    strip.forget();
    this.voices.set(seat, { source, sink });
  }

  /** The programme for a guest, without their own voice: made once for each seat. */
  returnFor(seat: GuestSeat): MediaStreamTrack {
    let made = this.returns.get(seat);
    if (!made) {
      made = makeReturn(this.context);
      this.returns.set(seat, made);
      for (const [name, strip] of this.strips) if (name !== seat) strip.sendTo(made.mix);
      this.strip('microphone').tapTo(made.talk);
    }
    return made.track;
  }

  /** Whom the host speaks to, into their ears alone; empty: nobody. */
  talkTo(seats: readonly GuestSeat[]): void {
    for (const [seat, { talk }] of this.returns) talk.gain.setTargetAtTime(seats.includes(seat) ? 1 : 0, this.context.currentTime, 0.02);
  }

  private strip(name: Exclude<StripName, GuestSeat>): Strip {
    return this.strips.get(name)!;
  }

  private addStrip(name: StripName): Strip {
    const strip = new Strip(this.context, name === 'line' ? [this.mix] : [this.mix, this.outWithoutLine]);
    for (const [seat, { mix }] of this.returns) if (seat !== name) strip.sendTo(mix);
    const state = this.settings.get(name);
    if (state) strip.set(state);
    this.strips.set(name, strip);
    return strip;
  }

  /** A clip is heard from `startedAt` on (ms since the epoch), at `fromMs` of it. */
  startClip(startedAt: number, fromMs: number): void {
    this.clipStartsAt = startedAt - performance.timeOrigin;
    this.strip('clip').forget();
    this.clipFromMs = fromMs;
  }

  endClip(): void {
    this.clip.clear();
    this.clipStartsAt = null;
  }

  set(name: StripName, setting: StripSetting, goesOut: boolean): void {
    const state = { gain: gainOf(setting), goesOut, here: setting.here };
    this.settings.set(name, state);
    this.strips.get(name)?.set(state);
    if (goesOut) this.heardOut.add(name);
    else this.heardOut.delete(name);
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
    for (const { sink } of this.voices.values()) sink.srcObject = null;
    void this.context.close();
  }
}
