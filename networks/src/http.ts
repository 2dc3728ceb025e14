// How the stand-ins take requests: pictures as bytes or in JSON, checked by the published classes, which
// also describe their interfaces (OpenAPI 3).
import '@lantern/contract/network-http';
import { ValidationPipe } from '@nestjs/common';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { DocumentBuilder, SwaggerModule } from '@nestjs/swagger';
import { defaultMetadataStorage } from 'class-transformer/cjs/storage';
import { validationMetadatasToSchemas } from 'class-validator-jsonschema';
import { raw, type Request, type Response } from 'express';
import { RefusalFilter } from './kit/refusal';

const LARGEST_BODY = '20mb';

export function configureHttp(app: NestExpressApplication): void {
  app.useBodyParser('json', { limit: LARGEST_BODY });
  app.use(raw({ type: ['image/*', 'application/octet-stream'], limit: LARGEST_BODY }));
  app.useGlobalPipes(new ValidationPipe({ whitelist: true }));
  app.useGlobalFilters(new RefusalFilter());
}

/** The description of all interfaces, at /openapi.json. */
export function serveDescription(app: NestExpressApplication): void {
  const description = SwaggerModule.createDocument(app, new DocumentBuilder().setTitle('Stand-in networks').setVersion('1').addBearerAuth().build());
  const published = validationMetadatasToSchemas({
    refPointerPrefix: '#/components/schemas/',
    classTransformerMetadataStorage: defaultMetadataStorage,
  }) as object;
  description.components = { ...description.components, schemas: { ...description.components?.schemas, ...published } };
  app.use('/openapi.json', (_request: Request, response: Response) => void response.json(description));
}
