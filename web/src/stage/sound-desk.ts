// The stage's sound: one microphone through a gate into the programme, and its level for the meter.
import { levelOf, soundVerdict, type Level, type SoundVerdict } from '@lantern/core';

/** Fast enough not to be heard as a click, slow enough not to be one. */
const GATE_SECONDS = 0.02;
const LEVEL_EVERY_MS = 80;

export class SoundDesk {
  private readonly context = new AudioContext({ sampleRate: 48_000, latencyHint: 'interactive' });
  private readonly out = this.context.createMediaStreamDestination();
  private readonly gate = this.context.createGain();
  private readonly analyser = this.context.createAnalyser();
  private readonly block: Float32Array<ArrayBuffer>;
  private source: MediaStreamAudioSourceNode | null = null;
  private readonly timer: number;

  constructor(onLevel: (level: Level & { verdict: SoundVerdict }) => void, onAsleep: (asleep: boolean) => void) {
    this.gate.gain.value = 0;
    this.gate.connect(this.out);
    this.analyser.fftSize = 4096;
    this.block = new Float32Array(this.analyser.fftSize);
    this.context.onstatechange = () => onAsleep(this.context.state === 'suspended');
    onAsleep(this.context.state === 'suspended');
    this.timer = window.setInterval(() => {
      this.analyser.getFloatTimeDomainData(this.block);
      const level = levelOf(this.block);
      onLevel({ ...level, verdict: soundVerdict(level) });
    }, LEVEL_EVERY_MS);
  }

  /** The programme's sound. */
  get track(): MediaStreamTrack {
    return this.out.stream.getAudioTracks()[0]!;
  }

  useMicrophone(stream: MediaStream): void {
    this.source?.disconnect();
    this.source = this.context.createMediaStreamSource(stream);
    this.source.connect(this.analyser);
    this.source.connect(this.gate);
  }

  setOpen(open: boolean): void {
    this.gate.gain.setTargetAtTime(open ? 1 : 0, this.context.currentTime, GATE_SECONDS);
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
