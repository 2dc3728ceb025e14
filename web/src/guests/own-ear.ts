// What a guest hears of themselves: the level of their microphone, their voice played back, and whether a tone from the loudspeaker comes back in.
import { levelOf } from '@lantern/core';

const TONE_HZ = 660;
const TONE_S = 1.5;
/** In the tone's part of the spectrum, by so much above what was there before. */
const HEARD_DB = 15;

export class OwnEar {
  private readonly source: MediaStreamAudioSourceNode;
  private readonly analyser: AnalyserNode;
  private readonly block: Float32Array<ArrayBuffer>;
  private readonly bins: Float32Array<ArrayBuffer>;

  constructor(
    private readonly context: AudioContext,
    microphone: MediaStreamTrack,
  ) {
    this.source = context.createMediaStreamSource(new MediaStream([microphone]));
    this.analyser = context.createAnalyser();
    this.analyser.fftSize = 4096;
    this.analyser.smoothingTimeConstant = 0;
    this.source.connect(this.analyser);
    this.block = new Float32Array(this.analyser.fftSize);
    this.bins = new Float32Array(this.analyser.frequencyBinCount);
  }

  rmsDb(): number {
    this.analyser.getFloatTimeDomainData(this.block);
    return levelOf(this.block).rmsDb;
  }

  /** How loud the tone is in what comes in, in dB. */
  toneDb(): number {
    this.analyser.getFloatFrequencyData(this.bins);
    const at = Math.round((TONE_HZ * this.analyser.fftSize) / this.context.sampleRate);
    return Math.max(...this.bins.slice(at - 1, at + 2));
  }

  close(): void {
    this.source.disconnect();
  }
}

const wait = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));

export async function playTone(context: AudioContext): Promise<void> {
  const [tone, level] = [context.createOscillator(), context.createGain()];
  tone.frequency.value = TONE_HZ;
  level.gain.value = 0;
  level.gain.setTargetAtTime(0.25, context.currentTime, 0.03);
  level.gain.setTargetAtTime(0, context.currentTime + TONE_S - 0.2, 0.05);
  tone.connect(level).connect(context.destination);
  tone.start();
  tone.stop(context.currentTime + TONE_S);
  await wait(TONE_S * 1_000);
}

/** Whether the microphone hears the tone while it is played. */
export async function hearsTone(ear: OwnEar, play: () => Promise<void>): Promise<boolean> {
  const before = await highest(ear, 600);
  const playing = play();
  const during = await highest(ear, TONE_S * 1_000 - 200);
  await playing;
  return during - before > HEARD_DB;
}

async function highest(ear: OwnEar, ms: number): Promise<number> {
  let most = -120;
  for (let at = 0; at < ms; at += 100) {
    await wait(100);
    most = Math.max(most, ear.toneDb());
  }
  return most;
}

/** Records some of what comes in, and plays it back. */
export async function playBack(context: AudioContext, microphone: MediaStreamTrack, ms: number, onPlays: () => void): Promise<void> {
  const recorder = new MediaRecorder(new MediaStream([microphone]));
  const parts: Blob[] = [];
  recorder.ondataavailable = ({ data }) => parts.push(data);
  const stopped = new Promise<void>((done) => (recorder.onstop = () => done()));
  recorder.start();
  await wait(ms);
  recorder.stop();
  await stopped;
  const sound = await context.decodeAudioData(await new Blob(parts, { type: recorder.mimeType }).arrayBuffer());
  const source = context.createBufferSource();
  source.buffer = sound;
  source.connect(context.destination);
  onPlays();
  source.start();
  await wait(sound.duration * 1_000);
}
