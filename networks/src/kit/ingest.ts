// RTMP ingest: takes a picture from whoever shows a key that is good at this moment, refuses the rest
// in words, and hands what arrives to the playback. The wire format is node-media-server's reader;
// who may publish is decided here.
import { Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { createServer, type Server, type Socket } from 'node:net';
import Flv = require('node-media-server/src/protocol/flv.js');
import Rtmp = require('node-media-server/src/protocol/rtmp.js');
import type { Network } from './entities';

/** Longer without a picture than this, and none arrives. */
const PICTURE_GONE_MS = 2_500;
/** The reader's mark on a video packet that carries no picture. */
const DECODER_CONFIGURATION = 2;

export interface Admission {
  network: Network;
  lineId: string;
  eventId: string;
}

/** Decides about a key; a string is the reason for refusing it. */
export type Gatekeeper = (app: string, key: string) => Promise<Admission | string>;

export interface IngestListener {
  arrived(admission: Admission): void;
  bytes(admission: Admission, flv: Buffer, packet: { picture: boolean; dtsMs: number }): void;
  gone(admission: Admission): void;
}

interface Connection {
  admission: Admission;
  socket: Socket;
  lastPictureAt: number;
}

@Injectable()
export class Ingest implements OnApplicationShutdown {
  private readonly log = new Logger('ingest');
  private readonly byEvent = new Map<string, Connection>();
  private readonly sockets = new Set<Socket>();
  private server: Server | null = null;
  private gatekeeper: Gatekeeper = async () => 'closed';
  private listener: IngestListener | null = null;
  /** Networks whose sockets are left unread. */
  private stalled: (network: Network) => boolean = () => false;

  use(gatekeeper: Gatekeeper, listener: IngestListener, stalled: (network: Network) => boolean): void {
    this.gatekeeper = gatekeeper;
    this.listener = listener;
    this.stalled = stalled;
  }

  listen(port: number): Promise<void> {
    this.server = createServer((socket) => this.accept(socket));
    return new Promise((done, failed) => this.server!.once('error', failed).listen(port, '127.0.0.1', done));
  }

  pictureArrives(eventId: string): boolean {
    const connection = this.byEvent.get(eventId);
    return connection !== undefined && Date.now() - connection.lastPictureAt < PICTURE_GONE_MS;
  }

  /** Hangs up on every encoder of a network, or on that of one event. */
  drop(which: { network: Network } | { eventId: string }): number {
    const hit = [...this.byEvent.values()].filter(({ admission }) =>
      'network' in which ? admission.network === which.network : admission.eventId === which.eventId,
    );
    for (const { socket } of hit) socket.destroy();
    return hit.length;
  }

  onApplicationShutdown(): void {
    this.server?.close();
    for (const socket of this.sockets) socket.destroy();
  }

  private accept(socket: Socket): void {
    this.sockets.add(socket);
    const rtmp = new Rtmp();
    let connection: Connection | null = null;
    const startPublish = rtmp.respondPublish.bind(rtmp);
    rtmp.respondPublish = () => undefined; // Said only once the key has been looked at.
    rtmp.onOutputCallback = (bytes) => void socket.write(bytes);
    rtmp.onConnectCallback = () => undefined;
    rtmp.onPlayCallback = () => socket.destroy(); // Viewers are served by HLS.
    rtmp.onPushCallback = () => {
      socket.pause();
      void this.gatekeeper(rtmp.streamApp, rtmp.streamName).then((answer) => {
        if (typeof answer === 'string') {
          this.log.log(`refused an encoder: ${answer}`);
          rtmp.sendStatusMessage(rtmp.streamId, 'error', 'NetStream.Publish.BadName', answer);
          socket.end();
          socket.resume();
          return;
        }
        if (this.byEvent.has(answer.eventId)) {
          // An encoder that returns after a broken line takes over from its own stale connection.
          this.byEvent.get(answer.eventId)!.socket.destroy();
          this.listener?.gone(answer);
        }
        connection = { admission: answer, socket, lastPictureAt: 0 };
        this.byEvent.set(answer.eventId, connection);
        startPublish();
        this.listener?.arrived(answer);
        this.listener?.bytes(answer, Flv.createHeader(true, true), { picture: false, dtsMs: 0 });
        socket.resume();
      });
    };
    rtmp.onPacketCallback = (packet) => {
      if (!connection || packet.size === 0) return;
      if (this.stalled(connection.admission.network)) {
        socket.pause();
        return;
      }
      const picture = packet.codec_type === 9 && packet.flags !== DECODER_CONFIGURATION;
      if (picture) connection.lastPictureAt = Date.now();
      if (packet.codec_type === 8 || packet.codec_type === 9) {
        this.listener?.bytes(connection.admission, Flv.createMessage(packet), { picture, dtsMs: packet.dts });
      }
    };
    socket.on('data', (bytes) => {
      try {
        if (rtmp.parserData(bytes) !== null) socket.destroy();
      } catch {
        socket.destroy(); // Not RTMP.
      }
    });
    socket.on('error', () => undefined);
    socket.on('close', () => {
      this.sockets.delete(socket);
      if (connection && this.byEvent.get(connection.admission.eventId) === connection) {
        this.byEvent.delete(connection.admission.eventId);
        this.listener?.gone(connection.admission);
      }
    });
  }
}
