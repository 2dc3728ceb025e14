// The way from a relay's process to a service's ingest. The connection itself is made here and not by
// ffmpeg: names are looked up and certificates are checked by Node, and what goes wrong is known
// exactly. (ffmpeg checks no certificate by itself, and static builds of it cannot look up names.)
import { connect as connectTcp, createServer, isIP, type Server, type Socket } from 'node:net';
import { connect as connectTls } from 'node:tls';

const CONNECT_MAY_TAKE_MS = 8_000;
const PORTS: Record<string, number> = { 'rtmp:': 1935, 'rtmps:': 443 };

/** Could not be reached; the message says why in words that fit after "broke the connection:". */
export class Unreachable extends Error {
  constructor(
    message: string,
    /** Somebody answers there, but cannot prove who it is. */
    readonly certificate = false,
  ) {
    super(message);
  }
}

export class IngestTunnel {
  private constructor(
    private readonly server: Server,
    private readonly far: Socket,
    /** The address for the process: this machine, same application path. */
    readonly nearAddress: string,
  ) {}

  /** Connects to the ingest that `address` (rtmp or rtmps, without key) names. Throws Unreachable. */
  static async open(address: string): Promise<IngestTunnel> {
    const url = new URL(address.replace(/^rtmp/i, 'http'));
    const protocol = /^rtmps:/i.test(address) ? 'rtmps:' : 'rtmp:';
    const far = await reach(url.hostname.replace(/^\[|\]$/g, ''), Number(url.port || PORTS[protocol]), protocol === 'rtmps:');
    const server = createServer((near) => {
      server.close(); // One process, one connection.
      near.pipe(far).pipe(near);
      const end = () => {
        near.destroy();
        far.destroy();
      };
      near.on('error', end).on('close', end);
      far.on('close', end);
    });
    await new Promise<void>((listening) => server.listen(0, '127.0.0.1', listening));
    const { port } = server.address() as { port: number };
    return new IngestTunnel(server, far, `rtmp://127.0.0.1:${port}${url.pathname}`);
  }

  close(): void {
    this.server.close();
    this.far.destroy();
  }
}

function reach(host: string, port: number, secure: boolean): Promise<Socket> {
  return new Promise((resolve, reject) => {
    const socket = secure ? connectTls({ host, port, ...(isIP(host) ? {} : { servername: host }) }) : connectTcp({ host, port });
    const fail = (words: string, certificate = false) => {
      socket.destroy();
      reject(new Unreachable(words, certificate));
    };
    const timer = setTimeout(() => fail('it did not answer in time'), CONNECT_MAY_TAKE_MS);
    socket.once(secure ? 'secureConnect' : 'connect', () => {
      clearTimeout(timer);
      socket.removeAllListeners('error');
      socket.on('error', () => undefined); // The end of the connection is told by `close`.
      socket.setNoDelay(true);
      resolve(socket);
    });
    socket.once('error', (error: NodeJS.ErrnoException) => {
      clearTimeout(timer);
      fail(reasonOf(error), isCertificateTrouble(error));
    });
  });
}

function reasonOf({ code = '', message }: NodeJS.ErrnoException): string {
  if (code === 'ECONNREFUSED') return 'nobody answers at its address';
  if (code === 'ENOTFOUND' || code === 'EAI_AGAIN') return 'its address cannot be found';
  if (code === 'ETIMEDOUT' || code === 'EHOSTUNREACH' || code === 'ENETUNREACH') return 'its address cannot be reached';
  if (isCertificateTrouble({ code })) return 'its certificate cannot be trusted';
  if (/SSL|TLS/.test(code) || /wrong version/i.test(message)) return 'it does not speak a secure connection at this address';
  return 'it hung up';
}

const isCertificateTrouble = ({ code = '' }: { code?: string | undefined }): boolean => /CERT|ALTNAME|SELF_SIGNED|VERIFY/.test(code);
