// An expected no, in the network's own words. Each network gives it its own shape on the wire.
import { Catch, type ArgumentsHost, type ExceptionFilter, HttpException, Logger } from '@nestjs/common';
import type { GuildhandProblem, PipwireNo, ReelmoorError, TownfoldRefusal } from '@lantern/contract/network-http';
import type { Request, Response } from 'express';
import { NETWORKS, type Network } from './entities';

export class Refusal extends Error {
  constructor(
    readonly status: number,
    readonly reason: string,
    readonly text: string,
    readonly headers: Record<string, string> = {},
  ) {
    super(text);
  }
}

/** The network that a path belongs to, by its first part. */
export function networkOfPath(path: string): Network | null {
  return NETWORKS.find((network) => path === `/${network}` || path.startsWith(`/${network}/`)) ?? null;
}

const SHAPES: Record<Network, { type: string; body: (refusal: Refusal) => object }> = {
  reelmoor: { type: 'application/json', body: ({ reason, text }): ReelmoorError => ({ error: { reason, text } }) },
  townfold: { type: 'application/json', body: ({ reason, text }): TownfoldRefusal => ({ refused: reason, because: text }) },
  guildhand: {
    type: 'application/problem+json',
    body: ({ reason, text, status }): GuildhandProblem => ({ type: `/guildhand/problems/${reason}`, title: 'Not possible', status, detail: text }),
  },
  pipwire: { type: 'application/json', body: ({ reason, text }): PipwireNo => ({ no: reason, say: text }) },
};

@Catch()
export class RefusalFilter implements ExceptionFilter {
  private readonly log = new Logger('http');

  catch(error: unknown, host: ArgumentsHost): void {
    const request = host.switchToHttp().getRequest<Request>();
    const response = host.switchToHttp().getResponse<Response>();
    if (response.headersSent || response.destroyed) return;
    const refusal = this.asRefusal(error);
    if (refusal.status >= 500 && !(error instanceof Refusal)) this.log.error(error instanceof Error ? error.stack : String(error));
    const shape = SHAPES[networkOfPath(request.path) ?? 'reelmoor'];
    response
      .status(refusal.status)
      .set(refusal.headers)
      .type(shape.type)
      .send(JSON.stringify(shape.body(refusal)));
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
