// What both networks' interfaces do before and after each request: troubles on demand.
import { Injectable, type CallHandler, type ExecutionContext, type NestInterceptor } from '@nestjs/common';
import type { Request, Response } from 'express';
import { mergeMap, type Observable } from 'rxjs';
import type { Network } from './entities';
import { Faults } from './faults';
import { Refusal } from './refusal';

const SLOW_MS = 4_000;

@Injectable()
export class TroubleInterceptor implements NestInterceptor {
  constructor(private readonly faults: Faults) {}

  async intercept(context: ExecutionContext, next: CallHandler): Promise<Observable<unknown>> {
    const request = context.switchToHttp().getRequest<Request>();
    const response = context.switchToHttp().getResponse<Response>();
    const network: Network = request.path.startsWith('/townfold') ? 'townfold' : 'reelmoor';
    const fault = this.faults.of(network);
    if (fault === 'down') throw new Refusal(503, 'unavailable', 'Not available.');
    if (fault === 'slow') await new Promise((done) => setTimeout(done, SLOW_MS));
    if (fault !== 'lose-answer' || request.method === 'GET') return next.handle();
    return next.handle().pipe(
      mergeMap(async () => {
        response.socket?.destroy();
        throw new Refusal(500, 'lost', 'The answer was lost.');
      }),
    );
  }
}
