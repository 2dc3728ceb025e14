// A relay for guests, as README says to set one up: Debian's coturn, with a shared secret.
import { spawn, type ChildProcess } from 'node:child_process';
import { createSocket } from 'node:dgram';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const SECRET = 'shared-with-the-relay';

export class Relay {
  private child: ChildProcess | null = null;
  /** All that it has said. */
  said = '';

  private constructor(private readonly port: number) {}

  static async start(): Promise<Relay> {
    const relay = new Relay(await freeUdpPort());
    await relay.begin();
    return relay;
  }

  /** What a product is started with so that guests come by this relay and by no other way. */
  get env(): NodeJS.ProcessEnv {
    return { LANTERN_TURN: `turn:127.0.0.1:${this.port}?transport=udp`, LANTERN_TURN_SECRET: SECRET, LANTERN_RELAY_ONLY: 'yes' };
  }

  async begin(): Promise<void> {
    const here = ['--listening-ip', '127.0.0.1', '--relay-ip', '127.0.0.1', '--listening-port', String(this.port), '--allow-loopback-peers'];
    const quiet = ['--no-cli', '--no-tls', '--no-dtls', '--no-rfc5780', '--log-file', 'stdout', '--simple-log', '--verbose'];
    const who = ['--use-auth-secret', '--static-auth-secret', SECRET, '--realm', 'alderfell.example'];
    const folder = mkdtempSync(join(tmpdir(), 'lantern-relay-'));
    const files = ['--pidfile', join(folder, 'pid'), '--userdb', join(folder, 'users'), '-n'];
    const child = spawn(process.env.TURNSERVER_PATH ?? 'turnserver', [...here, ...who, ...quiet, ...files], { cwd: folder });
    this.child = child;
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (data) => (this.said += String(data)));
    for (let tries = 0; tries < 100 && !/listener opened on/i.test(this.said); tries++) await new Promise((next) => setTimeout(next, 100));
    if (!/listener opened on/i.test(this.said)) throw new Error(`the relay did not begin: ${this.said.slice(-500)}`);
  }

  async stop(): Promise<void> {
    const { child } = this;
    this.child = null;
    if (!child || child.exitCode !== null) return;
    const gone = new Promise((done) => child.once('exit', done));
    child.kill('SIGKILL');
    await gone;
  }
}

function freeUdpPort(): Promise<number> {
  return new Promise((found) => {
    const socket = createSocket('udp4').bind(0, '127.0.0.1', () => {
      const { port } = socket.address();
      socket.close(() => found(port));
    });
  });
}
