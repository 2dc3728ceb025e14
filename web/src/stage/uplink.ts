// The socket between the stage and the server. Pieces are numbered and kept until the server has them,
// so that a short break loses nothing; after a longer one a new stretch begins. What viewers can see no more by then is kept
// in the browser's own store, and sent later: the recording has no hole.
import { PIECE_HEAD_BYTES, RETURN_PICTURE, type AirView, type Asked, type ServerMessage, type StageCommand, type StageMessage } from '@lantern/contract';
import { CommandsSaid, type Command } from '@lantern/core';
import type { LateKeeper } from '../late/keeper';

const FIRST_RETRY_MS = 300;
const LONGEST_RETRY_MS = 4_000;
/** A minute of pieces; what is older than that has lost its moment. */
const KEPT_PIECES = 240;
/** The server speaks twice a second. Silent for so long, nothing is known any more of what stands outside, whatever the socket says. */
export const SILENT_MS = 3_000;
/** Silent for so long, it says nothing of how much a line takes. */
const SILENCE_MS = 1_200;
const LISTEN_EVERY_MS = 500;
/** A stretch that is not opened by then is asked for again. */
const STRETCH_MAY_TAKE_MS = 4_000;
/** So much late, and this page has been doing something else. */
const STOOD_STILL_MS = 500;
/** A connection that is not made by then is tried anew. */
const CONNECT_MAY_TAKE_MS = 5_000;
/** The server ended the socket because the session has ended. */
const SIGNED_OUT = 4401;

/** What waits to be sent before pictures for guests are left out. */
const RETURN_BACKLOG_BYTES = 300_000;

export interface UplinkListener {
  air(air: AirView): void;
  connected(yes: boolean): void;
  /** The session has ended: nothing is tried before somebody has signed in again. */
  signedOut(): void;
  /** A new stretch is open: a recorder must begin, with a header and a key frame of its own. */
  beginRecorder(): void;
  refused(words: string): void;
  /** Somebody else of the station asks this stage for something. */
  asked(what: Asked, by: string, id?: string): void;
  /** Somebody has taken the stage from here. */
  lost(to: string): void;
  /** One tag of the outside line that stands on the stage, as FLV has it. */
  line(tag: ArrayBuffer): void;
  guests(message: Extract<ServerMessage, { type: 'guests' | 'guestSignal' | 'guestWays' | 'returnKey' }>): void;
  handing(message: Extract<ServerMessage, { type: 'handing' | 'notHanded' }>): void;
}

interface Piece {
  place: number;
  from: number;
  bytes: ArrayBuffer;
  at: number;
  /** Whether it is in the browser's store too. */
  stored: boolean;
}

const NO_KEEPER: LateKeeper = { keep: () => undefined, name: () => undefined, drop: () => undefined, end: () => undefined, send: () => undefined };

export class Uplink {
  private socket: WebSocket | null = null;
  private stretch: number | null = null;
  private pieces: Piece[] = [];
  /** Every piece goes into the browser's store too, until the line is back. */
  private storing = false;
  /** What the recorder that runs was to send, and no longer can: its pieces are for the store alone. */
  private orphan: number | 'next' | null = null;
  /** Pieces of a recorder that has begun already are kept for the stretch that was asked for. */
  private keepsForNext = false;
  private confirmed = { bytes: 0, since: performance.now() };
  private nextPlace = 0;
  private nextByte = 0;
  private wanted = false;
  private failures = 0;
  private timer = 0;
  private readonly listening: number;
  private heardAt = 0;
  private askedAt = 0;
  private listenedAt = performance.now();
  /** Whether anything was heard on this socket: that it opened says nothing of what lies behind it. */
  private heard = false;
  private openedAt = 0;
  private takesOver = false;
  /** What was pressed and has not been acknowledged; it may have been said into a line that was broken already. */
  private readonly commands: CommandsSaid<StageCommand>;
  private closed = false;
  private readonly keepNumber: (last: number) => void;

