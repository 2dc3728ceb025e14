// RTMP ingest: takes a picture from whoever shows a key that is good at this moment, refuses the rest
// in words, and hands what arrives to the playback.
import { Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { createServer, type Server, type Socket } from 'node:net';
import { factsOf, flvHead, flvOf, readEncoder, type RtmpPacket } from '@lantern/rtmp';
import type { Network } from './entities';

/** Longer without a picture than this, and none arrives. */
const PICTURE_GONE_MS = 2_500;
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
  /** Connections of encoders, whether they were let in or not. */
  came = 0;
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
    let admission: Admission | null = null;
    let connection: Connection | null = null;
    this.came += 1;
    readEncoder(socket, {
      admit: async (app, key) => {
        const answer = await this.gatekeeper(app, key);
        if (typeof answer !== 'string') admission = answer;
        else this.log.log(`refused an encoder: ${answer}`);
        return typeof answer === 'string' ? answer : null;
      },
      begins: (encoder) => {
        const refuse = (why: string) => {
          this.log.log(`refused an encoder: ${why}`);
          encoder.refuse(why);
        };
        connection = { admission: admission!, socket, lastPictureAt: 0, heads: new Map(), rate: { since: Date.now(), bytes: 0 }, refuse };
        this.enter(connection);
      },
      packet: (packet) => {
        if (!connection) return;
        const { network } = connection.admission;
        if (network && this.stalled(network)) return void socket.pause();
        const trouble = this.overLimits(connection, packet);
        if (trouble) return connection.refuse(trouble);
        if (packet.kind !== 'script') this.pass(connection, packet);
      },
      gone: () => {
        this.sockets.delete(socket);
        if (connection) this.leave(connection);
      },
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
    for (const bytes of [flvHead(), ...connection.heads.values()]) {
      this.listener?.bytes(connection.admission, bytes, { picture: false, dtsMs: 0 });
    }
  }

  private pass(connection: Connection, packet: RtmpPacket): void {
    const picture = packet.kind === 'video' && !packet.configuration;
    const flv = flvOf(packet);
    if (packet.kind === 'video' ? packet.configuration : !connection.heads.has('audio')) connection.heads.set(packet.kind, flv);
    if (this.byEvent.get(connection.admission.eventId) !== connection) return;
    if (picture) connection.lastPictureAt = Date.now();
    this.listener?.bytes(connection.admission, flv, { picture, dtsMs: packet.timeMs });
  }

  /** What is wrong with a picture by the network's rules: its lines as the encoder says them, its rate as it arrives. */
  private overLimits(connection: Connection, packet: RtmpPacket): string | null {
    const { admission, rate } = connection;
    if (packet.kind === 'script') {
      const height = Number(factsOf(packet)?.height);
      if (height > admission.maxHeight) return `Pictures have ${admission.maxHeight} lines at most here; this one has ${height}.`;
      return null;
    }
    if (packet.kind !== 'video') return null;
    rate.bytes += packet.data.length;
    const forMs = Date.now() - rate.since;
    if (forMs < RATE_OVER_MS) return null;
    const kbps = (rate.bytes * 8) / forMs;
    connection.rate = { since: Date.now(), bytes: 0 };
    if (kbps > admission.maxKbps * RATE_TOLERANCE) return `Pictures may have ${admission.maxKbps} kbit/s here; this one has ${Math.round(kbps)}.`;
    return null;
  }
}
