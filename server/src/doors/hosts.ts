// Which names the server answers to. A page of somebody else's whose name was made to point here (name rebinding)
// would otherwise speak to it as if it were one of its own.
import type { Request, Response, NextFunction } from 'express';

const LOOPBACK = new Set(['localhost', '127.0.0.1', '[::1]']);

/** Whether a request names us: by the address that people were told, or as this machine itself. */
export function isOurHost(host: string | undefined, publicUrl: string): boolean {
  if (!host || !/^[a-z0-9.\-[\]:]+$/i.test(host)) return false;
  const name = host.replace(/:\d*$/, '').toLowerCase();
  return LOOPBACK.has(name) || name === new URL(publicUrl).hostname.toLowerCase();
}

export function onlyOurHosts(publicUrl: string) {
  return (request: Request, response: Response, next: NextFunction): void => {
    if (isOurHost(request.headers.host, publicUrl)) return next();
    response.status(421).json({ words: `This server is not reached by that name. Use ${publicUrl}, or set LANTERN_URL to the address that people use.` });
  };
}
