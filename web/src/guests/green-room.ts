// Runs a guest's side of the green room: the line to the server, picture and voice to the stage, the programme back. The only writer of its store.
import { randomName } from '../app/random-name';
import type { DoorView, GreenRoomView, ToGuest } from '@lantern/contract';
import { create } from 'zustand';
import { noteServerNow } from '../app/clock';
import type { Opened } from './own-media';
import { OwnSound, type OwnSoundState } from './own-sound';
import { ReturnPicture } from './return-picture';
import { RoomSocket } from './room-socket';
import { StageLines } from './stage-lines';

const TELL_EVERY_MS = 3_000;
const MOST_NOTES = 30;
const TAB = 'lantern-guest-tab';

export interface Note {
  words: string;
  from: string;
  at: number;
}

export interface RoomState {
  room: GreenRoomView | null;
  /** The server is heard. */
  connected: boolean;
  /** Picture and voice reach the stage. */
  linked: boolean;
  microphoneOn: boolean;
  cameraOn: boolean;
  notes: readonly Note[];
  /** What is shared from here, and whether the stage has it. */
  share: { on: boolean; wanted: boolean; words: string };
  asksWhich: boolean;
  ended: 'pass' | 'taken' | 'left' | null;
  refused: string;
  /** The programme cannot be heard before the page is touched. */
  soundAsleep: boolean;
  /** Their own sound, on its way to a file of its own. */
  ownSound: OwnSoundState;
}

const EMPTY: RoomState = {
  ...{ room: null, connected: false, linked: false, microphoneOn: true, cameraOn: true, notes: [], share: { on: false, wanted: false, words: '' } },
  ...{ asksWhich: false, ended: null, refused: '', soundAsleep: false, ownSound: { takes: false, waitingBytes: 0, trouble: '' } },
};

export const useRoom = create<RoomState>(() => EMPTY);

/** Names this tab: one that was loaded anew is the same device. */
function tabName(): string {
  const kept = sessionStorage.getItem(TAB);
  if (kept !== null) return kept;
  const name = randomName(12);
  sessionStorage.setItem(TAB, name);
  return name;
}

export class GreenRoom {
  private readonly socket: RoomSocket;
  private readonly link: StageLines;
  private readonly picture: ReturnPicture | null;
  private readonly ownSound: OwnSound;
  private readonly abort = new AbortController();
  private readonly timer: number;
  private takeOver = false;
  private shared: MediaStreamTrack | null = null;
  private stagePage: string | null = null;
  private uplinkKbps: number | null = null;
  private awake: { release(): Promise<void> } | null = null;

  constructor(
    door: Pick<DoorView, 'air' | 'showId'>,
    private readonly pass: string,
    private own: Opened,
    context: AudioContext,
    /** Where the programme is seen and heard. `fallback`: where this browser cannot decode what the server hands on. */
    private readonly out: { canvas: HTMLCanvasElement; sound: HTMLAudioElement; fallback: HTMLVideoElement; seesReturn: boolean },
  ) {
    useRoom.setState({ ...EMPTY, cameraOn: own.camera !== null, microphoneOn: own.microphone !== null });
    this.picture = out.seesReturn ? new ReturnPicture(out.canvas) : null;
    this.link = new StageLines({
      send: (to, data) => this.socket.say({ type: 'signal', to, data }),
      connected: (linked) => this.set({ linked }),
      returns: ({ sound, picture }) => {
        out.sound.srcObject = new MediaStream([sound]);
        if (!out.seesReturn) out.fallback.srcObject = new MediaStream([picture]);
        this.wakeSound();
      },
    });
    this.link.send({ voice: own.microphone, camera: own.camera });
    this.ownSound = new OwnSound(context, pass, (ownSound) => this.set({ ownSound }));
    this.ownSound.use(own.microphone);
    this.socket = new RoomSocket(door, () => this.hello(), {
      hear: (message) => this.hear(message),
      picture: (isKey, bytes) => this.picture?.take(isKey, bytes),
      connected: (connected) => this.set({ connected }),
      ended: (ended) => this.end(ended),
    });
    this.timer = window.setInterval(() => void this.measure(), TELL_EVERY_MS);
    const { signal } = this.abort;
    window.addEventListener('online', () => this.socket.tryNow(), { signal });
    // A phone that was asleep comes back at once, and is kept awake from then on.
    document.addEventListener('visibilitychange', () => document.visibilityState === 'visible' && (this.socket.tryNow(), void this.stayAwake()), { signal });
    void this.stayAwake();
  }

  /** Stays here, on this device, in the place of the other one. */
  stayHere(): void {
    this.takeOver = true;
    this.set({ asksWhich: false });
    this.socket.say(this.hello());
  }

  /** Other devices from now on. */
  use(own: Opened): void {
    this.own = own;
    this.set({ cameraOn: own.camera !== null });
    this.link.send({ camera: own.camera, voice: this.state.microphoneOn ? own.microphone : null });
    this.ownSound.use(own.microphone);
    this.tellOwn();
  }

  switchMicrophone(on = !this.state.microphoneOn): void {
    if (!this.own.microphone) return;
    this.set({ microphoneOn: on });
    this.link.send({ voice: on ? this.own.microphone : null });
    this.tellOwn();
    this.hearOwnSound();
  }

