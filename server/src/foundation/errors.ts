// Errors that people may see, and the one filter that turns every error into a reply.
import type { ErrorReply } from '@lantern/contract';
import { REFUSALS, sayRefusal, type RefusalCode, type RefusalFacts } from '@lantern/core';
import { type ArgumentsHost, BadRequestException, Catch, type ExceptionFilter, HttpException, Logger } from '@nestjs/common';
import type { ValidationError } from 'class-validator';
import type { Response } from 'express';

/** A refusal of ours: `words` name the thing, the reason and the way out. */
export class PlainError extends Error {
  constructor(
    readonly status: number,
    readonly words: string,
    readonly more: Omit<ErrorReply, 'words'> = {},
  ) {
    super(words);
  }
}

/** A refusal that has a code: its words stand in core, with those of its part of the job. */
export class Refused<Code extends RefusalCode> extends PlainError {
  constructor(code: Code, ...[facts]: RefusalFacts<Code> extends void ? [] : [RefusalFacts<Code>]) {
    super(REFUSALS[code].status, sayRefusal(code, facts as RefusalFacts<Code>), { code, ...(facts !== undefined && { facts }) });
  }
}

/** A refusal of one field of a form. */
export class FieldRefusal extends PlainError {
  constructor(field: string, words: string, status = 422) {
    super(status, words, { fields: { [field]: words } });
  }
}

export const unknownShow = () => new PlainError(404, 'There is no such show at your station. It may have been removed.');

/** Input that broke the rules of its class, with the first message of each field. */
export class FieldError extends BadRequestException {
  readonly fields: Record<string, string>;

  constructor(errors: ValidationError[]) {
    const fields = Object.fromEntries(errors.map((error) => [error.property, firstMessage(error)]));
    super(Object.values(fields)[0] ?? 'This cannot be used.');
    this.fields = fields;
  }
}

/** What a value is comes before what it says: null is not “too long”. In our words where the library's own would be shown. */
const KIND_WORDS: Record<string, string> = {
  isString: 'This has to be text.',
  isArray: 'This has to be a list.',
  isInt: 'This has to be a whole number.',
  isNumber: 'This has to be a number.',
  isBoolean: 'This has to be yes or no.',
  isObject: 'Something is missing here. Reload the page and try again.',
};

/** Of the field itself or, where it is made of parts, of the first part that is wrong. */
export function firstMessage({ constraints = {}, children }: ValidationError): string {
  const kind = Object.keys(KIND_WORDS).find((name) => name in constraints);
  if (kind) return /^[a-z]\w* must be |^each value in /.test(constraints[kind]!) ? KIND_WORDS[kind]! : constraints[kind]!;
  const own = Object.values(constraints)[0];
  return own ?? (children?.length ? firstMessage(children[0]!) : 'This cannot be used.');
}

@Catch()
export class ErrorFilter implements ExceptionFilter {
  private readonly log = new Logger('errors');

  catch(error: unknown, host: ArgumentsHost): void {
    const response = host.switchToHttp().getResponse<Response>();
    if (response.headersSent) return void response.end();
    if (error instanceof PlainError) {
      response.status(error.status).json({ words: error.words, ...error.more } satisfies ErrorReply);
    } else if (error instanceof FieldError) {
      response.status(400).json({ words: error.message, fields: error.fields } satisfies ErrorReply);
    } else if (error instanceof HttpException) {
      response.status(error.getStatus()).json({ words: wordsOfStatus(error) } satisfies ErrorReply);
    } else if (statusOf(error) !== null) {
      const status = statusOf(error)!;
      response.status(status).json({ words: status === 413 ? 'This is too large to send.' : 'This request cannot be read.' } satisfies ErrorReply);
    } else {
      this.log.error(error instanceof Error ? error.message : String(error), error instanceof Error ? error.stack : undefined);
      const { status, words } = storageTrouble(error) ?? { status: 500, words: 'Something went wrong here. Nothing you saved is lost; try again.' };
      response.status(status).json({ words } satisfies ErrorReply);
    }
  }
}

const STORAGE: Record<string, { status: number; words: string }> = {
  full: { status: 507, words: 'The disk of the server is full, so this was not kept. Free some room there, then try again.' },
  locked: { status: 503, words: 'Another program holds the server’s database, so this was not kept. Close that, then try again.' },
  'read-only': { status: 503, words: 'The server may not write where its data lies, so this was not kept. Give it the right to, then try again.' },
  failing: { status: 503, words: 'The disk of the server cannot be read or written, so this was not kept. Look after it, then try again.' },
};
/** Codes of the system and extended ones of SQLite by what they come to. */
const STORAGE_OF_CODE: [RegExp, keyof typeof STORAGE][] = [
  [/^(ENOSPC|EDQUOT|SQLITE_FULL)$/, 'full'],
  [/^SQLITE_(BUSY|LOCKED)/, 'locked'],
  [/^(EROFS|EACCES|EPERM|SQLITE_READONLY.*|SQLITE_CANTOPEN.*)$/, 'read-only'],
  [/^(EIO|SQLITE_IOERR.*|SQLITE_CORRUPT.*)$/, 'failing'],
];

/** What keeps the system or the database from writing; null: something else is wrong. The database's error may come wrapped in one of the query's. */
export function storageTrouble(error: unknown): { status: number; words: string } | null {
  const { code, driverError } = (error ?? {}) as { code?: unknown; driverError?: { code?: unknown } };
  const codes = [code, driverError?.code].filter((each) => typeof each === 'string');
  const kind = STORAGE_OF_CODE.find(([form]) => codes.some((each) => form.test(each)))?.[1];
  return kind === undefined ? null : STORAGE[kind]!;
}

/** The status of a request that could not even be read, as the parts that read requests tell it; null for all other errors. */
function statusOf(error: unknown): number | null {
  const status = (error as { status?: unknown } | null)?.status;
  return typeof status === 'number' && status >= 400 && status < 500 ? status : null;
}

function wordsOfStatus(error: HttpException): string {
  switch (error.getStatus()) {
    case 404:
      return 'There is nothing at this address.';
    case 413:
      return 'This is too large to send.';
    case 429:
      return 'Too many tries in a short time. Wait a minute and try again.';
    default:
      return error.message;
  }
}
