// Every endpoint needs a signed-in person, unless it says that it is public.
import { createParamDecorator, Injectable, SetMetadata, type CanActivate, type ExecutionContext, type Type } from '@nestjs/common';
import { Reflector } from '@nestjs/core';
import type { Request } from 'express';
import { PlainError } from '../foundation/errors';
import { fromOwnPages, sessionToken } from '../foundation/session-cookie';
import { may, RIGHTS, type RightName } from '@lantern/core';
import { type Person } from './people.entities';
import { PeopleService } from './people.service';

const PUBLIC = 'public';
const RIGHT = 'right';

/** Marks an endpoint that anybody may call. */
export const Public = () => SetMetadata(PUBLIC, true);

/** Names the right that an endpoint asks for. One that names none is closed to everybody. */
export const May = (right: RightName) => SetMetadata(RIGHT, right);

/** What an endpoint asks of whoever calls it: nothing, a right, or, by mistake, neither. */
export function askedOf(reflector: Reflector, handler: () => unknown, controller: Type): 'nothing' | RightName | null {
  if (reflector.getAllAndOverride<boolean>(PUBLIC, [handler, controller])) return 'nothing';
  return reflector.getAllAndOverride<RightName | undefined>(RIGHT, [handler, controller]) ?? null;
}

/** The signed-in person, as an argument of a handler. */
export const SignedIn = createParamDecorator(
  (_: unknown, context: ExecutionContext) => context.switchToHttp().getRequest<Request & { person: Person }>().person,
);

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
    const asked = askedOf(this.reflector, context.getHandler() as () => unknown, context.getClass());
    if (asked === 'nothing') return true;
    const person = await this.people.personOf(sessionToken(request));
    if (!person) throw new PlainError(401, 'You are not signed in, or your sign-in has run out. Sign in again.');
    if (asked === null) throw new PlainError(403, 'Nobody has been given the right to do this.');
    demand(person, asked);
    request.person = person;
    return true;
  }
}

/** Throws, in the words of the right, where a person does not have it. */
export function demand({ role }: Pick<Person, 'role'>, right: RightName): void {
  if (!may(role, right)) throw new PlainError(403, RIGHTS[right].refusal);
}
