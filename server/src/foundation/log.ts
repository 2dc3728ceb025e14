// Structured logs, one JSON object a line. What looks like a key, token or password is taken out
// before anything is written.
import type { LoggerService } from '@nestjs/common';
import { pino } from 'pino';

const SECRET_FIELDS = ['password', 'key', 'token', 'access', 'refresh', 'cookie', 'authorization', 'code', 'verifier'];

const logger = pino({
  level: process.env.LANTERN_LOG ?? 'info',
  redact: { paths: SECRET_FIELDS.flatMap((field) => [field, `*.${field}`]), censor: '…' },
});

/** Cuts the path off ingest addresses, and anything that stands after `key` or `token`. */
export function withoutSecrets(text: string): string {
  return text
    .replace(/(rtmps?:\/\/[^\s/'"]+\/[^\s/'"]+)\/[^\s'"]+/gi, '$1/…')
    .replace(/\b(key|token|password|playpath|authorization)(["']?\s*[=:]\s*["']?)[^\s"',}]+/gi, '$1$2…');
}

export class StructuredLog implements LoggerService {
  log(message: unknown, context?: string): void {
    logger.info({ context }, withoutSecrets(String(message)));
  }
  warn(message: unknown, context?: string): void {
    logger.warn({ context }, withoutSecrets(String(message)));
  }
  error(message: unknown, stack?: string, context?: string): void {
    logger.error({ context, stack: stack && withoutSecrets(stack) }, withoutSecrets(String(message)));
  }
  debug(message: unknown, context?: string): void {
    logger.debug({ context }, withoutSecrets(String(message)));
  }
}
