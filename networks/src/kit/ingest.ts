// RTMP ingest: takes a picture from whoever shows a key that is good at this moment, refuses the rest
// in words, and hands what arrives to the playback. The wire format is node-media-server's reader;
// who may publish is decided here.
import { Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { createServer, type Server, type Socket } from 'node:net';
import Amf = require('node-media-server/src/protocol/amf.js');
import Flv = require('node-media-server/src/protocol/flv.js');
import Rtmp = require('node-media-server/src/protocol/rtmp.js');
import type { Network } from './entities';

/** Longer without a picture than this, and none arrives. */
const PICTURE_GONE_MS = 2_500;
/** The reader's mark on a video packet that carries no picture. */
const DECODER_CONFIGURATION = 2;
const KIND = { audio: 8, video: 9, script: 18 };
/** Over so long the rate of a picture is taken, and by so much it may exceed the limit. */
const RATE_OVER_MS = 10_000;
const RATE_TOLERANCE = 1.5;

export interface Admission {
  /** Null: a service without events, which takes any picture. */
  network: Network | null;
  lineId: string;
  eventId: string;
  /** Arrives at the backup address: shown only while nothing comes to the primary one. */
  backup: boolean;
  maxHeight: number;
  maxKbps: number;
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
  /** Decoder configurations and facts, for a backup that takes over in the middle. */
  heads: Map<string, Buffer>;
  rate: { since: number; bytes: number };
  refuse(why: string): void;
}

@Injectable()
export class Ingest implements OnApplicationShutdown {
  private readonly log = new Logger('ingest');
  private readonly byEvent = new Map<string, Connection>();
  private readonly standingBy = new Map<string, Connection>();
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

  /** Hangs up on every encoder of a network, on that of one event, or on those that show one line's key. */
  drop(which: { network: Network } | { eventId: string } | { lineId: string }): number {
    const hit = [...this.byEvent.values(), ...this.standingBy.values()].filter(({ admission }) =>
      'network' in which ? admission.network === which.network : 'eventId' in which ? admission.eventId === which.eventId : admission.lineId === which.lineId,
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
    const refuse = (why: string) => {
      this.log.log(`refused an encoder: ${why}`);
      rtmp.onPacketCallback = () => undefined;
      rtmp.sendStatusMessage(rtmp.streamId, 'error', 'NetStream.Publish.BadName', why);
      socket.end();
      socket.resume();
    };
    rtmp.respondPublish = () => undefined; // Said only once the key has been looked at.
    rtmp.onOutputCallback = (bytes) => void socket.write(bytes);
    rtmp.onConnectCallback = () => undefined;
    rtmp.onPlayCallback = () => socket.destroy(); // Viewers are served by HLS.
    rtmp.onPushCallback = () => {
      socket.pause();
      this.gatekeeper(rtmp.streamApp, rtmp.streamName)
        .then((answer) => {
          if (typeof answer === 'string') return refuse(answer);
          connection = { admission: answer, socket, lastPictureAt: 0, heads: new Map(), rate: { since: Date.now(), bytes: 0 }, refuse };
          startPublish();
          this.enter(connection);
          socket.resume();
        })
        .catch(() => socket.destroy());
    };
    rtmp.onPacketCallback = (packet) => {
      if (!connection || packet.size === 0) return;
      const { network } = connection.admission;
      if (network && this.stalled(network)) {
        socket.pause();
        return;
      }
      const trouble = this.overLimits(connection, packet);
      if (trouble) return connection.refuse(trouble);
      if (packet.codec_type === KIND.audio || packet.codec_type === KIND.video) this.pass(connection, packet);
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
      if (connection) this.leave(connection);
    });
  }

  private enter(connection: Connection): void {
    const { admission } = connection;
    const present = this.byEvent.get(admission.eventId);
    if (present && admission.backup && !present.admission.backup) {
      this.standingBy.get(admission.eventId)?.socket.destroy();
      this.standingBy.set(admission.eventId, connection);
      return;
    }
    // An encoder that returns after a broken line takes over from its own stale connection, and the
    // primary address takes over from the backup.
    if (present) {
      this.byEvent.delete(admission.eventId);
      this.listener?.gone(present.admission);
      if (present.admission.backup && !admission.backup) this.standingBy.set(admission.eventId, present);
      else present.socket.destroy();
    }
    this.show(connection);
  }

  private leave(connection: Connection): void {
    const { eventId } = connection.admission;
    if (this.standingBy.get(eventId) === connection) this.standingBy.delete(eventId);
    if (this.byEvent.get(eventId) !== connection) return;
    this.byEvent.delete(eventId);
    this.listener?.gone(connection.admission);
    const backup = this.standingBy.get(eventId);
    if (!backup) return;
    this.standingBy.delete(eventId);
    this.show(backup);
  }

  /** Makes a connection the one that is seen. */
  private show(connection: Connection): void {
    this.byEvent.set(connection.admission.eventId, connection);
    this.listener?.arrived(connection.admission);
    for (const bytes of [Flv.createHeader(true, true), ...connection.heads.values()]) {
      this.listener?.bytes(connection.admission, bytes, { picture: false, dtsMs: 0 });
    }
  }

  private pass(connection: Connection, packet: Rtmp.Packet): void {
    const isConfiguration = packet.flags === DECODER_CONFIGURATION;
    const picture = packet.codec_type === KIND.video && !isConfiguration;
    const flv = Flv.createMessage(packet);
    if (packet.codec_type === KIND.video ? isConfiguration : !connection.heads.has('audio')) {
      connection.heads.set(packet.codec_type === KIND.video ? 'video' : 'audio', flv);
    }
    if (this.byEvent.get(connection.admission.eventId) !== connection) return;
    if (picture) connection.lastPictureAt = Date.now();
    this.listener?.bytes(connection.admission, flv, { picture, dtsMs: packet.dts });
  }

  /** What is wrong with a picture by the network's rules: its lines as the encoder says them, its rate as it arrives. */
  private overLimits(connection: Connection, packet: Rtmp.Packet): string | null {
    const { admission, rate } = connection;
    if (packet.codec_type === KIND.script) {
      const { dataObj } = Amf.decodeAmf0Data(packet.data.subarray(0, packet.size));
      const height = Number(dataObj?.height);
      if (height > admission.maxHeight) return `Pictures have ${admission.maxHeight} lines at most here; this one has ${height}.`;
      return null;
    }
    if (packet.codec_type !== KIND.video) return null;
    rate.bytes += packet.size;
    const forMs = Date.now() - rate.since;
    if (forMs < RATE_OVER_MS) return null;
    const kbps = (rate.bytes * 8) / forMs;
    connection.rate = { since: Date.now(), bytes: 0 };
    if (kbps > admission.maxKbps * RATE_TOLERANCE) return `Pictures may have ${admission.maxKbps} kbit/s here; this one has ${Math.round(kbps)}.`;
    return null;
  }
}
