// Every endpoint needs a signed-in person, unless it says that it is public.
import { createParamDecorator, Injectable, SetMetadata, type CanActivate, type ExecutionContext } from '@nestjs/common';
import { Reflector } from '@nestjs/core';
import type { Request } from 'express';
import type { IncomingMessage } from 'node:http';
import { PlainError } from '../foundation/errors';
import { type Person } from './people.entities';
import { PeopleService } from './people.service';

export const SESSION_COOKIE = 'lantern_session';
const PUBLIC = 'public';

/** Marks an endpoint that anybody may call. */
export const Public = () => SetMetadata(PUBLIC, true);

/** The signed-in person, as an argument of a handler. */
export const SignedIn = createParamDecorator(
  (_: unknown, context: ExecutionContext) => context.switchToHttp().getRequest<Request & { person: Person }>().person,
);

export function sessionToken(request: IncomingMessage): string | undefined {
  return new RegExp(`(?:^|;\\s*)${SESSION_COOKIE}=([^;]+)`).exec(request.headers.cookie ?? '')?.[1];
}

/** Whether a request that changes something comes from our own pages: browsers name their origin on all such requests. */
export function fromOwnPages(request: IncomingMessage): boolean {
  const origin = request.headers.origin;
  return origin === undefined || (URL.canParse(origin) && new URL(origin).host === request.headers.host);
}

@Injectable()
export class SignedInGuard implements CanActivate {
  constructor(
    private readonly reflector: Reflector,
    private readonly people: PeopleService,
  ) {}

  async canActivate(context: ExecutionContext): Promise<boolean> {
    const request = context.switchToHttp().getRequest<Request & { person?: Person }>();
    if (request.method !== 'GET' && request.method !== 'HEAD' && !fromOwnPages(request)) {
      throw new PlainError(403, 'This request came from another site and was not carried out.');
    }
    if (this.reflector.getAllAndOverride<boolean>(PUBLIC, [context.getHandler(), context.getClass()])) return true;
    const person = await this.people.personOf(sessionToken(request));
    if (!person) throw new PlainError(401, 'You are not signed in, or your sign-in has run out. Sign in again.');
    request.person = person;
    return true;
  }
}
