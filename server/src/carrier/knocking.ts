// Whoever wants a socket of this process knocks first: at an address that there is, on our host, from a page of ours, and not with very many at once.
import type { IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import { isOurHost } from '../doors/hosts';
import { fromPagesBeside } from '../foundation/session-cookie';
import type { Settings } from '../foundation/settings';
import { addressBlock, visitorAddress } from '../foundation/visitor-address';

export interface Knock {
  showId: string;
  /** From where, as addresses are counted. */
  block: string;
  refuse: (status: string) => void;
}

/** The address alone, whatever it is: one that is no URL at all throws nothing. */
export const pathOf = ({ url = '' }: Pick<IncomingMessage, 'url'>): string => url.split('?', 1)[0]!;

/** Null: refused already. `path` finds the show; `open` says how many there are from an address. */
export function knocked(request: IncomingMessage, socket: Duplex, path: RegExp, settings: Settings, open: (block: string) => number): Knock | null {
  // Said and hung up on: a socket that is merely ended stays open as long as the other side likes.
  const refuse = (status: string) => void socket.write(`HTTP/1.1 ${status}\r\nConnection: close\r\nContent-Length: 0\r\n\r\n`, () => socket.destroy());
  const refused = (status: string): null => {
    refuse(status);
    return null;
  };
  socket.on('error', () => socket.destroy());
  const showId = path.exec(pathOf(request))?.[1];
  if (!showId) return refused('404 Not Found');
  if (!isOurHost(request.headers.host, settings.publicUrl)) return refused('421 Misdirected Request');
  // Browsers let any page open a socket with our cookie, so the origin must be ours.
  if (!fromPagesBeside(request, settings.publicUrl)) return refused('403 Forbidden');
  const block = addressBlock(visitorAddress(request, settings.proxies));
  return open(block) >= settings.stagesPerAddress ? refused('429 Too Many Requests') : { showId, block, refuse };
}
