// The sound of an outside line: a strip of the mixer, decoded as it comes (WebCodecs) and played when it is due.
import { isSequenceHeader, levelOf, Playout, soundOf, type FlvTag, type Level } from '@lantern/core';
import { LINE_WAITS_MS, readTag } from '../programme/line-tag';

const FLV_HEAD_BYTES = 2;
/** What lies closer to what was played before is joined to it: a jump is heard, a little unevenness is not. */
const JOINED_S = 0.06;
const MOST_DECODING = 60;
const FADE_S = 0.02;

export class LineSound {
  private decoder: AudioDecoder | null = null;
  private configuration: AudioDecoderConfig | null = null;
  private readonly playout = new Playout(LINE_WAITS_MS);
  /** Where what was played last ends, in the context's seconds. */
  private endsAt = 0;
  private readonly strip: GainNode;
  private readonly gate: GainNode;
  private readonly monitor: GainNode;
  private readonly analyser: AnalyserNode;
  private readonly block: Float32Array<ArrayBuffer>;

  /** `out`: the programme's sound, for the scenes on which the line is seen. */
  constructor(
    private readonly context: AudioContext,
    out: AudioNode,
  ) {
    this.strip = context.createGain();
    this.gate = context.createGain();
    this.monitor = context.createGain();
    this.gate.gain.value = 0;
    this.monitor.gain.value = 0;
    this.analyser = context.createAnalyser();
    this.analyser.fftSize = 4096;
    this.block = new Float32Array(this.analyser.fftSize);
    this.strip.connect(this.analyser);
    this.strip.connect(this.gate).connect(out);
    this.strip.connect(this.monitor).connect(context.destination);
  }

  /** Takes one tag of the sound. What cannot be read is left out. */
  take(bytes: ArrayBuffer, now: number): void {
    const tag = readTag(bytes);
    if (!tag) return;
    if (isSequenceHeader(tag)) return this.configure(tag);
    if (!this.configuration || tag.data.length <= FLV_HEAD_BYTES || (this.decoder?.decodeQueueSize ?? 0) > MOST_DECODING) return;
    this.playout.note(tag.timestampMs, now);
    try {
      this.decoder ??= this.made(this.configuration);
      this.decoder.decode(new EncodedAudioChunk({ type: 'key', timestamp: tag.timestampMs * 1_000, data: tag.data.subarray(FLV_HEAD_BYTES) }));
    } catch {
      this.fail();
    }
  }

  /** `volume` from 0 to 1. `goesOut`: into the programme; `here`: to the host's own ears. */
  set({ volume, goesOut, here }: { volume: number; goesOut: boolean; here: boolean }): void {
    const to = (node: GainNode, value: number) => node.gain.setTargetAtTime(value, this.context.currentTime, FADE_S);
    to(this.strip, volume);
    to(this.gate, goesOut ? 1 : 0);
    to(this.monitor, here ? 1 : 0);
  }

  get level(): Level {
    this.analyser.getFloatTimeDomainData(this.block);
    return levelOf(this.block);
  }

  /** The line stands on the stage no longer; another may. */
  clear(): void {
    this.fail();
    this.configuration = null;
  }

  /** AudioSpecificConfig (ISO/IEC 14496-3, 1.6.2.1); 2 is AAC-LC, as RFC 6381 names it. */
  private configure(tag: FlvTag): void {
    const sound = soundOf(tag);
    const description = tag.data.slice(FLV_HEAD_BYTES);
    // Encoders say it again as often as they like: what is the same interrupts nothing.
    if (this.configuration && String(this.configuration.description) === String(description)) return;
    this.fail();
    this.configuration = sound && {
      codec: `mp4a.40.${(tag.data[2] ?? 0x10) >> 3}`,
      sampleRate: sound.rate,
      numberOfChannels: Math.max(1, sound.channels),
      description,
    };
  }

  private made(configuration: AudioDecoderConfig): AudioDecoder {
    const decoder: AudioDecoder = new AudioDecoder({
      output: (sound) => {
        if (this.decoder === decoder) this.play(sound);
        sound.close();
      },
      error: () => {
        if (this.decoder === decoder) this.fail();
      },
    });
    decoder.configure(configuration);
    return decoder;
  }

  private play(sound: AudioData): void {
    const due = this.playout.due(sound.timestamp / 1_000);
    if (due === null || this.context.state !== 'running') return;
    const { currentTime } = this.context;
    const meant = currentTime + (due - performance.now()) / 1_000;
    const at = Math.abs(meant - this.endsAt) < JOINED_S ? this.endsAt : meant;
    // Too late to be heard.
    if (at < currentTime) return;
    const buffer = this.context.createBuffer(sound.numberOfChannels, sound.numberOfFrames, sound.sampleRate);
    for (let channel = 0; channel < sound.numberOfChannels; channel++) {
      sound.copyTo(buffer.getChannelData(channel), { planeIndex: channel, format: 'f32-planar' });
    }
    const source = this.context.createBufferSource();
    source.buffer = buffer;
    source.connect(this.strip);
    source.start(at);
    this.endsAt = at + buffer.duration;
  }

  private fail(): void {
    const { decoder } = this;
    this.decoder = null;
    if (decoder && decoder.state !== 'closed') decoder.close();
  }
}
