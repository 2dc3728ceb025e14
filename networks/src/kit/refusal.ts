// An expected no, in the network's own words. Each network gives it its own shape on the wire.
import { Catch, type ArgumentsHost, type ExceptionFilter, HttpException, Logger } from '@nestjs/common';
import type { Request, Response } from 'express';

export class Refusal extends Error {
  constructor(
    readonly status: number,
    readonly reason: string,
    readonly text: string,
  ) {
    super(text);
  }
}

@Catch()
export class RefusalFilter implements ExceptionFilter {
  private readonly log = new Logger('http');

  catch(error: unknown, host: ArgumentsHost): void {
    const request = host.switchToHttp().getRequest<Request>();
    const response = host.switchToHttp().getResponse<Response>();
    const refusal = this.asRefusal(error);
    if (refusal.status >= 500) this.log.error(error instanceof Error ? error.stack : String(error));
    const shape = request.path.startsWith('/townfold')
      ? { refused: refusal.reason, because: refusal.text }
      : { error: { reason: refusal.reason, text: refusal.text } };
    response.status(refusal.status).json(shape);
  }

  private asRefusal(error: unknown): Refusal {
    if (error instanceof Refusal) return error;
    if (error instanceof HttpException) {
      const body = error.getResponse();
      const message = typeof body === 'object' && 'message' in body ? body.message : error.message;
      return new Refusal(error.getStatus(), 'not-understood', Array.isArray(message) ? message.join('; ') : String(message));
    }
    return new Refusal(500, 'our-mistake', 'Something went wrong here.');
  }
}
