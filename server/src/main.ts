// Starts the planning server: pages and interface over HTTP. The air process beside it carries what is on air (carrier/main.ts).
import 'reflect-metadata';
import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import type { Server } from 'node:http';
import { AppModule } from './app.module';
import { guardConnections } from './doors/connections';
import { DemoStation } from './demo/demo-station';
import { StructuredLog } from './foundation/log';
import { SETTINGS, type Settings } from './foundation/settings';
import { Faults } from './foundation/faults';
import { configureHttp } from './http';
import { PeopleService } from './people/people.service';

async function main(): Promise<void> {
  // Whatever is written from now on is for the owner of this process alone.
  process.umask(0o077);
  const app = await NestFactory.create<NestExpressApplication>(AppModule, {
    logger: new StructuredLog(),
    abortOnError: false,
    bodyParser: false,
    forceCloseConnections: true,
  });
  const settings = app.get<Settings>(SETTINGS);
  app.get(Faults).watch();
  configureHttp(app, settings);
  app.enableShutdownHooks();
  if (settings.demo) await app.get(DemoStation).make();
  await app.init();
  const server = app.getHttpServer() as Server;
  guardConnections(server, settings.proxies, settings.connectionsPerAddress);
  await app.listen(settings.port, settings.host);
  const people = app.get(PeopleService);
  const setUpCode = (await people.setUpNeeded()) ? people.setUpCode : null;
  process.send?.({ ready: true, setUpCode });
  // Started by hand, nobody else tells the code.
  if (setUpCode && !process.send) console.log(`The code for setting up: ${setUpCode}`);
}

main().catch((error: NodeJS.ErrnoException & { port?: number }) => {
  console.error(error.code === 'EADDRINUSE' ? `Port ${error.port} is in use. Set LANTERN_PORT to another number.` : error);
  process.exit(1);
});
