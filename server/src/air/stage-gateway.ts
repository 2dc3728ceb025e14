// The stage's socket: numbered pieces come in, what the lamps show goes out. A stage may vanish and return at any
// moment; it is told what was kept and goes on from there. One stage has a show, by a person's own press; no other
// begins to send by itself.
import { ASKED, PIECE_HEAD_BYTES, PIECE_MAX_BYTES, type AirView, type ServerMessage, type StageMessage } from '@lantern/contract';
import { may, RIGHTS, SCENES } from '@lantern/core';
import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import type { IncomingMessage, Server } from 'node:http';
import type { Duplex } from 'node:stream';
import { WebSocketServer, type RawData, type WebSocket } from 'ws';
import { isOurHost } from '../doors/hosts';
import { addressBlock, visitorAddress } from '../foundation/visitor-address';
import { digestOf } from '../foundation/digest';
import { PlainError, Refused } from '../foundation/errors';
import { letGo } from '../foundation/let-go';
import { SETTINGS, type Settings } from '../foundation/settings';
import type { Person } from '../people/people.entities';
import { PeopleService } from '../people/people.service';
import { fromOwnPages, sessionToken } from '../people/signed-in';
import { ShowsService } from '../shows/shows.service';
import { AirService } from './air.service';
import type { AirSession } from './air-session';
import { StagesOnAir } from '../lines/stages-on-air';
import { Bus } from '../foundation/bus';

const PATH = /^\/api\/stage\/([0-9a-f-]{36})$/;
/** How a stage's tab names itself, so that it is known again after a reload. */
const TAB = /^[0-9a-zA-Z-]{8,64}$/;
const TELL_EVERY_MS = 500;
const BEAT_EVERY_MS = 5_000;
/** A stretch costs a process: a stage that asks again and again waits. */
const STRETCH_EVERY_MS = 1_000;
/** What waits to be taken by a stage that does not read; beyond, it is taken for gone. */
const BACKLOG_BYTES = 2_000_000;
/** Why a socket was closed, for the stage to tell apart (RFC 6455, section 7.4.2). */
const SIGNED_OUT = 4401;

interface Stage {
  socket: WebSocket;
  showId: string;
  person: Person;
  /** Digest of the session's token: the socket ends with the session. */
  session: string;
  token: string;
  /** Names the browser's tab. */
  tab: string;
  block: string;
  openedAt: number;
  /** The stretch that this stage is sending; null until it has begun one. */
  stretch: number | null;
  /** Counts its requests for a stretch: the newest is answered. */
  asks: number;
  alive: boolean;
  mayRun: boolean;
  /** Whether it can send at all: a phone looks on and asks, and must never have the show. */
  sends: boolean;
}

/** Whose stage has a show. It is remembered while they are away, so that nobody else slips in. */
interface Holder {
  personId: string;
  name: string;
  /** Null: whoever went on air has not sent from any stage yet. */
  tab: string | null;
  stage: Stage | null;
  /** When their stage was last lost. */
  leftAt: number;
  microphoneOn: boolean;
}

@Injectable()
export class StageGateway implements OnApplicationShutdown {
  private readonly log = new Logger('stage');
  private readonly sockets = new WebSocketServer({ noServer: true, maxPayload: PIECE_MAX_BYTES + PIECE_HEAD_BYTES, perMessageDeflate: false });
  private readonly stages = new Set<Stage>();
  private readonly holders = new WeakMap<AirSession, Holder>();
  private readonly lastStretchAt = new WeakMap<AirSession, number>();
  private readonly soon = new Set<string>();
  private readonly timers: NodeJS.Timeout[] = [];

