// A whole product of a test's own: server and stand-in networks as separate processes, with data,
// ports and clock that nobody else uses.
import { fork, type ChildProcess } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import ffmpegPackage from '@ffmpeg-installer/ffmpeg';
import type { NetworkId } from '@lantern/core';

const ROOT = resolve(__dirname, '..', '..');

export type Fault = 'none' | 'refuse' | 'stall' | 'slow' | 'down' | 'silent' | 'lose-answer';

export class Product {
  readonly folder = mkdtempSync(join(tmpdir(), 'lantern-journey-'));
  private readonly clockFile = join(this.folder, 'clock');
  private readonly output: string[] = [];
  /** What is asked for before the station is opened. */
  readonly setUpCode = 'journey-code-0001';
  private server: ChildProcess | null = null;
  private air: ChildProcess | null = null;
  private networks: ChildProcess | null = null;

  private constructor(
    private readonly ports: { http: number; air: number; ingest: number; networks: number; rtmp: number },
    private readonly extra: NodeJS.ProcessEnv,
  ) {}

  static async start(extra: NodeJS.ProcessEnv = {}): Promise<Product> {
    const [http, air, ingest, networks, rtmp] = await Promise.all([freePort(), freePort(), freePort(), freePort(), freePort()]);
    const product = new Product({ http: http!, air: air!, ingest: ingest!, networks: networks!, rtmp: rtmp! }, extra);
    writeFileSync(product.clockFile, '0');
    product.networks = await product.run('networks');
    await product.startAir();
    await product.startServer();
    return product;
  }

  get url(): string {
    return `http://localhost:${this.ports.http}`;
  }

  /** Of the air process. */
  get airUrl(): string {
    return `http://127.0.0.1:${this.ports.air}`;
  }

  get networksUrl(): string {
    return `http://localhost:${this.ports.networks}`;
  }

  get rtmpUrl(): string {
    return `rtmp://127.0.0.1:${this.ports.rtmp}`;
  }

  /** The planning server's process, for measuring. */
  get serverPid(): number {
    return this.server!.pid!;
  }

  /** The air process, for measuring. */
  get airPid(): number {
    return this.air!.pid!;
  }

  /** The mails in the outbox that stands in for a mail server, the last at the end, as they are read. */
  mails(): string[] {
    const outbox = join(this.folder, 'station', 'outbox');
    if (!existsSync(outbox)) return [];
    const files = readdirSync(outbox).filter((file) => file.endsWith('.eml'));
    return files.sort().map((file) => readFileSync(join(outbox, file), 'utf8').replace(/=\r\n/g, '').replace(/=3D/g, '='));
  }

  /** The first mail to somebody, once it has gone out. */
  async mailTo(address: string): Promise<string> {
    for (let tries = 0; tries < 300; tries++) {
      const found = this.mails().find((mail) => mail.includes(`To: ${address}`));
      if (found) return found;
      await new Promise((next) => setTimeout(next, 100));
    }
    throw new Error(`no mail to ${address}`);
  }

  /** The product's present, in ms since the epoch. */
  now(): number {
    return Date.now() + Number(readFileSync(this.clockFile, 'utf8'));
  }

  /** Brings both processes to the moment `epochMs`; time goes on from there. */
  travelTo(epochMs: number): void {
    writeFileSync(this.clockFile, String(Math.round(epochMs - Date.now())));
  }

  async startServer(): Promise<void> {
    this.server = await this.run('server');
  }

  async startAir(): Promise<void> {
    this.air = await this.run('air');
  }

  /** Ends the planning server as a power cut would: nothing is said, nothing is finished. */
  async killServer(): Promise<void> {
    const { server } = this;
    this.server = null;
    await kill(server);
  }

  /** The same for the air process. */
  async killAir(): Promise<void> {
    const { air } = this;
    this.air = null;
    await kill(air);
  }

