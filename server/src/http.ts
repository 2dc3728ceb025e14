// How the HTTP server is set up: protective headers, bodies, and the built pages.
import { CALENDAR_MAX_BYTES, NOW_HEADER, THUMBNAIL_MAX_BYTES } from '@lantern/contract';
import compression from 'compression';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { json, raw, type NextFunction, type Request, type Response } from 'express';
import helmet from 'helmet';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { Clock } from './foundation/clock';
import type { Settings } from './foundation/settings';

/** A calendar of the largest size, or the longest texts for many channels, with what JSON adds to them. */
const JSON_MAX_BYTES = 2 * CALENDAR_MAX_BYTES + 100_000;

export function configureHttp(app: NestExpressApplication, settings: Settings): void {
  app.disable('x-powered-by');
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          defaultSrc: ["'self'"],
          imgSrc: ["'self'", 'data:', 'blob:', new URL(settings.networksUrl).origin],
          mediaSrc: ["'self'", 'blob:'],
          workerSrc: ["'self'", 'blob:'],
          styleSrc: ["'self'", "'unsafe-inline'"], // React-Bootstrap places popovers with style attributes
          connectSrc: ["'self'", 'ws:', 'wss:'],
          upgradeInsecureRequests: settings.publicUrl.startsWith('https:') ? [] : null,
        },
      },
      strictTransportSecurity: settings.publicUrl.startsWith('https:'),
      crossOriginEmbedderPolicy: false,
    }),
  );
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
    next();
  });
  app.use(json({ limit: JSON_MAX_BYTES }));
  // Anything but JSON is taken as bytes and looked at by its handler: a file that lies about its type is still a file.
  app.use(
    raw({
      // Films are taken as they come, and never held whole.
      type: (request) =>
        !/\/trailer$/.test(request.url?.split('?')[0] ?? '') &&
        !/^application\/json/.test(request.headers['content-type'] ?? '') &&
        request.headers['content-length'] !== '0',
      limit: THUMBNAIL_MAX_BYTES + 100_000,
    }),
  );
  // Nothing said is the same as an empty object: all of it may be left out, or its rules say what is missing.
  app.use((request: Request, _response: Response, next: NextFunction) => {
    request.body ??= {};
    next();
  });
  servePages(app, settings);
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
