// The sockets of stages: who they are, whose stage has the show, what they send and what they are told. They end here, beside the
// pictures, so that a planning server that is started anew takes nobody off the air.
import {
  ASKED,
  HELP,
  PIECE_HEAD_BYTES,
  PIECE_MAX_BYTES,
  RETURN_PICTURE,
  type AirView,
  type OutsideOnAir,
  type ServerMessage,
  type StageMessage,
} from '@lantern/contract';
import {
  commandHeard,
  flvTagBytes,
  LineGate,
  NORMALISED,
  otherTroubles,
  PLANNING_AWAY,
  reasonsToNormalise,
  RIGHTS,
  sayOutsideTrouble,
  HOLDING,
  SCENE_ID,
  sayHandOverEnd,
  type Done,
  type FlvTag,
  type HandOver,
  type HandOverEnd,
  type HandOverEvent,
} from '@lantern/core';
import { Logger } from '@nestjs/common';
import type { IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import { WebSocketServer, type RawData, type WebSocket } from 'ws';
import { WireTrouble } from '../air-wire/wire';
import type { Who } from '../air-wire/messages';
import { digestOf } from '../foundation/digest';
import { PlainError, Refused } from '../foundation/errors';
import { letGo } from '../foundation/let-go';
import { sessionToken } from '../foundation/session-cookie';
import type { Settings } from '../foundation/settings';
import type { Carrier } from './carrier';
import type { Desk } from './desk';
import type { GreenRooms, RoomStage } from './green-rooms';
import { knocked } from './knocking';
import type { Arriving, OutsideFeed } from './outside-lines';
import type { Transmission } from './transmission';

/** Characters of a cue's identifier. */
const LONGEST_CUE = 40;
const PATH = /^\/api\/stage\/([0-9a-f-]{36})$/;
/** How a stage's tab names itself, so that it is known again after a reload. */
const TAB = /^[0-9a-zA-Z-]{8,64}$/;
const TELL_EVERY_MS = 500;
const BEAT_EVERY_MS = 5_000;
/** A stretch costs a process: a stage that asks again and again waits. */
const STRETCH_EVERY_MS = 1_000;
/** What waits to be taken by a stage that does not read; beyond, it is taken for gone. */
const BACKLOG_BYTES = 2_000_000;
/** What waits of an outside line before its pictures are left out, up to a key frame: most of a second. */
const LINE_BACKLOG_BYTES = 400_000;
/** While the planning server is gone, a session that it vouched for is good for so long. */
const VOUCHED_FOR_MS = 30 * 60_000;
const VOUCHED_MOST = 500;
/** Why a socket was closed, for the stage to tell apart (RFC 6455, section 7.4.2). */
const SIGNED_OUT = 4401;
/** The socket was opened anew, or the role has changed: connect again. */
const AGAIN = 4409;

interface Stage {
  socket: WebSocket;
  showId: string;
  person: Who;
  /** Digest of the session's token: the socket ends with the session. */
  session: string;
  token: string;
  /** Names the browser's tab. */
  tab: string;
  block: string;
  openedAt: number;
  /** Counts its requests for a stretch: the newest is answered. */
  asks: number;
  alive: boolean;
  /** Whether it can send at all: a phone looks on and asks, and must never have the show. */
  sends: boolean;
  /** Whether a screen is shared from its browser. */
  shares: boolean;
  /** The outside line that is passed on to it, from which feed, and what of it. */
  line: { id: string; feed: OutsideFeed | null; gate: LineGate } | null;
  /** As guests know it; null: it takes none in. */
  room: RoomStage | null;
}

export class StageGateway {
  private readonly log = new Logger('stage');
  private readonly sockets = new WebSocketServer({ noServer: true, maxPayload: PIECE_MAX_BYTES + PIECE_HEAD_BYTES, perMessageDeflate: false });
  private readonly stages = new Set<Stage>();
  private readonly lastStretchAt = new WeakMap<Transmission, number>();
  private readonly views = new Map<string, AirView>();
  private readonly asking = new Set<string>();
  private readonly done = new Map<string, Done>();
  /** By show, the command that is being carried out. */
  private readonly turns = new Map<string, Promise<void>>();
  private readonly vouched = new Map<string, { who: Who; at: number }>();
  private readonly timers: NodeJS.Timeout[];

  constructor(
    private readonly carrier: Carrier,
    private readonly desk: Desk,
    private readonly settings: Settings,
    private readonly rooms: GreenRooms,
  ) {
    carrier.listener = {
      changed: (showId) => this.tellAll(showId),
      stretchBroke: (showId) => {
        const stage = this.holding(showId);
        if (stage) letGo('a new stretch', this.beginAnew(stage));
      },
      handedOver: (...what) => this.handedOver(...what),
      sessionEnded: (session) => {
        for (const key of this.vouched.keys()) if (key.startsWith(session)) this.vouched.delete(key);
        for (const stage of this.stages) if (stage.session === session) stage.socket.close(SIGNED_OUT);
      },
      guest: ({ guestId, name, caption }) => (name === null ? rooms.ended(guestId) : rooms.renamed(guestId, { name, caption })),
      begun: (showId) => {
        for (const stage of this.stages) if (stage.showId === showId) this.opens(stage);
        this.lookSoon(showId);
      },
      ended: (showId) => {
        this.done.delete(showId);
        this.lookSoon(showId);
      },
      look: (showId) => this.lookSoon(showId),
      lineSeen: (feed, tag) => this.passOn(feed, tag),
      lineStands: (lineId) => [...this.stages].some((stage) => stage.line?.id === lineId),
    };
    this.timers = [
      setInterval(() => {
        for (const showId of new Set([...this.stages].map((stage) => stage.showId))) this.lookSoon(showId);
      }, TELL_EVERY_MS),
      setInterval(() => this.beat(), BEAT_EVERY_MS),
    ];
  }

  upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): void {
    this.letIn(request, socket, head).catch((error: unknown) => {
      this.log.error(error instanceof Error ? error.message : String(error));
      socket.destroy();
    });
  }

  /** The planning server has come back: it is told which browsers have stages open, and asked about each show. */
  deskCame(): void {
    for (const showId of new Set([...this.stages].map((stage) => stage.showId))) {
      this.tellOpen(showId);
      this.lookSoon(showId);
    }
  }

  close(): void {
    for (const timer of this.timers) clearInterval(timer);
    for (const { socket } of this.stages) socket.close(1001);
    this.sockets.close();
  }

  private async letIn(request: IncomingMessage, socket: Duplex, head: Buffer): Promise<void> {
    const knock = knocked(request, socket, PATH, this.settings, (block) => [...this.stages].filter((stage) => stage.block === block).length);
    if (!knock) return;
    const { showId, block, refuse } = knock;
    const token = sessionToken(request);
    if (!token) return refuse('401 Unauthorized');
    const person = await this.who(token, showId);
    if (person === 'nobody can be asked') return refuse('503 Service Unavailable');
    if (!person) return refuse('401 Unauthorized');
    if (socket.destroyed) return;
    const asked = new URLSearchParams(request.url?.split('?')[1]);
    const named = asked.get('tab') ?? '';
    const session = digestOf(token);
    this.sockets.handleUpgrade(request, socket, head, (webSocket) => {
      const stage: Stage = {
        ...{ socket: webSocket, showId, person, session, token, block, openedAt: Date.now(), asks: 0, alive: true, shares: false, line: null, room: null },
        tab: TAB.test(named) ? named : session,
        sends: asked.get('sends') !== 'no',
      };
      this.stages.add(stage);
      webSocket.on('message', (data, isBinary) => letGo('hearing a stage', this.hear(stage, data, isBinary)));
      webSocket.on('pong', () => (stage.alive = true));
      webSocket.on('error', (error) => this.log.warn(`a stage's socket failed: ${error.message}`));
      webSocket.on('close', () => this.closed(stage));
      this.opens(stage);
      this.tellOpen(showId);
      this.lookSoon(showId);
    });
  }

  /** Whose browser it is. While the planning server is gone, whoever it vouched for a while ago may come back. */
  private async who(token: string, showId: string): Promise<Who | null | 'nobody can be asked'> {
    const key = `${digestOf(token)} ${showId}`;
    try {
      const who = await this.desk.who(token, showId);
      this.vouched.delete(key);
      if (who) this.vouched.set(key, { who, at: Date.now() });
      if (this.vouched.size > VOUCHED_MOST) this.vouched.delete(this.vouched.keys().next().value!);
      return who;
    } catch (error) {
      if (!(error instanceof WireTrouble)) throw error;
      const before = this.vouched.get(key);
      return before && Date.now() - before.at < VOUCHED_FOR_MS ? before.who : 'nobody can be asked';
    }
  }

  /** A stage that opens where its own show is on air goes on with it; any other only looks on. */
  private opens(stage: Stage): void {
    const show = this.carrier.show(stage.showId);
    if (!show || !stage.person.mayRun || !stage.sends) return;
    const { sends } = show.stageEvent({ type: 'opened', person: stage.person, tab: stage.tab });
    if (!sends) return;
    // What is left of it before the reload.
    for (const other of this.stages) if (other !== stage && this.isOf(other, show)) other.socket.terminate();
  }

  private closed(stage: Stage): void {
    const show = this.carrier.show(stage.showId);
    const held = show !== null && this.isOf(stage, show);
    this.stages.delete(stage);
    if (stage.room) this.rooms.stageGone(stage.room);
    // Its tab may have come back before its old socket was known to be gone.
    const another = held && [...this.stages].some((other) => this.isOf(other, show));
    if (held && !another) show.stageEvent({ type: 'closed', tab: stage.tab });
    if (stage.sends && ![...this.stages].some((other) => other.showId === stage.showId && other.tab === stage.tab))
      show?.handOverEvent({ type: 'gone', tab: stage.tab });
    this.tellOpen(stage.showId);
  }

  /** Whether a stage is the one that has the show. */
  private isOf(stage: Stage, show: Transmission): boolean {
    const { tab, person } = show.holder;
    return stage.showId === show.showId && stage.sends && stage.tab === tab && stage.person.id === person.id;
  }

  /** The stage that has a show and is there; the newest, where a tab is connected twice for a moment. */
  private holding(showId: string): Stage | null {
    const show = this.carrier.show(showId);
    return (show && [...this.stages].findLast((stage) => this.isOf(stage, show))) ?? null;
  }

  private async hear(stage: Stage, data: RawData, isBinary: boolean): Promise<void> {
    try {
      const { mayRun, mayHelp } = stage.person;
      const message = isBinary ? null : (JSON.parse(String(data)) as StageMessage);
      // Whoever only looks on takes no guests in, and is not told off for it.
      if (!mayRun && message?.type === 'guestsHere') return;
      const helps = message?.type === 'ask' && HELP.includes(message.what);
      if (!mayRun && !(helps && mayHelp)) throw new PlainError(403, RIGHTS['go on air'].refusal);
      if (!message) return this.takePiece(stage, data as Buffer);
      await this.obey(stage, message);
    } catch (error) {
      if (error instanceof PlainError) return this.send(stage, { type: 'refused', words: error.words });
      if (error instanceof WireTrouble) return this.send(stage, { type: 'refused', words: PLANNING_AWAY });
      this.log.error(error instanceof Error ? error.message : String(error), error instanceof Error ? error.stack : undefined);
      stage.socket.close(1011);
    }
  }

  private async obey(stage: Stage, message: StageMessage): Promise<void> {
    const show = this.carrier.show(stage.showId);
    switch (message.type) {
      case 'newStretch':
      case 'continueStretch': {
        if (!show) throw new Refused('air: not on air');
        if (!stage.sends) throw new Refused('air: not understood');
        const has = this.isOf(stage, show);
        if (message.type === 'newStretch' && message.takeOver === true) this.take(stage, show);
        else if (!has && !this.takesOver(stage, show)) throw new Refused('air: somebody has it', { holder: show.holder.person.name });
        const going = message.type === 'continueStretch' ? show.stretchNumbered(message.stretch, stage.tab) : null;
        const stretch = going ?? (await this.newStretch(show, stage));
        if (!stretch) return;
        return this.send(stage, { type: 'stretch', stretch: stretch.number, nextPiece: stretch.nextPiece });
      }
      case 'command':
        return this.command(stage, message);
      case 'handOver':
        return this.handOver(stage, show, message);
      case 'ask': {
        if (!ASKED.includes(message.what)) throw new Refused('air: not understood');
        if (!show) throw new Refused('air: not on air');
        // The card can be taken whether anybody sends or not; what is heard only where somebody does.
        if (message.what === 'take the holding card') show.takeScene(HOLDING);
        const holder = this.holding(stage.showId);
        const id = typeof message.id === 'string' && message.id.length <= LONGEST_CUE ? { id: message.id } : {};
        if (holder) return this.send(holder, { type: 'asked', what: message.what, by: stage.person.name, ...id });
        if (HELP.includes(message.what)) throw new Refused('air: nobody to help');
        if (message.what !== 'take the holding card') throw new Refused('air: no microphone');
        return;
      }
      case 'microphone': {
        if (!show || !this.isOf(stage, show)) return;
        show.switchMicrophone(message.on === true);
        return;
      }
      case 'shown': {
        if (!show || !this.isOf(stage, show)) return;
        const known = (id: unknown) => (typeof id === 'string' && id.length <= 40 ? id : null);
        show.show(known(message.graphic), known(message.clip));
        return;
      }
      case 'guestsHere': {
        if (!stage.sends || !TAB.test(String(message.page))) throw new Refused('air: not understood');
        const { showId, person } = stage;
        const asks = (what: (show: Transmission) => boolean) => () => {
          const now = this.carrier.show(showId);
          return now !== null && what(now);
        };
        const holds = asks((now) => this.isOf(stage, now));
        const takesOver = asks((now) => this.takesOver(stage, now));
        stage.room = {
          page: message.page,
          showId: person.guestsOf,
          makes: showId,
          name: person.name,
          send: (each) => this.send(stage, each),
          holds,
          takesOver,
        };
        return this.rooms.stageOffers(stage.room);
      }
      case 'guest':
        return void (stage.room && this.rooms.order(stage.room, String(message.id), message.order));
      case 'guestSignal':
        return void (stage.room && this.rooms.signal(stage.room, String(message.to), message.data));
      case 'guestPlaces':
        return void (stage.room && this.rooms.inProgramme(stage.room, message.places));
      case 'sharing':
        stage.shares = message.on === true;
        return this.tellOpen(stage.showId);
      default:
        throw new Refused('air: not understood');
    }
  }

  /** Somebody has pressed Take the stage: from now on this one has it, and whoever had it is told. */
  private take(stage: Stage, show: Transmission): void {
    const before = this.holding(stage.showId);
    const { lost } = show.stageEvent({ type: 'taken', person: stage.person, tab: stage.tab });
    if (lost && before && before !== stage) this.send(before, { type: 'lost', to: stage.person.name });
    this.rooms.lookAt(stage.person.guestsOf);
  }

  /** Somebody asks for the stage, offers it, or answers. Who may have it, and from where, is looked at here; what it comes to, there. */
  private handOver(stage: Stage, show: Transmission | null, message: Extract<StageMessage, { type: 'handOver' }>): void {
    if (!show) throw new Refused('air: not on air');
    if (!stage.sends) throw new Refused('air: not understood');
    const holder = this.holding(stage.showId);
    const event = (taker: Stage | undefined, type: 'asked' | 'offered'): HandOverEvent => {
      if (!holder || !taker) throw new Refused('air: nobody to ask');
      const { handing } = show;
      if (handing && handing.to.tab !== taker.tab) throw new Refused('air: handed over already');
      return { type, from: { person: holder.person, tab: holder.tab }, to: { person: taker.person, tab: taker.tab } };
    };
    const { tab } = stage;
    switch (message.does) {
      case 'ask':
        return void show.handOverEvent(event(stage, 'asked'));
      case 'offer':
        if (holder !== stage) throw new Refused('air: another stage has it');
        return void show.handOverEvent(
          event(
            this.couldTake(stage).find((other) => idOf(other) === message.to),
            'offered',
          ),
        );
      case 'agree':
        if (show.handing && show.handing.state !== 'coming' && show.plays) throw new Refused('air: a clip plays');
        if (!show.handOverEvent({ type: 'agreed', tab })) throw new Refused('air: hand-over is over');
        return this.rooms.lookAt(stage.person.guestsOf);
      case 'decline':
        return void show.handOverEvent({ type: 'declined', tab });
      default:
        throw new Refused('air: not understood');
    }
  }

  /** The other stages of its show from which a programme can be sent; each tab once. */
  private couldTake(stage: Stage): Stage[] {
    const able = [...this.stages].filter((other) => other.showId === stage.showId && other.sends && other.person.mayRun && other.tab !== stage.tab);
    return [...new Map(able.map((other) => [other.tab, other])).values()];
  }

  private takesOver(stage: Stage, show: Transmission): boolean {
    return stage.sends && show.takesOver(stage.tab) && show.handing?.to.person.id === stage.person.id;
  }

  private handedOver(showId: string, { from, to }: HandOver, ended: HandOverEnd | null): void {
    const at = (side: HandOver['from']) =>
      [...this.stages].filter((stage) => stage.showId === showId && stage.tab === side.tab && stage.person.id === side.person.id);
    if (ended === null) for (const stage of at(from)) this.send(stage, { type: 'lost', to: to.person.name });
    else {
      const words = sayHandOverEnd(ended, { from: from.person.name, to: to.person.name });
      for (const stage of [...at(from), ...at(to)]) this.send(stage, { type: 'notHanded', words });
    }
    for (const { person } of at(to).slice(0, 1)) this.rooms.lookAt(person.guestsOf);
  }

  private tellHanding(stage: Stage, show: Transmission | null): void {
    const { handing = null } = show ?? {};
    const gives = show !== null && this.isOf(stage, show);
    const takes = handing !== null && stage.sends && handing.to.tab === stage.tab && handing.to.person.id === stage.person.id;
    this.send(stage, {
      type: 'handing',
      handing: handing && {
        ...{ state: handing.state, from: handing.from.person.name, to: handing.to.person.name },
        part: takes ? 'takes' : gives ? 'gives' : 'looks on',
      },
      couldTake: gives ? this.couldTake(stage).map((other) => ({ id: idOf(other), name: other.person.name })) : [],
    });
  }

  /** One after the other: what is said again while it is being done must find it done. */
  private command(stage: Stage, message: Extract<StageMessage, { type: 'command' }>): Promise<void> {
    const mine = (this.turns.get(stage.showId) ?? Promise.resolve()).catch(() => undefined).then(() => this.commandInTurn(stage, message));
    this.turns.set(stage.showId, mine);
    const forget = () => {
      if (this.turns.get(stage.showId) === mine) this.turns.delete(stage.showId);
    };
    mine.then(forget, forget);
    return mine;
  }

  private async commandInTurn(stage: Stage, message: Extract<StageMessage, { type: 'command' }>): Promise<void> {
    const show = this.carrier.show(stage.showId);
    const { number } = message;
    if (!Number.isSafeInteger(number) || number < 1) throw new Refused('air: not understood');
    const { isNew, done } = commandHeard(this.done.get(stage.showId) ?? new Map(), stage.tab, number);
    try {
      if (isNew) await this.carryOut(stage, show, message);
      this.done.set(stage.showId, done);
    } catch (error) {
      // What is refused is not said again either; what could not be asked is.
      if (!(error instanceof WireTrouble)) this.done.set(stage.showId, done);
      throw error;
    } finally {
      const upTo = this.done.get(stage.showId)?.get(stage.tab) ?? 0;
      if (upTo >= number) this.send(stage, { type: 'done', upTo });
    }
  }

  private async carryOut(stage: Stage, show: Transmission | null, message: Extract<StageMessage, { type: 'command' }>): Promise<void> {
    switch (message.does) {
      case 'take': {
        if (typeof message.scene !== 'string' || !SCENE_ID.test(message.scene)) throw new Refused('air: no such scene');
        if (!show) return void (await this.desk.restingTake({ showId: stage.showId, scene: message.scene }));
        if (!this.isOf(stage, show)) throw new Refused('air: another stage has it');
        return show.takeScene(message.scene, typeof message.cue === 'string' && message.cue.length <= LONGEST_CUE ? message.cue : null);
      }
      case 'bring': {
        const { line } = message;
        const { stationId } = stage.person;
        if (line !== null && !this.carrier.outside.arriving.some((each) => each.lineId === line && each.stationId === stationId))
          throw new Refused('air: nothing there');
        if (!show) return void (await this.desk.restingTake({ showId: stage.showId, line }));
        if (!this.isOf(stage, show)) throw new Refused('air: another stage has it');
        return show.bring(line);
      }
      case 'break': {
        if (!show) throw new Refused('air: not on air');
        const backAt = typeof message.backAt === 'number' && Number.isFinite(message.backAt) ? Math.round(message.backAt) : null;
        this.desk.wantCard({ showId: stage.showId, backAt });
        return show.choose('break card', backAt);
      }
      case 'resume':
        if (!show) throw new Refused('air: not on air');
        return show.resume();
      case 'choose': {
        if (!show) throw new Refused('air: not on air');
        const { source } = message;
        if (source !== 'stage' && !this.carrier.outside.arriving.some(({ lineId, stationId }) => source === `line:${lineId}` && stationId === show.stationId))
          throw new Refused('air: nothing there');
        return show.choose(source, null);
      }
      default:
        throw new Refused('air: not understood');
    }
  }

  /** A new stretch, once a second at the most; null where the stage is gone before its turn. */
  private async newStretch(show: Transmission, stage: Stage) {
    const mine = ++stage.asks;
    const waitMs = () => (this.lastStretchAt.get(show) ?? 0) + STRETCH_EVERY_MS - Date.now();
    // Timers may come a little early, and another stage may have begun one meanwhile.
    while (waitMs() > 0) await new Promise((resolve) => setTimeout(resolve, waitMs()));
    const has = this.isOf(stage, show);
    const wanted = this.stages.has(stage) && stage.asks === mine && (has || this.takesOver(stage, show));
    if (!wanted || this.carrier.show(stage.showId) !== show) return null;
    this.lastStretchAt.set(show, Date.now());
    return has ? show.beginStretch() : show.beginComing();
  }

  /** Of a stretch that broke here nothing more comes: the stage is given another, with a header and a key frame of its own. */
  private async beginAnew(stage: Stage): Promise<void> {
    const show = this.carrier.show(stage.showId);
    const stretch = show && (await this.newStretch(show, stage));
    if (stretch) this.send(stage, { type: 'stretch', stretch: stretch.number, nextPiece: 0 });
  }

  private takePiece(stage: Stage, message: Buffer): void {
    if (message.length <= PIECE_HEAD_BYTES) return;
    const number = message.readUInt32BE(0);
    if (number === RETURN_PICTURE) return void (stage.room && this.rooms.returnPicture(stage.room, message));
    const place = message.readUInt32BE(4);
    const show = this.carrier.show(stage.showId);
    const stretch = show && (this.isOf(stage, show) || this.takesOver(stage, show)) ? show.stretchNumbered(number, stage.tab) : null;
    if (!stretch) return; // A piece on its way while another stage took over, or after the end.
    if (place < stretch.nextPiece) return; // Sent again after a broken connection, and already kept.
    if (place > stretch.nextPiece) return this.send(stage, { type: 'stretch', stretch: number, nextPiece: stretch.nextPiece });
    stretch.take(message.subarray(PIECE_HEAD_BYTES), Date.now(), () => this.send(stage, { type: 'kept', stretch: number, upTo: place + 1 }));
  }

  private tellOpen(showId: string): void {
    const open = [...this.stages].filter((stage) => stage.showId === showId);
    this.desk.tellStages({ showId, sessions: open.map(({ session }) => session), sharing: open.filter(({ shares }) => shares).map(({ session }) => session) });
  }

  /** Asks what the planning server knows of a show, once for all its stages, and tells them. */
  private lookSoon(showId: string): void {
    if (this.asking.has(showId)) return;
    this.asking.add(showId);
    letGo(
      'asking about a show',
      this.desk
        .view(showId)
        .then((view) => void this.views.set(showId, view))
        .catch((error: unknown) => {
          if (!(error instanceof WireTrouble)) throw error;
        })
        .finally(() => {
          this.asking.delete(showId);
          this.tellAll(showId);
        }),
    );
  }

  private tellAll(showId: string): void {
    const planned = this.views.get(showId);
    const here = [...this.stages].filter((stage) => stage.showId === showId);
    if (!here.length) return void this.views.delete(showId);
    if (!planned) return;
    const show = this.carrier.show(showId);
    const { stationId } = here[0]!.person;
    const lines = this.carrier.outside.arriving.filter((line) => line.stationId === stationId).map(outsideOnAir);
    const air = { ...(show ? show.laidOver(planned) : planned), lines };
    for (const stage of here) {
      const { lineOnStage } = air;
      // A phone makes no picture: it is sent none.
      if ((stage.line?.id ?? null) !== lineOnStage)
        stage.line = lineOnStage !== null && stage.sends ? { id: lineOnStage, feed: null, gate: new LineGate() } : null;
      this.send(stage, { type: 'air', air: { ...air, holdsIt: show !== null && this.isOf(stage, show) } });
      this.tellHanding(stage, show);
    }
  }

  /** Passes a tag of an outside line on to the stages on which it stands: whole pictures only, and none to a line that is too slow for them. */
  private passOn(feed: OutsideFeed, tag: FlvTag): void {
    for (const stage of this.stages) {
      const { line, socket, person } = stage;
      if (line?.id !== feed.lineId || person.stationId !== feed.stationId || socket.readyState !== socket.OPEN) continue;
      const pass = (each: FlvTag, timestampMs = each.timestampMs) => {
        if (line.gate.lets(each, socket.bufferedAmount > LINE_BACKLOG_BYTES)) socket.send(flvTagBytes(each, timestampMs));
      };
      if (line.feed !== feed) {
        Object.assign(line, { feed, gate: new LineGate() });
        for (const head of feed.heads()) pass(head, 0);
      }
      pass(tag);
    }
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
      letGo('looking whether a session is still good', this.lookAgain(stage));
    }
  }

  /** A session that has run out ends what is open on its behalf, as one that was ended does; and so does a role that has changed. */
  private async lookAgain(stage: Stage): Promise<void> {
    const person = await this.who(stage.token, stage.showId);
    if (person === 'nobody can be asked') return;
    if (!person) return stage.socket.close(SIGNED_OUT);
    if (person.mayRun !== stage.person.mayRun) stage.socket.close(AGAIN);
  }
}

/** Names a stage to others: what names its tab to us is its own. */
const idOf = ({ tab }: Stage): string => digestOf(tab).slice(0, 16);

function outsideOnAir({ lineId, name, facts, normalised }: Arriving): OutsideOnAir {
  const reasons = reasonsToNormalise(facts);
  const words = [...reasons, ...otherTroubles(facts)].map(sayOutsideTrouble);
  return { id: lineId, name, facts, normalised, words: normalised ? [...words, NORMALISED] : words };
}
