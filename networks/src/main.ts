// Starts the stand-in networks: one process, apart from the product.
import 'reflect-metadata';
import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { DocumentBuilder, SwaggerModule } from '@nestjs/swagger';
import '@lantern/contract/network-http';
import { validationMetadatasToSchemas } from 'class-validator-jsonschema';
import type { Request, Response } from 'express';
import { AppModule } from './app.module';
import { configureHttp } from './http';
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
  const description = SwaggerModule.createDocument(app, new DocumentBuilder().setTitle('Stand-in networks').setVersion('1').addBearerAuth().build());
  description.components = { ...description.components, schemas: { ...description.components?.schemas, ...(validationMetadatasToSchemas() as object) } };
  app.use('/openapi.json', (_request: Request, response: Response) => void response.json(description));
  await app.listen(settings.httpPort, '127.0.0.1');
  process.send?.('ready');
}

main().catch((error: NodeJS.ErrnoException & { port?: number }) => {
  const setting = error.port === Number(process.env.LANTERN_NETWORKS_RTMP_PORT ?? 4735) ? 'LANTERN_NETWORKS_RTMP_PORT' : 'LANTERN_NETWORKS_PORT';
  console.error(error.code === 'EADDRINUSE' ? `Port ${error.port} is in use. Set ${setting} to another number.` : error);
  process.exit(1);
});
