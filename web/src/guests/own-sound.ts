// Takes a guest's own sound while viewers hear them, where they have agreed to it, and never otherwise.
import { OWN_SOUND_TYPES } from '@lantern/contract';
import { serverNow } from '../app/clock';
import { OwnSoundSender, type OwnSoundTrouble } from './own-sound-sender';

const PIECE_MS = 4_000;
const BITS_PER_SECOND = 96_000;
/** A take goes on, silent, for so long after they have left the picture: whoever is back by then is in the same one. */
const GOES_ON_MS = 15_000;
/** What it is recorded as, the first that the browser can. */
const TYPES = [`${OWN_SOUND_TYPES.webm};codecs=opus`, OWN_SOUND_TYPES.webm, OWN_SOUND_TYPES.mp4];

export interface OwnSoundState {
  /** Something is being taken at this moment. */
  takes: boolean;
  waitingBytes: number;
  trouble: OwnSoundTrouble | 'not by this browser';
}

export class OwnSound {
  private readonly sender: OwnSoundSender;
  private readonly out: MediaStreamAudioDestinationNode;
  /** Open while they are heard: what they say while muted is theirs. */
  private readonly gate: GainNode;
  private source: MediaStreamAudioSourceNode | null = null;
  private recorder: MediaRecorder | null = null;
  private readonly type: string | null;
  private agreed = false;
  private endsAt = 0;
  private state: OwnSoundState = { takes: false, waitingBytes: 0, trouble: '' };

  constructor(
    private readonly context: AudioContext,
    pass: string,
    private readonly changed: (state: OwnSoundState) => void,
  ) {
    this.type = typeof MediaRecorder === 'undefined' ? null : (TYPES.find((type) => MediaRecorder.isTypeSupported(type)) ?? null);
    this.out = context.createMediaStreamDestination();
    this.out.channelCount = 1;
    this.gate = context.createGain();
    this.gate.gain.value = 0;
    this.gate.connect(this.out);
    this.sender = new OwnSoundSender(pass, {
      fetch: (...of) => fetch(...of),
      tell: (waitingBytes, trouble) => this.become({ waitingBytes, trouble }),
      wait: (ms) => new Promise((done) => setTimeout(done, ms)),
    });
  }

  /** The microphone from now on; null: none. */
  use(microphone: MediaStreamTrack | null): void {
    this.source?.disconnect();
    this.source = microphone && this.context.createMediaStreamSource(new MediaStream([microphone]));
    this.source?.connect(this.gate);
  }

  /** Whether they agree. Taken back, nothing that still waits is sent. */
  agree(agreed: boolean): void {
    this.agreed = agreed;
    if (agreed) {
      if (this.type === null) this.become({ trouble: 'not by this browser' });
      return;
    }
    if (this.recorder) this.recorder.ondataavailable = null;
    this.stop();
    this.sender.drop();
  }

  /** Hears, again and again, whether viewers see them, and hear them. */
  hear({ onAir, heard }: { onAir: boolean; heard: boolean }): void {
    const now = performance.now();
    this.gate.gain.setTargetAtTime(this.agreed && onAir && heard ? 1 : 0, this.context.currentTime, 0.01);
    if (this.agreed && onAir) {
      this.endsAt = now + GOES_ON_MS;
      this.begin();
    } else if (now > this.endsAt) this.stop();
  }

  /** Ends what is being taken; what of it waits is still sent. */
  close(): void {
    this.agreed = false;
    this.stop();
    this.use(null);
  }

  private begin(): void {
    if (this.recorder || this.type === null) return;
    const recorder = this.opened(this.type);
    // Whatever a browser makes of it, the guest is on air.
    if (!recorder) return this.become({ trouble: 'not by this browser' });
    const beganAt = Math.round(serverNow());
    this.recorder = recorder;
    recorder.ondataavailable = ({ data }) => {
      if (!data.size) return;
      // One of which a piece is missing ends there; what comes after it is another.
      if (this.sender.add(beganAt, recorder.mimeType, data)) return;
      recorder.ondataavailable = null;
      this.end(recorder);
    };
    recorder.onerror = () => this.end(recorder);
    this.become({ takes: true });
  }

  private opened(mimeType: string): MediaRecorder | null {
    try {
      const recorder = new MediaRecorder(this.out.stream, { mimeType, audioBitsPerSecond: BITS_PER_SECOND });
      recorder.start(PIECE_MS);
      return recorder;
    } catch {
      return null;
    }
  }

  private stop(): void {
    if (this.recorder) this.end(this.recorder);
  }

  private end(recorder: MediaRecorder): void {
    if (this.recorder === recorder) {
      this.recorder = null;
      this.become({ takes: false });
    }
    if (recorder.state !== 'inactive') recorder.stop();
  }

  private become(change: Partial<OwnSoundState>): void {
    const next = { ...this.state, ...change };
    if (next.takes === this.state.takes && next.waitingBytes === this.state.waitingBytes && next.trouble === this.state.trouble) return;
    this.state = next;
    this.changed(next);
  }
}