  constructor(
    private readonly url: string,
    private readonly listener: UplinkListener,
    /** The number of the last command of this tab, before a reload; and where it is kept for after the next. */
    numbers: { last: number; keep: (last: number) => void } = { last: 0, keep: () => undefined },
    private readonly late: LateKeeper = NO_KEEPER,
  ) {
    this.commands = new CommandsSaid(numbers.last);
    this.keepNumber = numbers.keep;
    this.listening = window.setInterval(() => this.listen(), LISTEN_EVERY_MS);
    this.connect();
  }

  /** From now on a recorder's pieces are wanted; asks the server for a stretch. `takeOver`: a person asked for it here. May be called twice. */
  startSending(takeOver = false): void {
    if (this.wanted && !takeOver) return;
    this.wanted = true;
    this.takesOver = takeOver;
    this.stretch = null;
    this.keepsForNext = false;
    this.askForStretch();
  }

  /** A recorder has begun anew here: what comes of it belongs to a stretch of its own, and is kept until the server has opened that. */
  beginAnew(): void {
    if (!this.wanted) return;
    this.leaveRecorder();
    this.keepsForNext = true;
    this.askForStretch();
  }

  /** What the server has confirmed since this was asked last, in kbit/s, and how long the oldest piece that it has not has waited, in ms; null: no stretch is open, and nothing can be. */
  confirmedLately(): { confirmedKbps: number; waitsMs: number } | null {
    const now = performance.now();
    const { bytes, since } = this.confirmed;
    this.confirmed = { bytes: 0, since: now };
    const [oldest] = this.pieces;
    if (this.stretch === null) return null;
    return { confirmedKbps: now > since ? (bytes * 8) / (now - since) : 0, waitsMs: oldest ? now - oldest.at : 0 };
  }

  /** Whether nothing at all has been heard for a moment: a line that is gone, which one that is only thin is not. */
  get isSilent(): boolean {
    return performance.now() - this.heardAt > SILENCE_MS;
  }

  stopSending(): void {
    this.wanted = false;
    this.takesOver = false;
    // What is on its way on a line that is there arrives, or comes after the end.
    if (this.socket && !this.storing) this.pieces = [];
    this.leaveRecorder();
  }

  send(bytes: ArrayBuffer): void {
    const from = this.nextByte;
    if (this.orphan !== null) {
      this.nextByte += bytes.byteLength;
      return this.late.keep(this.orphan, from, bytes);
    }
    if (this.stretch === null && !this.keepsForNext) return;
    this.nextByte += bytes.byteLength;
    const piece = { place: this.nextPlace++, from, bytes, at: performance.now(), stored: false };
    this.pieces.push(piece);
    if (this.storing) this.store();
    if (this.pieces.length > KEPT_PIECES) {
      // Too long without the server: viewers can see it no more, and what comes of this recorder is for the recording alone.
      this.store();
      this.orphan = this.stretch ?? 'next';
      this.storing = false;
      this.pieces = [];
      this.stretch = null;
      this.keepsForNext = false;
      // Where the line is there, nobody else asks for a new one.
      this.askForStretch();
      return;
    }
    if (this.stretch !== null) this.sendPiece(piece);
  }

  /** Has what waits kept in the browser too, and all that comes from now on. */
  private store(): void {
    this.storing = true;
    for (const piece of this.pieces) {
      if (!piece.stored) this.late.keep(this.stretch ?? 'next', piece.from, piece.bytes);
      piece.stored = true;
    }
  }

  /** No more comes of the recorder that ran: what the server lacks of it is sent later. */
  private leaveRecorder(): void {
    if (this.orphan !== null) this.late.end(this.orphan);
    else if (this.pieces.length > 0) {
      this.store();
      this.late.end(this.stretch ?? 'next');
    }
    this.orphan = this.stretch = null;
    this.storing = this.keepsForNext = false;
    this.pieces = [];
    this.nextPlace = this.nextByte = 0;
  }

  /** Has something done to the show: said until it is acknowledged, done once. */
  command(what: StageCommand): void {
    const command = this.commands.say(what);
    this.keepNumber(command.number);
    if (this.heard) this.sayCommand(command);
  }

