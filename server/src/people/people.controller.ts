import {
  PasswordAgain,
  PasswordChange,
  SetUpRequest,
  SignInRequest,
  type AuditEntryView,
  type Me,
  type SessionView,
  type SetUpState,
  CodeShown,
  type SecondFactorStart,
  type SecondFactorView,
  type SpareCodes,
} from '@lantern/contract';
import { Body, Controller, Delete, Get, HttpCode, Inject, Param, Post, Put, Req, Res } from '@nestjs/common';
import { Throttle } from '@nestjs/throttler';
import type { Request, Response } from 'express';
import { addressBlock, visitorAddress } from '../foundation/visitor-address';
import { SETTINGS, type Settings } from '../foundation/settings';
import { AuditService } from './audit.service';
import { BrowserSessions } from './browser-sessions';
import { type Person } from './people.entities';
import { PeopleService } from './people.service';
import { PlainError } from '../foundation/errors';
import { SecondFactor } from './second-factor.service';
import { StagesOnAir } from './stages-on-air';
import { May, Public, SignedIn } from './signed-in';
import { SESSION_COOKIE, sessionToken } from '../foundation/session-cookie';

/** Ten tries a minute from one place: enough for fat fingers, too few for guessing. */
const FEW_TRIES = { default: { limit: 10, ttl: 60_000 } };

@Controller('api')
export class PeopleController {
  constructor(
    private readonly people: PeopleService,
    private readonly audit: AuditService,
    private readonly browsers: BrowserSessions,
    private readonly secondFactor: SecondFactor,
    private readonly stages: StagesOnAir,
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
  async setUp(@Body() body: SetUpRequest, @Req() request: Request, @Res({ passthrough: true }) response: Response): Promise<Me> {
    const person = await this.people.setUp(body, this.from(request));
    await this.browsers.open(person, request, response);
    return this.people.me(person);
  }

  @Public()
  @Throttle(FEW_TRIES)
  @Post('session')
  @HttpCode(200)
  async signIn(@Body() body: SignInRequest, @Req() request: Request, @Res({ passthrough: true }) response: Response): Promise<Me> {
    const person = await this.people.signIn(body, this.from(request));
    await this.browsers.open(person, request, response);
    return this.people.me(person);
  }

  @May('keep one’s own account')
  @Delete('session')
  @HttpCode(204)
  async signOut(@Req() request: Request, @Res({ passthrough: true }) response: Response): Promise<void> {
    await this.people.signOut(sessionToken(request)!);
    response.clearCookie(SESSION_COOKIE);
  }

  @Throttle(FEW_TRIES)
  @May('keep one’s own account')
  @Post('session/password')
  @HttpCode(204)
  async passwordAgain(@SignedIn() person: Person, @Req() request: Request, @Body() body: PasswordAgain): Promise<void> {
    await this.people.passwordAgain(person, sessionToken(request)!, body.password, this.from(request));
  }

  @Throttle(FEW_TRIES)
  @May('keep one’s own account')
  @Put('me/password')
  @HttpCode(204)
  async changePassword(@SignedIn() person: Person, @Req() request: Request, @Body() body: PasswordChange): Promise<void> {
    await this.people.changePassword(person, sessionToken(request)!, body, this.from(request));
    await this.audit.note(person, 'changed', 'their password');
  }

  @May('keep one’s own account')
  @Get('me/second-factor')
  secondFactorOf(@SignedIn() person: Person): SecondFactorView {
    return this.secondFactor.view(person);
  }

  /** Begins one: wants the password once more, as whatever changes how one gets in. */
  @Throttle(FEW_TRIES)
  @May('keep one’s own account')
  @Post('me/second-factor')
  async beginSecondFactor(@SignedIn() person: Person, @Req() request: Request, @Body() { password }: PasswordAgain): Promise<SecondFactorStart> {
    this.mustNotBeSeen(request);
    await this.people.mustBeTheirs(person, password, this.from(request));
    return this.secondFactor.begin(person, (await this.people.station(person.stationId)).name);
  }

  @Throttle(FEW_TRIES)
  @May('keep one’s own account')
  @Put('me/second-factor')
  proveSecondFactor(@SignedIn() person: Person, @Req() request: Request, @Body() { code }: CodeShown): Promise<SpareCodes> {
    this.mustNotBeSeen(request);
    return this.secondFactor.prove(person, code);
  }

  @Throttle(FEW_TRIES)
  @May('keep one’s own account')
  @Post('me/second-factor/spares')
  async newSpareCodes(@SignedIn() person: Person, @Req() request: Request, @Body() { password }: PasswordAgain): Promise<SpareCodes> {
    this.mustNotBeSeen(request);
    await this.people.mustBeTheirs(person, password, this.from(request));
    return this.secondFactor.newSpareCodes(person);
  }

  /** What lets one in is no part of any picture. */
  private mustNotBeSeen(request: Request): void {
    if (this.stages.shownBy(sessionToken(request)!) === 'a screen')
      throw new PlainError(
        409,
        'A screen is shared from this browser, and codes must never come into a picture. Stop sharing first, or do it in another browser.',
      );
  }

  @Throttle(FEW_TRIES)
  @May('keep one’s own account')
  @Post('me/second-factor/away')
  @HttpCode(204)
  async secondFactorAway(@SignedIn() person: Person, @Req() request: Request, @Body() { password }: PasswordAgain): Promise<void> {
    await this.people.mustBeTheirs(person, password, this.from(request));
    await this.secondFactor.takeAway(person);
  }

  @May('keep one’s own account')
  @Get('sessions')
  sessions(@SignedIn() person: Person, @Req() request: Request): Promise<SessionView[]> {
    return this.people.sessions(person, sessionToken(request)!);
  }

  /** Signs out everywhere. */
  @May('keep one’s own account')
  @Delete('sessions')
  @HttpCode(204)
  async endAll(@SignedIn() person: Person, @Res({ passthrough: true }) response: Response): Promise<void> {
    await this.people.endAll(person);
    response.clearCookie(SESSION_COOKIE);
  }

  @May('keep one’s own account')
  @Delete('sessions/:id')
  @HttpCode(204)
  async endSession(@SignedIn() person: Person, @Param('id') id: string): Promise<void> {
    await this.people.endSession(person, id);
  }

  /** What was done with channels and keys: for the owner. */
  @May('read the record')
  @Get('audit')
  readAudit(@SignedIn() person: Person): Promise<AuditEntryView[]> {
    return this.audit.list(person.stationId);
  }

  @May('keep one’s own account')
  @Get('me')
  me(@SignedIn() person: Person): Promise<Me> {
    return this.people.me(person);
  }

  private from(request: Request): string {
    return addressBlock(visitorAddress(request, this.settings.proxies));
  }
}