  constructor(
    private readonly air: AirService,
    private readonly people: PeopleService,
    private readonly shows: ShowsService,
    private readonly onAir: StagesOnAir,
    private readonly bus: Bus,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  attach(server: Server): void {
    server.on('upgrade', (request, socket, head) => {
      this.upgrade(request, socket, head).catch((error: unknown) => {
        this.log.error(error instanceof Error ? error.message : String(error));
        socket.destroy();
      });
    });
    this.bus.on('air').subscribe(({ showId }) => this.tellSoon(showId));
    this.bus.on('stretch broke').subscribe(({ showId }) => {
      const stage = this.holderOf(showId)?.stage;
      if (stage) letGo('a new stretch', this.beginAnew(stage));
    });
    this.bus.on('session ended').subscribe(({ session }) => {
      for (const stage of this.stages) if (stage.session === session) stage.socket.close(SIGNED_OUT);
    });
    this.timers.push(
      setInterval(() => {
        for (const stage of this.stages) this.tell(stage);
      }, TELL_EVERY_MS),
      setInterval(() => this.beat(), BEAT_EVERY_MS),
    );
  }

  onApplicationShutdown(): void {
    for (const timer of this.timers) clearInterval(timer);
    for (const { socket } of this.stages) socket.close(1001);
    this.sockets.close();
  }

  private async upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): Promise<void> {
    // Said and hung up on: a socket that is merely ended stays open as long as the other side likes.
    const refuse = (status: string) => void socket.write(`HTTP/1.1 ${status}\r\nConnection: close\r\nContent-Length: 0\r\n\r\n`, () => socket.destroy());
    socket.on('error', () => socket.destroy());
    const url = new URL(request.url ?? '/', 'http://stage');
    const showId = PATH.exec(url.pathname)?.[1];
    if (!showId) return refuse('404 Not Found');
    if (!isOurHost(request.headers.host, this.settings.publicUrl)) return refuse('421 Misdirected Request');
    // Browsers let any page open a socket with our cookie, so the origin must be ours.
    if (!fromOwnPages(request)) return refuse('403 Forbidden');
    const block = addressBlock(visitorAddress(request, this.settings.proxies));
    if ([...this.stages].filter((stage) => stage.block === block).length >= this.settings.stagesPerAddress) return refuse('429 Too Many Requests');
    const token = sessionToken(request);
    const person = await this.people.personOf(token);
    if (!person || !token) return refuse('401 Unauthorized');
    const known = await this.shows.whole(person.stationId, showId).catch(() => null);
    if (!known) return refuse('404 Not Found');
    if (socket.destroyed) return;
    const named = url.searchParams.get('tab') ?? '';
    const session = digestOf(token);
    this.sockets.handleUpgrade(request, socket, head, (webSocket) => {
      const stage: Stage = {
        ...{ socket: webSocket, showId, person, session, token, block, openedAt: Date.now(), stretch: null, asks: 0, alive: true },
        tab: TAB.test(named) ? named : session,
        mayRun: may(person.role, 'go on air'),
        sends: url.searchParams.get('sends') !== 'no',
      };
      this.stages.add(stage);
      this.comesBack(stage);
      this.onAir.opened(stage, token, () => this.air.session(showId) !== null);
      webSocket.on('message', (data, isBinary) => letGo('hearing a stage', this.hear(stage, data, isBinary)));
      webSocket.on('pong', () => (stage.alive = true));
      webSocket.on('error', (error) => this.log.warn(`a stage's socket failed: ${error.message}`));
      webSocket.on('close', () => this.closed(stage));
      this.tell(stage);
    });
  }

  private closed(stage: Stage): void {
    this.stages.delete(stage);
    this.onAir.closed(stage);
    const holder = this.holderOf(stage.showId);
    if (holder?.stage !== stage) return;
    holder.stage = null;
    holder.leftAt = Date.now();
    this.tellSoon(stage.showId);
  }

  /** Whose stage has the show that is on air; null: it is not on air. */
  private holderOf(showId: string): Holder | null {
    const session = this.air.session(showId);
    if (!session) return null;
    let holder = this.holders.get(session);
    if (!holder) {
      // Whoever went on air is meant to send, from wherever they are.
      const { id, name } = session.begunBy;
      this.holders.set(session, (holder = { personId: id, name, tab: null, stage: null, leftAt: 0, microphoneOn: true }));
    }
    return holder;
  }

  /** A stage that opens where its own show is on air goes on with it: the same tab always, another of the same person where the first is gone. */
  private comesBack(stage: Stage): void {
    const holder = this.holderOf(stage.showId);
    if (!holder || !stage.mayRun || !stage.sends || holder.personId !== stage.person.id) return;
    const own = holder.tab === null || holder.tab === stage.tab;
    if (holder.stage && !own) return;
    if (holder.stage && holder.stage !== stage) holder.stage.socket.terminate(); // What is left of it before the reload.
    this.hold(holder, stage);
  }

  private hold(holder: Holder, stage: Stage): void {
    Object.assign(holder, { personId: stage.person.id, name: stage.person.name, tab: stage.tab, stage });
    this.tellSoon(stage.showId);
  }

  private async hear(stage: Stage, data: RawData, isBinary: boolean): Promise<void> {
    try {
      if (!stage.mayRun) throw new PlainError(403, RIGHTS['go on air'].refusal);
      if (isBinary) return this.takePiece(stage, data as Buffer);
      await this.obey(stage, JSON.parse(String(data)) as StageMessage);
    } catch (error) {
      if (error instanceof PlainError) return this.send(stage, { type: 'refused', words: error.words });
      this.log.error(error instanceof Error ? error.message : String(error), error instanceof Error ? error.stack : undefined);
      stage.socket.close(1011);
    }
  }