  /** Whether all that was pressed here has been done, or was refused. */
  get allDone(): boolean {
    return this.commands.unheard.length === 0;
  }

  /** Asks the stage that has the show for something. */
  ask(what: Asked, id?: string): void {
    this.say({ type: 'ask', what, ...(id !== undefined && { id }) });
  }

  /** Says something of handing the stage over; what is said into a broken line is to be pressed again. */
  handOver(message: Extract<StageMessage, { type: 'handOver' }>): void {
    this.say(message);
  }

  /** Says how the own microphone stands, for whoever looks on from elsewhere. */
  tellMicrophone(on: boolean): void {
    this.say({ type: 'microphone', on });
  }

  /** Says whether a screen is shared from here: nothing secret is shown in this browser then. */
  tellSharing(on: boolean): void {
    this.say({ type: 'sharing', on });
  }

  /** Says what is laid over the picture and what is played: whoever has the stage next finds it so, and it is told later. */
  tellShown(graphic: string | null, clip: string | null): void {
    this.say({ type: 'shown', graphic, clip });
  }

  /** Says something about guests. What was said into a broken line is said again by whoever knows better then. */
  tellOfGuests(message: Extract<StageMessage, { type: 'guestsHere' | 'guest' | 'guestSignal' | 'guestPlaces' }>): void {
    this.say(message);
  }

  /** One picture of the programme, for guests. On a line that is slow the programme itself comes first. */
  sendReturn(isKey: boolean, bytes: ArrayBuffer): boolean {
    if (this.socket?.readyState !== WebSocket.OPEN || this.socket.bufferedAmount > RETURN_BACKLOG_BYTES) return false;
    this.socket.send(piece(RETURN_PICTURE, isKey ? 1 : 0, bytes));
    return true;
  }

  /** Tries at once: somebody has signed in again. */
  tryNow(): void {
    clearTimeout(this.timer);
    this.failures = 0;
    this.connect();
  }

  close(): void {
    this.closed = true;
    clearTimeout(this.timer);
    clearInterval(this.listening);
    this.socket?.close();
  }

  private connect(): void {
    if (this.closed || (this.socket && this.socket.readyState !== WebSocket.CLOSED)) return;
    const socket = new WebSocket(this.url);
    socket.binaryType = 'arraybuffer';
    this.socket = socket;
    this.openedAt = performance.now();
    socket.onopen = () => {
      this.heardAt = performance.now();
      if (!this.wanted) return;
      if (this.stretch === null) this.askForStretch();
      else this.say({ type: 'continueStretch', stretch: this.stretch });
    };
    socket.onmessage = ({ data }: MessageEvent<string | ArrayBuffer>) => {
      this.heardAt = performance.now();
      if (typeof data !== 'string') return this.listener.line(data);
      this.hear(JSON.parse(data) as ServerMessage);
      if (this.heard) return;
      this.heard = true;
      this.failures = 0;
      this.listener.connected(true);
      this.late.send();
      for (const command of this.commands.unheard) this.sayCommand(command);
    };
    socket.onclose = ({ code }) => this.gone(socket, code);
  }

  /** A line that is silent is a line that is broken: browsers find out only after minutes. */
  private listen(): void {
    const { socket } = this;
    const now = performance.now();
    const late = now - this.listenedAt > LISTEN_EVERY_MS + STOOD_STILL_MS;
    this.listenedAt = now;
    // The page itself stood still: what came meanwhile has not been read yet, and whether anything did is seen at the next look.
    if (late) return;
    // What was asked for into a line that was broken was heard by nobody.
    if (this.wanted && this.stretch === null && this.heard && now - this.askedAt > STRETCH_MAY_TAKE_MS) this.askForStretch();
    const silent = socket?.readyState === WebSocket.OPEN && now - this.heardAt > SILENT_MS;
    const stuck = socket?.readyState === WebSocket.CONNECTING && now - this.openedAt > CONNECT_MAY_TAKE_MS;
    if (!socket || !(silent || stuck)) return;
    // Its end may come much later; nothing more is heard of it.
    socket.onopen = socket.onmessage = socket.onclose = null;
    socket.close();
    this.gone(socket, 1006);
  }