  async setFault(network: NetworkId, fault: Fault): Promise<void> {
    await this.operate('faults', { network, fault });
  }

  /** Hangs up on every encoder of a network. */
  async dropPictures(network: NetworkId): Promise<void> {
    await this.operate('drop', { network });
  }

  /** Everything that both processes have printed. */
  get logs(): string {
    return this.output.join('');
  }

  /** What seals keys and tokens is gone; the next start makes a new one. */
  loseKeyFile(): void {
    rmSync(join(this.folder, 'station', 'vault.key'));
  }

  /** The files of the station's data and of the built pages that hold `text`. */
  filesWith(text: string): string[] {
    const station = join(this.folder, 'station');
    const pages = join(ROOT, 'web', 'dist');
    return [station, pages].flatMap((root) =>
      readdirSync(root, { recursive: true, encoding: 'utf8' })
        .map((name) => join(root, name))
        .filter((path) => statSync(path).isFile() && readFileSync(path).includes(text)),
    );
  }

  async stop(): Promise<void> {
    for (const child of [this.server, this.air, this.networks]) {
      if (!child || child.exitCode !== null) continue;
      const gone = new Promise((done) => child.once('exit', done));
      child.kill('SIGTERM');
      const timer = setTimeout(() => child.kill('SIGKILL'), 8_000);
      await gone;
      clearTimeout(timer);
    }
    rmSync(this.folder, { recursive: true, force: true });
  }

  /** What all stand-ins together have been asked to change, and the encoders that came to them. */
  async visits(): Promise<{ changes: number; encoders: number }> {
    return (await fetch(`${this.networksUrl}/operator/visits`)).json() as Promise<{ changes: number; encoders: number }>;
  }

  /** Does what the operator of the stand-ins can do by its page. */
  async operate(action: string, body: object): Promise<void> {
    const reply = await fetch(`${this.networksUrl}/operator/${action}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
      redirect: 'manual',
    });
    if (reply.status >= 400) throw new Error(`the stand-ins' operator refused ${action}: ${reply.status}`);
  }

  private run(which: keyof typeof PROGRAMS): Promise<ChildProcess> {
    const child = fork(join(ROOT, PROGRAMS[which]), [], {
      env: {
        ...process.env,
        NODE_ENV: 'production',
        LANTERN_PORT: String(this.ports.http),
        LANTERN_AIR_PORT: String(this.ports.air),
        LANTERN_RTMP_PORT: String(this.ports.ingest),
        LANTERN_NETWORKS_PORT: String(this.ports.networks),
        LANTERN_NETWORKS_RTMP_PORT: String(this.ports.rtmp),
        LANTERN_DATA: join(this.folder, 'station'),
        LANTERN_NETWORKS_DATA: join(this.folder, 'networks'),
        LANTERN_CLOCK_FILE: this.clockFile,
        LANTERN_SETUP_CODE: this.setUpCode,
        FFMPEG_PATH: process.env.FFMPEG_PATH ?? ffmpegPackage.path,
        ...this.extra,
      },
      stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
    });
    for (const stream of [child.stdout!, child.stderr!]) stream.on('data', (text) => this.output.push(String(text)));
    return new Promise((ready, failed) => {
      child.once('message', () => ready(child));
      child.once('exit', (code) => failed(new Error(`${which} ended with ${code}:\n${this.logs.slice(-2000)}`)));
    });
  }
}

const PROGRAMS = { server: 'server/dist/main.js', air: 'server/dist/carrier/main.js', networks: 'networks/dist/main.js' };

async function kill(child: ChildProcess | null): Promise<void> {
  if (!child) return;
  const gone = new Promise((done) => child.once('exit', done));
  child.kill('SIGKILL');
  await gone;
}

function freePort(): Promise<number> {
  return new Promise((resolvePort, failed) => {
    const probe = createServer();
    probe.once('error', failed).listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolvePort(port));
    });
  });
}
