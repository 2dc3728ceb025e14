// Where a request comes from, for counting tries and connections.
import type { IncomingMessage } from 'node:http';
import { BlockList, isIP } from 'node:net';

/** Addresses of IPv6 are given out by the block of 2^64 (RFC 6177, section 2): whoever has one has all of its block. */
export function addressBlock(address: string): string {
  const plain = address.replace(/^::ffff:(?=\d+\.)/i, '').replace(/%.*$/, '');
  if (isIP(plain) !== 6) return plain;
  const [head = '', tail = ''] = plain.split('::');
  const before = head.split(':').filter(Boolean);
  const after = tail.split(':').filter(Boolean);
  const zeros = plain.includes('::') ? Array<string>(Math.max(0, 8 - before.length - after.length)).fill('0') : [];
  const groups = [...before, ...zeros, ...after].slice(0, 4).map((group) => parseInt(group, 16).toString(16));
  return `${groups.join(':')}::/64`;
}

/** Those that may say on whose behalf they ask: addresses, or blocks as 10.0.0.0/8, with commas between them. */
export class TrustedProxies {
  private readonly list = new BlockList();
  readonly some: boolean;

  /** Throws RangeError for what is no address. */
  constructor(text: string) {
    const entries = text
      .split(',')
      .map((entry) => entry.trim())
      .filter(Boolean);
    this.some = entries.length > 0;
    for (const entry of entries) {
      const [address = '', bits] = entry.split('/');
      const family = isIP(address) === 6 ? 'ipv6' : 'ipv4';
      const most = family === 'ipv6' ? 128 : 32;
      if (!isIP(address) || (bits !== undefined && !(Number(bits) >= 0 && Number(bits) <= most)))
        throw new RangeError(`LANTERN_TRUSTED_PROXIES: “${entry}” is no address.`);
      this.list.addSubnet(address, bits === undefined ? most : Number(bits), family);
    }
  }

  has(address: string): boolean {
    const plain = address.replace(/^::ffff:(?=\d+\.)/i, '');
    return this.some && isIP(plain) !== 0 && this.list.check(plain, isIP(plain) === 6 ? 'ipv6' : 'ipv4');
  }
}

/** The visitor's address: the connection's own or, behind trusted proxies, the last that those did not write themselves. */
export function visitorAddress(request: Pick<IncomingMessage, 'socket' | 'headers'>, proxies: TrustedProxies): string {
  let address = request.socket.remoteAddress ?? '';
  const forwarded = String(request.headers['x-forwarded-for'] ?? '')
    .split(',')
    .map((each) => each.trim());
  while (proxies.has(address)) {
    const next = forwarded.pop();
    if (!next || isIP(next) === 0) break;
    address = next;
  }
  return address;
}