  private gone(socket: WebSocket, code: number): void {
    if (this.socket !== socket) return;
    this.socket = null;
    if (this.closed) return;
    if (this.wanted && (this.stretch !== null || this.keepsForNext)) this.store();
    this.heard = false;
    this.listener.connected(false);
    if (code === SIGNED_OUT) return this.listener.signedOut();
    const wait = Math.min(LONGEST_RETRY_MS, FIRST_RETRY_MS * 2 ** this.failures++);
    this.timer = window.setTimeout(() => this.connect(), wait);
  }

  private hear(message: ServerMessage): void {
    switch (message.type) {
      case 'air':
        return this.listener.air(message.air);
      case 'kept':
        if (message.stretch === this.stretch) this.kept(message.upTo);
        return;
      case 'refused':
        return this.listener.refused(message.words);
      case 'done':
        return this.commands.acknowledged(message.upTo);
      case 'lost':
        return this.listener.lost(message.to);
      case 'asked':
        return this.listener.asked(message.what, message.by, message.id);
      case 'handing':
      case 'notHanded':
        return this.listener.handing(message);
      case 'guests':
      case 'guestSignal':
      case 'guestWays':
      case 'returnKey':
        return this.listener.guests(message);
      case 'stretch':
        if (!this.wanted) return;
        this.takesOver = false;
        if (message.stretch === this.stretch) {
          this.storing = false;
          for (const piece of this.pieces) if (piece.place >= message.nextPiece) this.sendPiece(piece);
          return;
        }
        if (this.orphan === 'next') {
          // The recorder that runs has been without a number until now; the one that comes after it needs another.
          this.late.name(message.stretch);
          this.orphan = message.stretch;
          return this.askForStretch();
        }
        if (this.keepsForNext) {
          this.stretch = message.stretch;
          if (this.pieces.some(({ stored }) => stored)) this.late.name(message.stretch);
          this.keepsForNext = this.storing = false;
          for (const piece of this.pieces) this.sendPiece(piece);
          return;
        }
        this.leaveRecorder();
        this.stretch = message.stretch;
        return this.listener.beginRecorder();
    }
  }

  private askForStretch(): void {
    this.askedAt = performance.now();
    this.say({ type: 'newStretch', takeOver: this.takesOver });
  }

  private kept(upTo: number): void {
    const there = this.pieces.filter(({ place }) => place < upTo);
    this.confirmed.bytes += there.reduce((sum, { bytes }) => sum + bytes.byteLength, 0);
    this.pieces = this.pieces.slice(there.length);
    const wasStored = there.some(({ stored }) => stored);
    if (wasStored && !this.storing && !this.pieces.some(({ stored }) => stored)) this.late.drop(this.stretch!);
  }

  private sendPiece({ place, bytes }: { place: number; bytes: ArrayBuffer }): void {
    if (this.socket?.readyState !== WebSocket.OPEN) return;
    this.socket.send(piece(this.stretch!, place, bytes));
  }

  private sayCommand({ number, what }: Command<StageCommand>): void {
    this.say({ type: 'command', number, ...what });
  }

  /** False: there is nobody to say it to. */
  private say(message: StageMessage): boolean {
    if (this.socket?.readyState !== WebSocket.OPEN) return false;
    this.socket.send(JSON.stringify(message));
    return true;
  }
}

function piece(number: number, place: number, bytes: ArrayBuffer): Uint8Array<ArrayBuffer> {
  const message = new Uint8Array(PIECE_HEAD_BYTES + bytes.byteLength);
  const head = new DataView(message.buffer);
  head.setUint32(0, number);
  head.setUint32(4, place);
  message.set(new Uint8Array(bytes), PIECE_HEAD_BYTES);
  return message;
}
