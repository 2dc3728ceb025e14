// The far end of a rehearsal: what goes out is sent by the way that a show takes to a channel, by RTMP to a server that takes it and shows it to
// nobody, and is measured there.
import { NO_FACTS, OutsideMeasure, type OutsideFacts } from '@lantern/core';
import { readEncoder } from '@lantern/rtmp';
import { randomBytes } from 'node:crypto';
import { createServer, type Server, type Socket } from 'node:net';
import { performance } from 'node:perf_hooks';
import { letGo } from '../foundation/let-go';
import type { Programme } from '../media/programme';
import { Relay } from '../media/relay';

/** Nothing for so long, and it does not arrive, in ms. */
const SILENT_MS = 3_000;
const APP = 'rehearsal';

export class FarEnd {
  private readonly key = randomBytes(18).toString('base64url');
  private readonly relay: Relay;
  private readonly server: Server;
  private readonly sockets = new Set<Socket>();
  private readonly listening: Promise<void>;
  private measure = new OutsideMeasure();
  private lastAt = -Infinity;
  private stopped = false;

  constructor(name: string, ffmpeg: string, programme: Programme, now: () => number, changed: () => void) {
    // Nobody but this machine comes near it, and only what is sent from here is let in.
    this.server = createServer((socket) => this.accept(socket));
    this.listening = new Promise((done, failed) => this.server.once('error', failed).listen(0, '127.0.0.1', done));
    this.relay = new Relay({
      name: `far end ${name.slice(0, 8)}`,
      ffmpeg,
      programme,
      privateTargets: true,
      line: async () => {
        await this.listening;
        const { port } = this.server.address() as { port: number };
        return { address: `rtmp://127.0.0.1:${port}/${APP}`, key: this.key };
      },
      wordsOf: (error) => (error instanceof Error ? error.message : String(error)),
      now: now as never,
      onChange: changed,
    });
    // Where no port can be had the rehearsal goes on without: it is said that nothing arrives.
    letGo(
      'the far end of a rehearsal',
      this.listening.then(() => !this.stopped && this.relay.start()),
    );
  }

  /** What has arrived; null: nothing yet. */
  get arriving(): { facts: OutsideFacts; arrives: boolean } | null {
    const { facts } = this.measure;
    return facts === NO_FACTS ? null : { facts, arrives: performance.now() - this.lastAt < SILENT_MS };
  }

  async stop(): Promise<void> {
    this.stopped = true;
    await this.relay.stop();
    this.server.close();
    for (const socket of this.sockets) socket.destroy();
  }

  private accept(socket: Socket): void {
    this.sockets.add(socket);
    readEncoder(socket, {
      admit: (app, key) => Promise.resolve(app === APP && key === this.key ? null : 'This is no place to send to.'),
      begins: () => (this.measure = new OutsideMeasure()),
      packet: ({ kind, timeMs, data }) => {
        if (kind === 'script') return;
        this.lastAt = performance.now();
        this.measure.note({ kind, timestampMs: timeMs, data }, this.lastAt);
      },
      gone: () => this.sockets.delete(socket),
    });
  }
}
