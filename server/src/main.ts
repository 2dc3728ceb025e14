// Starts the product: one HTTP server for pages, interface and the stage's socket.
import 'reflect-metadata';
import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { raw, type NextFunction, type Request, type Response } from 'express';
import helmet from 'helmet';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { THUMBNAIL_MAX_BYTES } from '@lantern/contract';
import { StageGateway } from './air/stage-gateway';
import { AppModule } from './app.module';
import { DemoStation } from './demo/demo-station';
import { StructuredLog } from './foundation/log';
import { SETTINGS, type Settings } from './foundation/settings';

async function main(): Promise<void> {
  const app = await NestFactory.create<NestExpressApplication>(AppModule, { logger: new StructuredLog(), abortOnError: false });
  const settings = app.get<Settings>(SETTINGS);
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
  // Anything but JSON is taken as bytes and looked at by its handler: a file that lies about its type is still a file.
  app.use(raw({ type: (request) => !/^application\/json/.test(request.headers['content-type'] ?? ''), limit: THUMBNAIL_MAX_BYTES + 100_000 }));
  servePages(app, settings);
  app.enableShutdownHooks();
  if (settings.demo) await app.get(DemoStation).make();
  await app.listen(settings.port, settings.host);
  app.get(StageGateway).attach(app.getHttpServer());
  process.send?.('ready');
}

/** The built pages. Every address that is neither a file nor part of the interface is the application's. */
function servePages(app: NestExpressApplication, settings: Settings): void {
  const index = join(settings.webDir, 'index.html');
  app.useStaticAssets(join(settings.webDir, 'assets'), { prefix: '/assets/', immutable: true, maxAge: '1y' });
  app.useStaticAssets(settings.webDir, { index: false });
  app.use((request: Request, response: Response, next: NextFunction) => {
    const page = (request.method === 'GET' || request.method === 'HEAD') && !/^\/(api|health)(\/|$)/.test(request.path);
    if (!page || !existsSync(index)) return next();
    response.setHeader('cache-control', 'no-cache');
    response.sendFile(index);
  });
}

main().catch((error: NodeJS.ErrnoException & { port?: number }) => {
  console.error(error.code === 'EADDRINUSE' ? `Port ${error.port} is in use. Set LANTERN_PORT to another number.` : error);
  process.exit(1);
});