  private async obey(stage: Stage, message: StageMessage): Promise<void> {
    const session = this.air.session(stage.showId);
    const holder = this.holderOf(stage.showId);
    switch (message.type) {
      case 'newStretch':
      case 'continueStretch': {
        if (!session || !holder) throw new Refused('air: not on air');
        const takesOver = message.type === 'newStretch' && message.takeOver === true;
        if (holder.stage !== stage) {
          // Whoever went on air sends first from the stage on which they did.
          const first = holder.tab === null && holder.personId === stage.person.id;
          if (!takesOver && !first) throw new Refused('air: somebody has it', { holder: holder.name });
          this.hold(holder, stage);
        }
        const going = message.type === 'continueStretch' ? session.stretchNumbered(message.stretch) : null;
        const stretch = going ?? (await this.newStretch(session, stage));
        if (!stretch) return;
        stage.stretch = stretch.number;
        return this.send(stage, { type: 'stretch', stretch: stretch.number, nextPiece: stretch.nextPiece });
      }
      case 'take': {
        if (!SCENES.some(({ id }) => id === message.scene)) throw new Refused('air: no such scene');
        if (holder && holder.stage !== stage) throw new Refused('air: another stage has it');
        return this.air.take(stage.showId, message.scene);
      }
      case 'ask': {
        if (!ASKED.includes(message.what)) throw new Refused('air: not understood');
        if (!session || !holder) throw new Refused('air: not on air');
        // The card can be taken whether anybody sends or not; what is heard only where somebody does.
        if (message.what === 'take the holding card') await this.air.take(stage.showId, 'holding');
        if (holder.stage) return this.send(holder.stage, { type: 'asked', what: message.what, by: stage.person.name });
        if (message.what !== 'take the holding card') throw new Refused('air: no microphone');
        return;
      }
      case 'microphone': {
        if (holder?.stage !== stage) return;
        holder.microphoneOn = message.on === true;
        return this.tellSoon(stage.showId);
      }
      default:
        throw new Refused('air: not understood');
    }
  }

  /** A new stretch, once a second at the most; null where the stage is gone before its turn. */
  private async newStretch(session: AirSession, stage: Stage) {
    const mine = ++stage.asks;
    const waitMs = () => (this.lastStretchAt.get(session) ?? 0) + STRETCH_EVERY_MS - Date.now();
    // Timers may come a little early, and another stage may have begun one meanwhile.
    while (waitMs() > 0) await new Promise((resolve) => setTimeout(resolve, waitMs()));
    const wanted = this.stages.has(stage) && stage.asks === mine && this.holderOf(stage.showId)?.stage === stage;
    if (!wanted || this.air.session(stage.showId) !== session) return null;
    this.lastStretchAt.set(session, Date.now());
    return session.beginStretch();
  }

  /** Of a stretch that broke here nothing more comes: the stage is given another, with a header and a key frame of its own. */
  private async beginAnew(stage: Stage): Promise<void> {
    const session = this.air.session(stage.showId);
    const stretch = session && (await this.newStretch(session, stage));
    if (!stretch) return;
    stage.stretch = stretch.number;
    this.send(stage, { type: 'stretch', stretch: stretch.number, nextPiece: 0 });
  }

  private takePiece(stage: Stage, message: Buffer): void {
    if (message.length <= PIECE_HEAD_BYTES) return;
    const number = message.readUInt32BE(0);
    const place = message.readUInt32BE(4);
    const stretch = this.holderOf(stage.showId)?.stage === stage ? this.air.session(stage.showId)?.stretchNumbered(number) : null;
    if (!stretch) return; // A piece on its way while another stage took over, or after the end.
    if (place < stretch.nextPiece) return; // Sent again after a broken connection, and already kept.
    if (place > stretch.nextPiece) return this.send(stage, { type: 'stretch', stretch: number, nextPiece: stretch.nextPiece });
    stretch.take(message.subarray(PIECE_HEAD_BYTES), Date.now(), () => this.send(stage, { type: 'kept', stretch: number, upTo: place + 1 }));
  }

  private tellSoon(showId: string): void {
    if (this.soon.has(showId)) return;
    this.soon.add(showId);
    setTimeout(() => {
      this.soon.delete(showId);
      for (const stage of this.stages) if (stage.showId === showId) this.tell(stage);
    }, 50);
  }

  /** Never throws, and leaves nothing behind that could: what cannot be told now is told in half a second. */
  private tell(stage: Stage): void {
    this.air
      .view(stage.person.stationId, stage.showId)
      .then((air: AirView) => {
        const holder = this.holderOf(stage.showId);
        const shown = holder && { personId: holder.personId, name: holder.name, connected: holder.stage !== null, microphoneOn: holder.microphoneOn };
        this.send(stage, { type: 'air', air: { ...air, holder: shown, holdsIt: holder?.stage === stage } });
      })
      .catch((error: unknown) => {
        if (!(error instanceof PlainError)) this.log.warn(error instanceof Error ? error.message : String(error));
      });
  }

  private send(stage: Stage, message: ServerMessage): void {
    const { socket } = stage;
    if (socket.readyState !== socket.OPEN) return;
    if (socket.bufferedAmount > BACKLOG_BYTES) return socket.terminate();
    socket.send(JSON.stringify(message));
  }

  private beat(): void {
    for (const stage of this.stages) {
      if (!stage.alive) {
        stage.socket.terminate();
        continue;
      }
      stage.alive = false;
      stage.socket.ping();
      // A session that has run out ends what is open on its behalf, as one that was ended does.
      this.people.personOf(stage.token).then(
        (person) => {
          if (!person) stage.socket.close(SIGNED_OUT);
        },
        (error: unknown) => this.log.warn(error instanceof Error ? error.message : String(error)),
      );
    }
  }
}
