// The way from a relay's process to a service's ingest. The connection itself is made here and not by
// ffmpeg: names are looked up and certificates are checked by Node, and what goes wrong is known
// exactly. (ffmpeg checks no certificate by itself, and static builds of it cannot look up names.)
import { lookup } from 'node:dns/promises';
import { BlockList, connect as connectTcp, createServer, isIP, type Server, type Socket } from 'node:net';
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
  static async open(address: string, privateTargets: boolean): Promise<IngestTunnel> {
    // Without an s, so that a port of its own is told apart from the usual one of either.
    const text = address.replace(/^rtmps?/i, 'http');
    if (!URL.canParse(text)) throw new Unreachable('its address cannot be read');
    const url = new URL(text);
    const protocol = /^rtmps:/i.test(address) ? 'rtmps:' : 'rtmp:';
    const host = url.hostname.replace(/^\[|\]$/g, '');
    const port = Number(/^[^/]*\/\/[^/]*:80(\/|$)/.test(text) ? 80 : url.port || PORTS[protocol]);
    const far = await reach(host, await lookUp(host, privateTargets), port, protocol === 'rtmps:');
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
    const near = server.address() as { port: number };
    return new IngestTunnel(server, far, `rtmp://127.0.0.1:${near.port}${url.pathname}`);
  }

  close(): void {
    this.server.close();
    this.far.destroy();
  }
}

/** Networks that are not the public's (RFC 6890): of this machine, of a house, of a link. */
const PRIVATE = new BlockList();
for (const [address, bits] of [
  ['0.0.0.0', 8],
  ['10.0.0.0', 8],
  ['100.64.0.0', 10],
  ['127.0.0.0', 8],
  ['169.254.0.0', 16],
  ['172.16.0.0', 12],
  ['192.0.0.0', 24],
  ['192.168.0.0', 16],
  ['198.18.0.0', 15],
  ['224.0.0.0', 3],
] as const)
  PRIVATE.addSubnet(address, bits, 'ipv4');
for (const [address, bits] of [
  ['::', 127],
  ['64:ff9b:1::', 48],
  ['fc00::', 7],
  ['fe80::', 10],
  ['ff00::', 8],
] as const)
  PRIVATE.addSubnet(address, bits, 'ipv6');

export function isPrivateAddress(address: string): boolean {
  const plain = address.replace(/^::ffff:(?=\d+\.)/i, '');
  return PRIVATE.check(plain, isIP(plain) === 6 ? 'ipv6' : 'ipv4');
}

/** The number of a name, looked up once: what was looked at is what is connected to, whatever the name says a moment later. */
async function lookUp(host: string, privateTargets: boolean): Promise<string> {
  const address = isIP(host)
    ? host
    : await lookup(host).then(
        (found) => found.address,
        (error: NodeJS.ErrnoException) => {
          throw new Unreachable(reasonOf(error));
        },
      );
  if (!privateTargets && isPrivateAddress(address)) throw new Unreachable('its address lies within a private network, where this server sends nothing');
  return address;
}

function reach(name: string, host: string, port: number, secure: boolean): Promise<Socket> {
  return new Promise((resolve, reject) => {
    const socket = secure ? connectTls({ host, port, ...(isIP(name) ? {} : { servername: name }) }) : connectTcp({ host, port });
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
