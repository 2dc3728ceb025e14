// What all the networks' interfaces do before and after each request: troubles on demand.
import { Injectable, type CallHandler, type ExecutionContext, type NestInterceptor } from '@nestjs/common';
import { ApiBody } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import { EMPTY, mergeMap, NEVER, type Observable } from 'rxjs';
import { Faults } from './faults';
import { networkOfPath, Refusal } from './refusal';
import { Visits } from './visits';

const SLOW_MS = 4_000;

/** Names the request class of a handler in the published description. */
export const bodyOf = (name: string) => ApiBody({ schema: { $ref: `#/components/schemas/${name}` } });

@Injectable()
export class TroubleInterceptor implements NestInterceptor {
  constructor(
    private readonly faults: Faults,
    private readonly visits: Visits,
  ) {}

  async intercept(context: ExecutionContext, next: CallHandler): Promise<Observable<unknown>> {
    const request = context.switchToHttp().getRequest<Request>();
    const response = context.switchToHttp().getResponse<Response>();
    if (request.method !== 'GET') this.visits.changes += 1;
    const fault = this.faults.of(networkOfPath(request.path)!);
    switch (fault) {
      case 'down':
        throw new Refusal(503, 'unavailable', 'Not available.');
      case 'broken':
        throw new Refusal(500, 'our-mistake', 'Something went wrong here.');
      case 'busy':
        if (this.faults.firstTry(`${request.method} ${request.path}`)) throw new Refusal(429, 'busy', 'Too many requests.', { 'retry-after': '1' });
        return next.handle();
      case 'busy-unsaid':
        throw new Refusal(429, 'busy', 'Too many requests.');
      case 'silent':
        return NEVER;
      case 'page':
        response.status(200).type('html').send('<!doctype html><title>Welcome</title><p>Welcome.');
        return EMPTY;
      case 'empty':
        response.status(200).json({});
        return EMPTY;
      case 'wrong-shape':
        return next.handle().pipe(
          mergeMap((body: unknown) => {
            response.status(200).json(ofAnotherKind(body ?? {}));
            return EMPTY;
          }),
        );
      case 'half':
        response.status(200).set({ 'content-type': 'application/json', 'content-length': '400' });
        response.write('{"items":[{');
        response.socket?.end();
        return EMPTY;
      case 'slow':
        await new Promise((done) => setTimeout(done, SLOW_MS));
        return next.handle();
      case 'lose-answer':
        if (request.method === 'GET') return next.handle();
        return next.handle().pipe(
          mergeMap(async () => {
            response.socket?.destroy();
            throw new Refusal(500, 'lost', 'The answer was lost.');
          }),
        );
      default:
        return next.handle();
    }
  }
}

/** The same fields, none of them what it should be. */
function ofAnotherKind(value: unknown): unknown {
  if (typeof value === 'string') return value.length;
  if (typeof value === 'number') return `${value}`;
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (value === null) return [];
  if (Array.isArray(value)) return value.length ? value.map(ofAnotherKind) : null;
  return Object.fromEntries(Object.entries(value as object).map(([name, each]) => [name, ofAnotherKind(each)]));
}
