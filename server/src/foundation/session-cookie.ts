// How a browser shows whose it is, and where it comes from.
import type { IncomingMessage } from 'node:http';

export const SESSION_COOKIE = 'lantern_session';

export function sessionToken(request: IncomingMessage): string | undefined {
  return new RegExp(`(?:^|;\\s*)${SESSION_COOKIE}=([^;]+)`).exec(request.headers.cookie ?? '')?.[1];
}

/** Whether a request that changes something comes from our own pages: browsers name their origin on all such requests. */
export function fromOwnPages(request: IncomingMessage): boolean {
  const origin = request.headers.origin;
  return origin === undefined || (URL.canParse(origin) && new URL(origin).host === request.headers.host);
}

/** The same where pages are served at another port of the same machine, or at the address that people were told. */
export function fromPagesBeside(request: IncomingMessage, publicUrl: string): boolean {
  const origin = request.headers.origin;
  if (origin === undefined || fromOwnPages(request)) return true;
  if (!URL.canParse(origin)) return false;
  const { hostname, port, protocol } = new URL(origin);
  const ours = new URL(publicUrl);
  if (port !== ours.port || protocol !== ours.protocol) return false;
  return hostname === ours.hostname || hostname === (request.headers.host ?? '').replace(/:\d*$/, '');
}
