// Outside lines as they come: RTMP and RTMPS from encoders and meetings, each by a key of ours. What comes is measured, made anew where it
// has to be, and handed on as a source.
import { isKeyFrame, isSequenceHeader, OUTSIDE_REFUSALS, OutsideMeasure, reasonsToNormalise, type FlvTag, type OutsideFacts } from '@lantern/core';
import { flvHead, flvOf, readEncoder, type Encoder, type RtmpPacket } from '@lantern/rtmp';
import { Logger } from '@nestjs/common';
import { readFileSync } from 'node:fs';
import { createServer, type Server, type Socket } from 'node:net';
import { performance } from 'node:perf_hooks';
import { createServer as createSecureServer } from 'node:tls';
import { WireTrouble } from '../air-wire/wire';
import type { OutsideOwner } from '../air-wire/messages';
import { digestOf } from '../foundation/digest';
import type { Settings } from '../foundation/settings';
import type { Desk } from './desk';
import { Normaliser } from './normaliser';

const APP = 'in';
const MOST_CONNECTIONS = 64;
/** Nothing for so long, and an encoder is taken for gone, in ms. */
const SILENT_IS_GONE_MS = 20_000;
const LOOK_EVERY_MS = 2_000;
/** A normaliser that dies is begun anew so much later, in ms. */
const AGAIN_AFTER_MS = 1_000;
/** While the planning server is away, a key that it vouched for is good for so long. */
const VOUCHED_FOR_MS = 30 * 60_000;

/** One connection of an encoder, as it is handed on: `heads` are its configuration as known now. */
export interface OutsideFeed {
  readonly lineId: string;
  readonly stationId: string;
  heads(): readonly FlvTag[];
}

export interface OutsideListener {
  /** One tag of a feed; a feed whose `heads` are others from now on is another feed. */
  tag(feed: OutsideFeed, tag: FlvTag): void;
  gone(feed: OutsideFeed): void;
  /** One tag for the stages on which a line stands: as it comes, where browsers read it. */
  seen(feed: OutsideFeed, tag: FlvTag): void;
  /** Whether a line is in a programme, or meant to be; or stands on a stage, though browsers cannot read what comes (`unread`). */
  wanted(lineId: string, unread: boolean): boolean;
}

export interface Arriving {
  lineId: string;
  stationId: string;
  name: string;
  facts: OutsideFacts;
  normalised: boolean;
}

class Feed implements OutsideFeed {
  private readonly known = new Map<FlvTag['kind'], FlvTag>();
  constructor(
    readonly lineId: string,
    readonly stationId: string,
  ) {}

  heads(): readonly FlvTag[] {
    return [...this.known.values()];
  }

  note(tag: FlvTag): void {
    if (tag.kind !== 'script' && isSequenceHeader(tag)) this.known.set(tag.kind, tag);
  }
}

/** What comes from one encoder, from its first packet on. */
class Connection {
  private readonly measure = new OutsideMeasure();
  private readonly raw: Feed;
  private made: { normaliser: Normaliser; feed: Feed } | null = null;
  private waitsUntil = 0;
  lastAt = performance.now();

  constructor(
    readonly owner: OutsideOwner,
    readonly encoder: Encoder,
    private readonly ffmpeg: string,
    private readonly listener: () => OutsideListener | null,
  ) {
    this.raw = new Feed(owner.lineId, owner.stationId);
  }

  get arriving(): Arriving {
    const { lineId, stationId, name } = this.owner;
    return { lineId, stationId, name, facts: this.measure.facts, normalised: reasonsToNormalise(this.measure.facts).length > 0 };
  }

  /** Stages take pictures of any shape and rate, and no other codecs than these. */
  private get isUnread(): boolean {
    const { video, audio } = this.measure.facts;
    return (video !== null && video !== 'H.264') || (audio !== null && audio !== 'AAC');
  }

  take(packet: RtmpPacket): void {
    const now = performance.now();
    this.lastAt = now;
    if (packet.kind === 'script') return;
    const tag: FlvTag = { kind: packet.kind, timestampMs: packet.timeMs, data: Uint8Array.from(packet.data) };
    this.measure.note(tag, now);
    this.raw.note(tag);
    if (!this.isUnread) this.listener()?.seen(this.raw, tag);
    if (this.isMadeAnew(tag, now)) this.made!.normaliser.write(flvOf(packet));
    else if (!this.arriving.normalised) this.hand(this.raw, tag);
    // Otherwise nobody wants it, or its process is on the way: what cannot go out as it comes is handed to nobody.
  }

  end(): void {
    this.listener()?.gone(this.raw);
    this.endMade();
  }

  /** Whether the tag goes through the normalising process, which is begun and ended as it is needed. */
  private isMadeAnew(tag: FlvTag, now: number): boolean {
    const needed = this.arriving.normalised && this.listener()?.wanted(this.owner.lineId, this.isUnread) === true;
    if (!needed) {
      this.endMade();
      return false;
    }
    if (this.made) return true;
    // From a key frame on, with its configuration first.
    const begins = (isKeyFrame(tag) || this.measure.facts.video !== 'H.264') && now >= this.waitsUntil;
    if (begins) this.begin();
    return begins;
  }

