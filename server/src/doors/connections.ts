// Keeps strangers from holding the server's connections: so many in all, so many for each address.
import type { Server } from 'node:http';
import type { Socket } from 'node:net';
import { addressBlock, type TrustedProxies } from '../foundation/visitor-address';

const MOST_IN_ALL = 20_000;
/** Requests that are not whole by then are hung up on; films have a limit of their own. */
const HEADERS_MAY_TAKE_MS = 20_000;

export function guardConnections(server: Server, proxies: TrustedProxies, mostPerAddress: number): void {
  server.maxConnections = MOST_IN_ALL;
  server.headersTimeout = HEADERS_MAY_TAKE_MS;
  // A film on a slow line takes as long as it takes; that it goes on coming is looked at where it is taken.
  server.requestTimeout = 0;
  const open = new Map<string, number>();
  server.on('connection', (socket: Socket) => {
    const address = socket.remoteAddress ?? '';
    // A proxy speaks for many.
    if (proxies.has(address)) return;
    const block = addressBlock(address);
    const count = (open.get(block) ?? 0) + 1;
    if (count > mostPerAddress) return void socket.destroy();
    open.set(block, count);
    socket.once('close', () => {
      const left = (open.get(block) ?? 1) - 1;
      if (left > 0) open.set(block, left);
      else open.delete(block);
    });
  });
}
