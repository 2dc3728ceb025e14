// The socket between the stage and the server. Pieces are numbered and kept until the server has them,
// so that a short break loses nothing; after a longer one a new stretch begins.
import { PIECE_HEAD_BYTES, type AirView, type ServerMessage, type StageMessage } from '@lantern/contract';
import type { SceneId } from '@lantern/core';

const FIRST_RETRY_MS = 300;
const LONGEST_RETRY_MS = 4_000;
/** A minute of pieces; what is older than that has lost its moment. */
const KEPT_PIECES = 240;

export interface UplinkListener {
  air(air: AirView): void;
  connected(yes: boolean): void;
  /** A new stretch is open: a recorder must begin, with a header and a key frame of its own. */
  beginRecorder(): void;
  refused(words: string): void;
}

export class Uplink {
  private socket: WebSocket | null = null;
  private stretch: number | null = null;
  private pieces: { place: number; bytes: ArrayBuffer }[] = [];
  private nextPlace = 0;
  private wanted = false;
  private failures = 0;
  private timer = 0;
  private closed = false;

  constructor(
    private readonly url: string,
    private readonly listener: UplinkListener,
  ) {
    this.connect();
  }

  /** From now on a recorder's pieces are wanted; asks the server for a stretch. May be called twice. */
  startSending(): void {
    if (this.wanted) return;
    this.wanted = true;
    this.say({ type: 'newStretch' });
  }

  stopSending(): void {
    this.wanted = false;
    this.stretch = null;
    this.pieces = [];
  }

  send(bytes: ArrayBuffer): void {
    if (this.stretch === null) return;
    const piece = { place: this.nextPlace++, bytes };
    this.pieces.push(piece);
    if (this.pieces.length > KEPT_PIECES) {
      // Too long without the server: what is kept can no longer be joined to what it has.
      this.pieces = [];
      this.stretch = null;
      return;
    }
    this.sendPiece(piece);
  }

  take(scene: SceneId): void {
    this.say({ type: 'take', scene });
  }

  close(): void {
    this.closed = true;
    clearTimeout(this.timer);
    this.socket?.close();
  }

  private connect(): void {
    const socket = new WebSocket(this.url);
    socket.binaryType = 'arraybuffer';
    this.socket = socket;
    socket.onopen = () => {
      this.failures = 0;
      this.listener.connected(true);
      if (this.wanted) this.say(this.stretch === null ? { type: 'newStretch' } : { type: 'continueStretch', stretch: this.stretch });
    };
    socket.onmessage = ({ data }: MessageEvent<string>) => this.hear(JSON.parse(data) as ServerMessage);
    socket.onclose = () => {
      this.listener.connected(false);
      if (this.closed) return;
      const wait = Math.min(LONGEST_RETRY_MS, FIRST_RETRY_MS * 2 ** this.failures++);
      this.timer = window.setTimeout(() => this.connect(), wait);
    };
  }

  private hear(message: ServerMessage): void {
    switch (message.type) {
      case 'air':
        return this.listener.air(message.air);
      case 'kept':
        if (message.stretch === this.stretch) this.pieces = this.pieces.filter(({ place }) => place >= message.upTo);
        return;
      case 'refused':
        return this.listener.refused(message.words);
      case 'stretch':
        if (!this.wanted) return;
        if (message.stretch === this.stretch) {
          for (const piece of this.pieces) if (piece.place >= message.nextPiece) this.sendPiece(piece);
          return;
        }
        this.stretch = message.stretch;
        this.pieces = [];
        this.nextPlace = 0;
        return this.listener.beginRecorder();
    }
  }

  private sendPiece({ place, bytes }: { place: number; bytes: ArrayBuffer }): void {
    if (this.socket?.readyState !== WebSocket.OPEN) return;
    const message = new Uint8Array(PIECE_HEAD_BYTES + bytes.byteLength);
    const head = new DataView(message.buffer);
    head.setUint32(0, this.stretch!);
    head.setUint32(4, place);
    message.set(new Uint8Array(bytes), PIECE_HEAD_BYTES);
    this.socket.send(message);
  }

  private say(message: StageMessage): void {
    if (this.socket?.readyState === WebSocket.OPEN) this.socket.send(JSON.stringify(message));
  }
}