  private begin(): void {
    const feed = new Feed(this.owner.lineId, this.owner.stationId);
    const onTag = (tag: FlvTag) => {
      feed.note(tag);
      if (this.isUnread) this.listener()?.seen(feed, tag);
      this.hand(feed, tag);
    };
    const onGone = () => {
      if (this.made?.feed !== feed) return;
      this.made = null;
      this.waitsUntil = performance.now() + AGAIN_AFTER_MS;
      this.listener()?.gone(feed);
    };
    const normaliser = new Normaliser(this.owner.name, this.ffmpeg, onTag, onGone);
    normaliser.write(flvHead());
    for (const { kind, data } of this.raw.heads()) normaliser.write(flvOf({ kind, configuration: true, timeMs: 0, data: Buffer.from(data) }));
    this.made = { normaliser, feed };
    this.listener()?.gone(this.raw);
  }

  private endMade(): void {
    const { made } = this;
    this.made = null;
    if (!made) return;
    made.normaliser.stop();
    this.listener()?.gone(made.feed);
  }

  private hand(feed: Feed, tag: FlvTag): void {
    if (tag.kind !== 'script') this.listener()?.tag(feed, tag);
  }
}

export class OutsideLines {
  private readonly log = new Logger('outside lines');
  private readonly connections = new Map<string, Connection>();
  private readonly sockets = new Set<Socket>();
  private readonly servers: Server[] = [];
  private readonly vouched = new Map<string, { owner: OutsideOwner; at: number }>();
  private readonly timer: NodeJS.Timeout;
  listener: OutsideListener | null = null;

  constructor(
    private readonly settings: Settings,
    private readonly desk: Desk,
  ) {
    this.timer = setInterval(() => {
      for (const connection of this.connections.values()) if (performance.now() - connection.lastAt > SILENT_IS_GONE_MS) connection.encoder.hangUp();
      this.desk.tellArriving(this.arriving);
    }, LOOK_EVERY_MS);
  }

  /** Listens for encoders. Throws where a port is taken or a certificate cannot be read. */
  async listen(): Promise<void> {
    const { rtmpPort, rtmpHost, rtmpsPort, rtmpsCertificate, rtmpsKey } = this.settings;
    const plain = createServer((socket) => this.accept(socket));
    await listening(plain, rtmpPort, rtmpHost);
    this.servers.push(plain);
    if (rtmpsPort === null || !rtmpsCertificate || !rtmpsKey) return;
    const secure = createSecureServer({ cert: readFileSync(rtmpsCertificate), key: readFileSync(rtmpsKey) }, (socket) => this.accept(socket));
    secure.on('tlsClientError', () => undefined);
    await listening(secure, rtmpsPort, rtmpHost);
    this.servers.push(secure);
  }

  get port(): number {
    return (this.servers[0]!.address() as { port: number }).port;
  }

  get arriving(): Arriving[] {
    return [...this.connections.values()].map((connection) => connection.arriving);
  }

  /** The key of a line has been replaced, or the line is gone: whoever sends on it is hung up on. */
  closeLine(lineId: string): void {
    for (const [key, { owner }] of this.vouched) if (owner.lineId === lineId) this.vouched.delete(key);
    this.connections.get(lineId)?.encoder.hangUp();
  }

  close(): void {
    clearInterval(this.timer);
    for (const server of this.servers) server.close();
    for (const socket of this.sockets) socket.destroy();
  }

  private accept(socket: Socket): void {
    if (this.sockets.size >= MOST_CONNECTIONS) return void socket.destroy();
    this.sockets.add(socket);
    let owner: OutsideOwner | null = null;
    let connection: Connection | null = null;
    readEncoder(socket, {
      admit: async (app, key) => {
        const answer = await this.ownerOf(app, key);
        if (typeof answer === 'string') this.log.log(`refused an encoder: ${answer}`);
        else owner = answer;
        return typeof answer === 'string' ? answer : null;
      },
      begins: (encoder) => {
        // An encoder that returns after a broken line takes over from its own stale connection.
        this.connections.get(owner!.lineId)?.encoder.hangUp();
        connection = new Connection(owner!, encoder, this.settings.ffmpeg, () => this.listener);
        this.connections.set(owner!.lineId, connection);
        this.log.log(`an encoder sends on ${owner!.name}`);
      },
      packet: (packet) => connection?.take(packet),
      gone: () => {
        this.sockets.delete(socket);
        if (!connection) return;
        if (this.connections.get(connection.owner.lineId) === connection) this.connections.delete(connection.owner.lineId);
        connection.end();
      },
    });
  }

  /** Whose line a key is; a string is the reason for refusing it. */
  private async ownerOf(app: string, key: string): Promise<OutsideOwner | string> {
    if (app !== APP) return OUTSIDE_REFUSALS.app;
    const known = digestOf(key);
    try {
      const owner = await this.desk.outsideOwner(key);
      this.vouched.delete(known);
      if (!owner) return OUTSIDE_REFUSALS.unknown;
      this.vouched.set(known, { owner, at: Date.now() });
      return owner;
    } catch (error) {
      if (!(error instanceof WireTrouble)) throw error;
      const before = this.vouched.get(known);
      return before && Date.now() - before.at < VOUCHED_FOR_MS ? before.owner : OUTSIDE_REFUSALS.away;
    }
  }
}

function listening(server: Server, port: number, host: string): Promise<void> {
  return new Promise((done, failed) => server.once('error', failed).listen(port, host, done));
}
