// Starts the product: one HTTP server for pages, interface and the stage's socket.
import 'reflect-metadata';
import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { StageGateway } from './air/stage-gateway';
import { AppModule } from './app.module';
import { DemoStation } from './demo/demo-station';
import { StructuredLog } from './foundation/log';
import { SETTINGS, type Settings } from './foundation/settings';
import { configureHttp } from './http';

async function main(): Promise<void> {
  const app = await NestFactory.create<NestExpressApplication>(AppModule, { logger: new StructuredLog(), abortOnError: false, forceCloseConnections: true });
  const settings = app.get<Settings>(SETTINGS);
  configureHttp(app, settings);
  app.enableShutdownHooks();
  if (settings.demo) await app.get(DemoStation).make();
  await app.listen(settings.port, settings.host);
  app.get(StageGateway).attach(app.getHttpServer());
  process.send?.('ready');
}

main().catch((error: NodeJS.ErrnoException & { port?: number }) => {
  console.error(error.code === 'EADDRINUSE' ? `Port ${error.port} is in use. Set LANTERN_PORT to another number.` : error);
  process.exit(1);
});
