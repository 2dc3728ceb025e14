// Sound that comes as tags of FLV, of an outside line or a clip: decoded as it comes (WebCodecs) and played when it is due.
import { isSequenceHeader, Playout, soundOf, type FlvTag } from '@lantern/core';
import type { DueTimes } from '../programme/tag-picture';
import { LINE_WAITS_MS, readTag } from '../programme/line-tag';

const FLV_HEAD_BYTES = 2;
/** What lies closer to what was played before is joined to it: a jump is heard, a little unevenness is not. */
const JOINED_S = 0.06;
const MOST_DECODING = 60;
/** More between two tags than any has of sound, and something is missing in between. */
const GAP_MS = 100;

export class TagSound {
  private decoder: AudioDecoder | null = null;
  private configuration: AudioDecoderConfig | null = null;
  /** Where what was played last ends, in the context's seconds. */
  private endsAt = 0;
  /** When what was given to the decoder last is of, in ms. */
  private givenMs: number | null = null;
  /** What has been given to the context and may not have been played yet. */
  private readonly given = new Set<AudioBufferSourceNode>();
  constructor(
    private readonly context: AudioContext,
    private readonly times: DueTimes,
    private readonly into: AudioNode,
  ) {}

  /** Takes one tag of the sound. What cannot be read is left out. */
  take(tag: FlvTag): void {
    if (isSequenceHeader(tag)) return this.configure(tag);
    if (!this.configuration || tag.data.length <= FLV_HEAD_BYTES) return;
    // Decoders count on from the first that they are given: where something is left out, all that follows would be of another time than it is.
    const gap = this.givenMs !== null && Math.abs(tag.timestampMs - this.givenMs) > GAP_MS;
    if (gap || (this.decoder?.decodeQueueSize ?? 0) > MOST_DECODING) this.fail();
    this.givenMs = tag.timestampMs;
    try {
      this.decoder ??= this.made(this.configuration);
      this.decoder.decode(new EncodedAudioChunk({ type: 'key', timestamp: tag.timestampMs * 1_000, data: tag.data.subarray(FLV_HEAD_BYTES) }));
    } catch {
      this.fail();
    }
  }

  /** Nothing more comes of it; something else may. */
  clear(): void {
    this.fail();
    this.configuration = null;
    for (const source of this.given) source.stop();
    this.given.clear();
    this.endsAt = 0;
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
    const due = this.times.due(sound.timestamp / 1_000);
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
    source.connect(this.into);
    this.given.add(source);
    source.onended = () => this.given.delete(source);
    source.start(at);
    this.endsAt = at + buffer.duration;
  }

  private fail(): void {
    const { decoder } = this;
    this.decoder = null;
    this.givenMs = null;
    if (decoder && decoder.state !== 'closed') decoder.close();
  }
}

/** The sound of an outside line. */
export class LineSound extends TagSound {
  private readonly playout: Playout;

  constructor(context: AudioContext, into: AudioNode) {
    const playout = new Playout(LINE_WAITS_MS);
    super(context, playout, into);
    this.playout = playout;
  }

  /** Takes what came on the stage's socket. */
  takeBytes(bytes: ArrayBuffer, now: number): void {
    const tag = readTag(bytes);
    if (!tag) return;
    if (!isSequenceHeader(tag)) this.playout.note(tag.timestampMs, now);
    this.take(tag);
  }
}
