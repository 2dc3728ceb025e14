// Starts the stand-in networks: one process, apart from the product.
import 'reflect-metadata';
import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { AppModule } from './app.module';
import { configureHttp, serveDescription } from './http';
import { SETTINGS, type Settings } from './kit/settings';

async function main(): Promise<void> {
  const app = await NestFactory.create<NestExpressApplication>(AppModule, {
    logger: ['error', 'warn', 'log'],
    abortOnError: false,
    forceCloseConnections: true,
  });
  const settings = app.get<Settings>(SETTINGS);
  configureHttp(app);
  app.enableShutdownHooks();
  serveDescription(app);
  await app.listen(settings.httpPort, '127.0.0.1');
  process.send?.('ready');
}

main().catch((error: NodeJS.ErrnoException & { port?: number }) => {
  const setting = error.port === Number(process.env.LANTERN_NETWORKS_RTMP_PORT ?? 4735) ? 'LANTERN_NETWORKS_RTMP_PORT' : 'LANTERN_NETWORKS_PORT';
  console.error(error.code === 'EADDRINUSE' ? `Port ${error.port} is in use. Set ${setting} to another number.` : error);
  process.exit(1);
});
