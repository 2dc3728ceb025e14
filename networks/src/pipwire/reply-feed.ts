// Replies to casts as they come, on a socket for whoever may speak for the handle (RFC 6455).
import type { PipwireReply } from '@lantern/contract/network-http';
import { Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { HttpAdapterHost } from '@nestjs/core';
import type { IncomingMessage, Server } from 'node:http';
import type { Duplex } from 'node:stream';
import { DataSource } from 'typeorm';
import { WebSocketServer, type WebSocket } from 'ws';
import type { MessageRow } from '../kit/entities';
import { Events } from '../kit/events';
import { Faults } from '../kit/faults';
import { Messages } from '../kit/messages';
import { loginOf } from '../kit/oauth.controller';
import { Refusal } from '../kit/refusal';

const PATH = /^\/pipwire\/1\/casts\/(\w+)\/replies\/feed$/;
const BEAT_EVERY_MS = 5_000;
const AT_ONCE = 200;
/** Whoever does not read loses the connection, and may come back for the rest. */
const BACKLOG_BYTES = 1_000_000;
const WHO = { account: 'own', member: 'follower', follower: 'follower', newcomer: 'newcomer' } as const;

@Injectable()
export class ReplyFeed implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('reply feed');
  private readonly sockets = new WebSocketServer({ noServer: true, maxPayload: 1_000 });
  private timer: NodeJS.Timeout | null = null;

  constructor(
    private readonly host: HttpAdapterHost,
    private readonly database: DataSource,
    private readonly events: Events,
    private readonly messages: Messages,
    private readonly faults: Faults,
  ) {}

  onApplicationBootstrap(): void {
    const server = this.host.httpAdapter.getHttpServer() as Server;
    server.on('upgrade', (request: IncomingMessage, socket: Duplex, head: Buffer) => {
      socket.on('error', () => socket.destroy());
      this.open(request, socket, head).catch((error: unknown) => {
        const status = error instanceof Refusal ? error.status : 500;
        if (!(error instanceof Refusal)) this.log.error(error instanceof Error ? error.message : String(error));
        socket.end(`HTTP/1.1 ${status} Refused\r\nconnection: close\r\ncontent-length: 0\r\n\r\n`);
      });
    });
    this.timer = setInterval(() => {
      if (this.faults.of('pipwire') === 'down') for (const socket of this.sockets.clients) socket.terminate();
      else if (this.faults.of('pipwire') !== 'silent') for (const socket of this.sockets.clients) socket.ping();
    }, BEAT_EVERY_MS);
  }

  onApplicationShutdown(): void {
    if (this.timer) clearInterval(this.timer);
    for (const socket of this.sockets.clients) socket.terminate();
  }

  private async open(request: IncomingMessage, socket: Duplex, head: Buffer): Promise<void> {
    const { pathname, searchParams } = new URL(request.url ?? '/', 'http://localhost');
    const cast = PATH.exec(pathname)?.[1];
    if (cast === undefined) throw new Refusal(404, 'unknown', 'There is nothing here.');
    if (this.faults.of('pipwire') === 'down') throw new Refusal(503, 'unavailable', 'Not available.');
    const event = await this.events.ofAccount('pipwire', cast, await loginOf(this.database, 'pipwire', request.headers.authorization ?? ''));
    const after = Math.max(0, Math.floor(Number(searchParams.get('after')) || 0));
    this.sockets.handleUpgrade(request, socket, head, (opened) => this.feed(opened, event.id, after));
  }

  private feed(socket: WebSocket, eventId: string, after: number): void {
    let place = after;
    let going = Promise.resolve();
    // One look after the other: what is new while one is going on is found by the next.
    const look = (): void => {
      going = going
        .then(async () => {
          if (this.faults.of('pipwire') === 'silent') return;
          for (let rows = await this.messages.after(eventId, place, AT_ONCE); rows.length; rows = await this.messages.after(eventId, place, AT_ONCE)) {
            if (socket.bufferedAmount > BACKLOG_BYTES) return socket.terminate();
            for (const row of rows) socket.send(JSON.stringify(replyOf(row)));
            place = rows.at(-1)!.place;
          }
        })
        .catch((error: unknown) => {
          this.log.error(error instanceof Error ? error.message : String(error));
          socket.terminate();
        });
    };
    const news = this.messages.of(eventId).subscribe(look);
    socket.on('error', () => socket.terminate());
    socket.on('close', () => news.unsubscribe());
    look();
  }
}

export const replyOf = ({ place, id, writtenAt, writer, standing, text, answers, hidden }: MessageRow): PipwireReply => ({
  ...{ place, reply: id, at: writtenAt, from: writer, who: WHO[standing], say: text, to: answers, folded: hidden },
});
