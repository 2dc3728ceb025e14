// How the HTTP server is set up: protective headers, bodies, and the built pages.
import { NOW_HEADER } from '@lantern/contract';
import compression from 'compression';
import type { NestExpressApplication } from '@nestjs/platform-express';
import type { NextFunction, Request, Response } from 'express';
import helmet from 'helmet';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { bodies } from './doors/bodies';
import { onlyOurHosts } from './doors/hosts';
import { Clock } from './foundation/clock';
import type { Settings } from './foundation/settings';
import { PeopleService } from './people/people.service';

export function configureHttp(app: NestExpressApplication, settings: Settings): void {
  app.disable('x-powered-by');
  app.use(onlyOurHosts(settings.publicUrl));
  const { host } = new URL(settings.publicUrl);
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          defaultSrc: ["'self'"],
          imgSrc: ["'self'", 'data:', 'blob:', new URL(settings.networksUrl).origin],
          mediaSrc: ["'self'", 'blob:'],
          workerSrc: ["'self'", 'blob:'],
          styleSrc: ["'self'", "'unsafe-inline'"], // React-Bootstrap places popovers with style attributes
          // Older browsers do not take a socket of the same origin for `self`.
          // Nor is another port of the host `self`: there stages connect.
          connectSrc: ["'self'", `ws://${host}`, `wss://${host}`, (request) => airSources(request as Request, settings)],
          frameAncestors: ["'self'"],
          upgradeInsecureRequests: settings.publicUrl.startsWith('https:') ? [] : null,
        },
      },
      strictTransportSecurity: settings.publicUrl.startsWith('https:'),
      crossOriginEmbedderPolicy: false,
      // Forms of our own pages must be known as such: without any referrer browsers send them as from nowhere.
      referrerPolicy: { policy: 'same-origin' },
    }),
  );
  app.use((_request: Request, response: Response, next: NextFunction) => {
    response.setHeader(
      'permissions-policy',
      'camera=(self), microphone=(self), fullscreen=(self), autoplay=(self), geolocation=(), payment=(), usb=(), serial=(), bluetooth=()',
    );
    next();
  });
  // Pages and answers, not streams: each message of a stream must go out at once. Media are compressed already.
  app.use(
    compression({
      filter: (request, response) =>
        !/event-stream|video|image\/(jpeg|png)/.test(String(response.getHeader('content-type'))) && compression.filter(request, response),
    }),
  );
  // Browsers go by this clock: their own may be wrong.
  const clock = app.get(Clock);
  app.use('/api', (_request: Request, response: Response, next: NextFunction) => {
    response.setHeader(NOW_HEADER, String(clock.now()));
    // Unless a handler knows better.
    response.setHeader('cache-control', 'no-store');
    next();
  });
  for (const handler of bodies(app.get(PeopleService))) app.use(handler);
  servePages(app, settings);
}

/** Where a page may connect its stage and fetch its picture, as sources of its policy. */
function airSources({ headers }: Request, { airUrl, airPort, publicUrl }: Settings): string {
  const host = (headers.host ?? '').replace(/:\d*$/, '');
  const scheme = publicUrl.startsWith('https:') ? 'wss' : 'ws';
  const stages = airUrl ? airUrl.replace(/^http/, 'ws') : `${scheme}://${host}:${airPort}`;
  return `${stages} ${stages.replace(/^ws/, 'http')}`;
}

/** The built pages. Every address that is neither a file nor part of the interface is the application's. */
function servePages(app: NestExpressApplication, settings: Settings): void {
  const index = join(settings.webDir, 'index.html');
  app.useStaticAssets(join(settings.webDir, 'assets'), { prefix: '/assets/', immutable: true, maxAge: '1y' });
  app.useStaticAssets(settings.webDir, { index: false });
  app.use((request: Request, response: Response, next: NextFunction) => {
    const page = (request.method === 'GET' || request.method === 'HEAD') && !/^\/(api|health|calendar|on|s|embed|at|oembed|reminders)(\/|$)/.test(request.path);
    if (!page || !existsSync(index)) return next();
    response.setHeader('cache-control', 'no-cache');
    response.sendFile(index);
  });
}
