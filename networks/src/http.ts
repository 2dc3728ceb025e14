// How the stand-ins take requests: pictures as bytes or in JSON, checked by the published classes.
import { ValidationPipe } from '@nestjs/common';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { raw } from 'express';
import { RefusalFilter } from './kit/refusal';

const LARGEST_BODY = '20mb';

export function configureHttp(app: NestExpressApplication): void {
  app.useBodyParser('json', { limit: LARGEST_BODY });
  app.use(raw({ type: ['image/*', 'application/octet-stream'], limit: LARGEST_BODY }));
  app.useGlobalPipes(new ValidationPipe({ whitelist: true }));
  app.useGlobalFilters(new RefusalFilter());
}
