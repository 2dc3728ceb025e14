// The guest's line to the server: who they are, what they are told, and the programme as pictures.
import { PASS_ENDED, PLACE_TAKEN, type DoorView, type FromGuest, type ToGuest } from '@lantern/contract';

const FIRST_RETRY_MS = 300;
const LONGEST_RETRY_MS = 4_000;
const CONNECT_MAY_TAKE_MS = 5_000;
/** The server speaks every two seconds. Silent for so long, the line is broken, whatever the socket says. */
const SILENT_MS = 6_000;
const LISTEN_EVERY_MS = 1_000;

export interface RoomListener {
  hear(message: ToGuest): void;
  /** The programme: whether it is a key frame, and the picture. */
  picture(isKey: boolean, bytes: Uint8Array): void;
  connected(yes: boolean): void;
  /** It is over: the pass is good no more, or another device has the place. */
  ended(why: 'pass' | 'taken'): void;
}

export class RoomSocket {
  private socket: WebSocket | null = null;
  private failures = 0;
  private timer = 0;
  private closed = false;
  private heardAt = 0;
  /** Let in: from then on the server speaks. */
  private inRoom = false;
  private readonly listening: number;

  constructor(
    private readonly door: Pick<DoorView, 'air' | 'showId'>,
    private readonly hello: () => Extract<FromGuest, { type: 'hello' }>,
    private readonly listener: RoomListener,
  ) {
    this.listening = window.setInterval(() => this.listen(), LISTEN_EVERY_MS);
    this.connect();
  }

  say(message: FromGuest): void {
    if (this.socket?.readyState === WebSocket.OPEN) this.socket.send(JSON.stringify(message));
  }

  close(): void {
    this.closed = true;
    clearTimeout(this.timer);
    clearInterval(this.listening);
    this.socket?.close();
  }

  /** The network is said to be back: it is not waited for any longer. */
  tryNow(): void {
    if (this.socket || this.closed) return;
    clearTimeout(this.timer);
    this.connect();
  }

  private connect(): void {
    const { air, showId } = this.door;
    const scheme = location.protocol === 'https:' ? 'wss' : 'ws';
    const base = air.url?.replace(/^http/, 'ws') ?? `${scheme}://${location.hostname}:${air.port}`;
    const socket = new WebSocket(`${base}/api/green-room/${showId}`);
    socket.binaryType = 'arraybuffer';
    this.socket = socket;
    const waits = window.setTimeout(() => socket.readyState === WebSocket.CONNECTING && socket.close(), CONNECT_MAY_TAKE_MS);
    socket.onopen = () => {
      this.heardAt = performance.now();
      clearTimeout(waits);
      this.say(this.hello());
    };
    socket.onmessage = ({ data }: MessageEvent<string | ArrayBuffer>) => {
      if (this.socket !== socket) return;
      this.heardAt = performance.now();
      if (typeof data !== 'string') return this.listener.picture(new DataView(data).getUint32(0) === 1, new Uint8Array(data, 4));
      const message = JSON.parse(data) as ToGuest;
      // That somebody answers says nothing: only whoever is in the room knows how it stands.
      if (message.type === 'room') {
        this.failures = 0;
        this.inRoom = true;
        this.listener.connected(true);
      }
      this.listener.hear(message);
    };
    socket.onclose = ({ code }) => {
      clearTimeout(waits);
      if (this.socket === socket) this.gone(code);
    };
  }

  /** A line that is silent is a line that is broken: browsers find out only after minutes. */
  private listen(): void {
    const { socket } = this;
    if (socket?.readyState !== WebSocket.OPEN || !this.inRoom || performance.now() - this.heardAt < SILENT_MS) return;
    socket.onopen = socket.onmessage = socket.onclose = null;
    socket.close();
    this.gone(1006);
  }

  private gone(code: number): void {
    this.socket = null;
    this.inRoom = false;
    if (this.closed) return;
    this.listener.connected(false);
    if (code === PASS_ENDED || code === PLACE_TAKEN) {
      this.closed = true;
      clearInterval(this.listening);
      return this.listener.ended(code === PASS_ENDED ? 'pass' : 'taken');
    }
    this.timer = window.setTimeout(() => this.connect(), Math.min(LONGEST_RETRY_MS, FIRST_RETRY_MS * 2 ** this.failures++));
  }
}