  switchCamera(on = !this.state.cameraOn): void {
    if (!this.own.camera) return;
    this.set({ cameraOn: on });
    this.link.send({ camera: on ? this.own.camera : null });
    this.tellOwn();
  }

  /** Whether their own sound may be kept, from now on. */
  agreeOwnSound(agreed: boolean): void {
    this.ownSound.agree(agreed);
    this.hearOwnSound();
  }

  /** Offers what is on the own screen; whether it is shown, the host says. */
  async share(): Promise<void> {
    const stream = await navigator.mediaDevices.getDisplayMedia({ video: { frameRate: { max: 15 }, width: { max: 1920 } } }).catch(() => null);
    const track = stream?.getVideoTracks()[0];
    if (!track) return this.set({ share: { on: false, wanted: false, words: 'Nothing is offered: the browser shared nothing.' } });
    this.endShare();
    this.shared = track;
    track.addEventListener('ended', () => this.shared === track && this.endShare());
    this.link.send({ share: track });
    this.set({ share: { on: true, wanted: false, words: '' } });
    this.tellOwn();
  }

  endShare(): void {
    this.shared?.stop();
    this.shared = null;
    this.link.send({ share: null });
    this.set({ share: { on: false, wanted: false, words: '' } });
    this.tellOwn();
  }

  note(words: string): void {
    this.socket.say({ type: 'note', words });
    this.addNote({ words, from: '', at: Date.now() });
  }

  leave(): void {
    this.socket.say({ type: 'leave' });
    this.end('left');
  }

  wakeSound(): void {
    const { sound, fallback } = this.out;
    fallback.play().catch(() => undefined);
    sound.play().then(
      () => this.set({ soundAsleep: false }),
      () => this.set({ soundAsleep: true }),
    );
  }

  close(): void {
    this.abort.abort();
    clearInterval(this.timer);
    this.shared?.stop();
    this.socket.close();
    this.link.close();
    this.picture?.close();
    this.ownSound.close();
    this.out.sound.srcObject = this.out.fallback.srcObject = null;
    void this.awake?.release().catch(() => undefined);
  }

  private hello() {
    return {
      type: 'hello' as const,
      pass: this.pass,
      page: tabName(),
      takeOver: this.takeOver,
      soundOnly: this.own.camera === null,
      seesReturn: this.out.seesReturn,
    };
  }

  private end(ended: 'pass' | 'taken' | 'left'): void {
    this.set({ ended });
    this.close();
  }

  private hear(message: ToGuest): void {
    switch (message.type) {
      case 'room':
        noteServerNow(message.room.now);
        this.set({ room: message.room, asksWhich: false, refused: '' });
        this.hearOwnSound();
        return;
      case 'stage':
        this.hearStage(message);
        return;
      case 'signal':
        return this.link.hear(message.from, message.data);
      case 'size':
        return this.link.fit(message.from, message.height);
      case 'note':
        return this.addNote({ words: message.words, from: message.from, at: Date.now() });
      case 'share':
        return this.set({ share: { ...this.state.share, wanted: message.wanted } });
      case 'elsewhere':
        return this.set({ asksWhich: true });
      case 'taken':
        return this.end('taken');
      case 'refused':
        return this.set({ refused: message.words });
    }
  }

  private hearStage({ page, coming, ways, relayOnly }: Extract<ToGuest, { type: 'stage' }>): void {
    this.stagePage = page;
    this.tellOwn();
    this.link.speakWith(page, coming, { servers: ways, relayOnly });
  }

  private hearOwnSound(): void {
    const { room, microphoneOn } = this.state;
    this.ownSound.hear({ onAir: room?.place === 'on air', heard: microphoneOn && !room?.muted });
  }

  private addNote(note: Note): void {
    this.set({ notes: [...this.state.notes, note].slice(-MOST_NOTES) });
  }

  private async measure(): Promise<void> {
    const { uplinkKbps } = (await this.link.facts().catch(() => null)) ?? { uplinkKbps: null };
    this.uplinkKbps = uplinkKbps === null ? null : Math.round(uplinkKbps / 50) * 50;
    this.tellOwn();
  }

  private told = '';
  private tellOwn(): void {
    const { microphoneOn, cameraOn, connected } = this.state;
    const own = {
      ...{ microphone: microphoneOn && this.own.microphone !== null, camera: cameraOn && this.own.camera !== null },
      ...{ offersShare: this.shared !== null, uplinkKbps: this.uplinkKbps },
    };
    const told = JSON.stringify([own, connected, this.stagePage]);
    if (told === this.told) return;
    this.told = told;
    this.socket.say({ type: 'own', ...own });
  }

  /** Where the browser can, the screen does not go dark in the middle of the show (Screen Wake Lock, W3C). */
  private async stayAwake(): Promise<void> {
    const { wakeLock } = navigator as { wakeLock?: { request(kind: 'screen'): Promise<{ release(): Promise<void> }> } };
    this.awake = (await wakeLock?.request('screen').catch(() => null)) ?? null;
  }

  private get state(): RoomState {
    return useRoom.getState();
  }

  private set(change: Partial<RoomState>): void {
    useRoom.setState(change);
  }
}
