import { PasswordAgain, SetUpRequest, SignInRequest, type AuditEntryView, type Me, type SetUpState } from '@lantern/contract';
import { Body, Controller, Delete, Get, HttpCode, Inject, Post, Req, Res } from '@nestjs/common';
import { Throttle } from '@nestjs/throttler';
import type { Request, Response } from 'express';
import { SETTINGS, type Settings } from '../foundation/settings';
import { PlainError } from '../foundation/errors';
import { AuditService } from './audit.service';
import { type Person } from './people.entities';
import { PeopleService, SESSION_LIVES_MS } from './people.service';
import { Public, SESSION_COOKIE, sessionToken, SignedIn } from './signed-in';

/** Ten tries a minute from one place: enough for fat fingers, too few for guessing. */
const FEW_TRIES = { default: { limit: 10, ttl: 60_000 } };

@Controller('api')
export class PeopleController {
  constructor(
    private readonly people: PeopleService,
    private readonly audit: AuditService,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  @Public()
  @Get('set-up')
  async setUpState(): Promise<SetUpState> {
    return { needed: await this.people.setUpNeeded() };
  }

  @Public()
  @Throttle(FEW_TRIES)
  @Post('set-up')
  async setUp(@Body() body: SetUpRequest, @Res({ passthrough: true }) response: Response): Promise<Me> {
    const person = await this.people.setUp(body);
    this.giveCookie(response, await this.people.openSession(person));
    return this.people.me(person);
  }

  @Public()
  @Throttle(FEW_TRIES)
  @Post('session')
  @HttpCode(200)
  async signIn(@Body() body: SignInRequest, @Res({ passthrough: true }) response: Response): Promise<Me> {
    const { person, token } = await this.people.signIn(body);
    this.giveCookie(response, token);
    return this.people.me(person);
  }

  @Delete('session')
  @HttpCode(204)
  async signOut(@Req() request: Request, @Res({ passthrough: true }) response: Response): Promise<void> {
    await this.people.signOut(sessionToken(request)!);
    response.clearCookie(SESSION_COOKIE);
  }

  @Throttle(FEW_TRIES)
  @Post('session/password')
  @HttpCode(204)
  async passwordAgain(@SignedIn() person: Person, @Req() request: Request, @Body() body: PasswordAgain): Promise<void> {
    await this.people.passwordAgain(person, sessionToken(request)!, body.password);
  }

  /** What was done with channels and keys: for the owner. */
  @Get('audit')
  readAudit(@SignedIn() person: Person): Promise<AuditEntryView[]> {
    if (person.role !== 'owner') throw new PlainError(403, 'Only the owner can read this list.');
    return this.audit.list(person.stationId);
  }

  @Get('me')
  me(@SignedIn() person: Person): Promise<Me> {
    return this.people.me(person);
  }

  private giveCookie(response: Response, token: string): void {
    const secure = this.settings.publicUrl.startsWith('https:');
    response.cookie(SESSION_COOKIE, token, { httpOnly: true, sameSite: 'lax', secure, maxAge: SESSION_LIVES_MS, path: '/' });
  }
}
