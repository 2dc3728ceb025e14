// The stage's socket: numbered pieces come in, what the lamps show goes out. A stage may vanish and
// return at any moment; it is told what was kept and goes on from there.
import { PIECE_HEAD_BYTES, PIECE_MAX_BYTES, type AirView, type ServerMessage, type StageMessage } from '@lantern/contract';
import { SCENES } from '@lantern/core';
import { Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import type { IncomingMessage, Server } from 'node:http';
import type { Duplex } from 'node:stream';
import { WebSocketServer, type RawData, type WebSocket } from 'ws';
import { PlainError } from '../foundation/errors';
import { PeopleService } from '../people/people.service';
import { fromOwnPages, sessionToken } from '../people/signed-in';
import { ShowsService } from '../shows/shows.service';
import { AirService } from './air.service';
import { StagesOnAir } from './stages-on-air';

const PATH = /^\/api\/stage\/([0-9a-f-]{36})$/;
const TELL_EVERY_MS = 500;
const BEAT_EVERY_MS = 5_000;

interface Stage {
  socket: WebSocket;
  showId: string;
  stationId: string;
  /** The stretch that this stage is sending; null until it has begun one. */
  stretch: number | null;
  alive: boolean;
  mayRun: boolean;
}

@Injectable()
export class StageGateway implements OnApplicationShutdown {
  private readonly log = new Logger('stage');
  private readonly sockets = new WebSocketServer({ noServer: true, maxPayload: PIECE_MAX_BYTES + PIECE_HEAD_BYTES, perMessageDeflate: false });
  private readonly stages = new Set<Stage>();
  /** The stage whose pictures a show takes: the last that began a stretch. */
  private readonly owners = new Map<string, Stage>();
  private readonly soon = new Set<string>();
  private readonly timers: NodeJS.Timeout[] = [];

  constructor(
    private readonly air: AirService,
    private readonly people: PeopleService,
    private readonly shows: ShowsService,
    private readonly onAir: StagesOnAir,
  ) {}

  attach(server: Server): void {
    server.on('upgrade', (request, socket, head) => void this.upgrade(request, socket, head));
    this.air.changes.subscribe((showId) => this.tellSoon(showId));
    this.timers.push(
      setInterval(() => {
        for (const stage of this.stages) void this.tell(stage);
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
    const refuse = (status: string) => socket.end(`HTTP/1.1 ${status}\r\nConnection: close\r\n\r\n`);
    socket.on('error', () => undefined);
    const showId = PATH.exec(request.url ?? '')?.[1];
    if (!showId) return void refuse('404 Not Found');
    // Browsers let any page open a socket with our cookie, so the origin must be ours.
    if (!fromOwnPages(request)) return void refuse('403 Forbidden');
    const person = await this.people.personOf(sessionToken(request));
    if (!person) return void refuse('401 Unauthorized');
    const known = await this.shows.whole(person.stationId, showId).catch(() => null);
    if (!known) return void refuse('404 Not Found');
    this.sockets.handleUpgrade(request, socket, head, (webSocket) => {
      const stage: Stage = { socket: webSocket, showId, stationId: person.stationId, stretch: null, alive: true, mayRun: person.role !== 'moderator' };
      this.stages.add(stage);
      this.onAir.opened(stage, sessionToken(request)!, () => this.air.session(showId) !== null);
      webSocket.on('message', (data, isBinary) => void this.hear(stage, data, isBinary));
      webSocket.on('pong', () => (stage.alive = true));
      webSocket.on('error', (error) => this.log.warn(`a stage's socket failed: ${error.message}`));
      webSocket.on('close', () => {
        this.stages.delete(stage);
        this.onAir.closed(stage);
        if (this.owners.get(showId) === stage) this.owners.delete(showId);
      });
      void this.tell(stage);
    });
  }

  private async hear(stage: Stage, data: RawData, isBinary: boolean): Promise<void> {
    if (!stage.mayRun) return this.send(stage, { type: 'refused', words: 'Moderators can watch the stage but not run it.' });
    try {
      if (isBinary) return this.takePiece(stage, data as Buffer);
      await this.obey(stage, JSON.parse(String(data)) as StageMessage);
    } catch (error) {
      if (error instanceof PlainError) return this.send(stage, { type: 'refused', words: error.words });
      this.log.error(error instanceof Error ? error.message : String(error), error instanceof Error ? error.stack : undefined);
      stage.socket.close(1011);
    }
  }

  private async obey(stage: Stage, message: StageMessage): Promise<void> {
    switch (message.type) {
      case 'newStretch': {
        const session = this.air.session(stage.showId);
        if (!session) throw new PlainError(409, 'The show is not on air.');
        const stretch = session.beginStretch();
        stage.stretch = stretch.number;
        this.owners.set(stage.showId, stage);
        return this.send(stage, { type: 'stretch', stretch: stretch.number, nextPiece: 0 });
      }
      case 'continueStretch': {
        const stretch = this.air.session(stage.showId)?.stretchNumbered(message.stretch);
        if (!stretch) return this.obey(stage, { type: 'newStretch' });
        stage.stretch = stretch.number;
        this.owners.set(stage.showId, stage);
        return this.send(stage, { type: 'stretch', stretch: stretch.number, nextPiece: stretch.nextPiece });
      }
      case 'take': {
        if (!SCENES.some(({ id }) => id === message.scene)) throw new PlainError(400, 'There is no such scene.');
        return this.air.take(stage.showId, message.scene);
      }
      default:
        throw new PlainError(400, 'The stage sent something that is not understood. Reload it.');
    }
  }

  private takePiece(stage: Stage, message: Buffer): void {
    if (message.length <= PIECE_HEAD_BYTES) return;
    const number = message.readUInt32BE(0);
    const place = message.readUInt32BE(4);
    const stretch = this.owners.get(stage.showId) === stage ? this.air.session(stage.showId)?.stretchNumbered(number) : null;
    if (!stretch) return; // A piece on its way while another stage took over, or after the end.
    if (place < stretch.nextPiece) return; // Sent again after a broken connection, and already kept.
    if (place > stretch.nextPiece) return this.send(stage, { type: 'stretch', stretch: number, nextPiece: stretch.nextPiece });
    stretch.take(message.subarray(PIECE_HEAD_BYTES), Date.now());
    this.send(stage, { type: 'kept', stretch: number, upTo: stretch.nextPiece });
  }

  private tellSoon(showId: string): void {
    if (this.soon.has(showId)) return;
    this.soon.add(showId);
    setTimeout(() => {
      this.soon.delete(showId);
      for (const stage of this.stages) if (stage.showId === showId) void this.tell(stage);
    }, 50);
  }

  private async tell(stage: Stage): Promise<void> {
    const air: AirView | null = await this.air.view(stage.stationId, stage.showId).catch(() => null);
    if (!air) return;
    const owner = this.owners.get(stage.showId);
    this.send(stage, { type: 'air', air: { ...air, stageElsewhere: owner !== undefined && owner !== stage } });
  }

  private send(stage: Stage, message: ServerMessage): void {
    if (stage.socket.readyState === stage.socket.OPEN) stage.socket.send(JSON.stringify(message));
  }

  private beat(): void {
    for (const stage of this.stages) {
      if (!stage.alive) {
        stage.socket.terminate();
        continue;
      }
      stage.alive = false;
      stage.socket.ping();
    }
  }
}
