// The team, for its people; and what those do who are not in it yet, or have forgotten their password.
import {
  ForgottenPassword,
  JoinRequest,
  NameChange,
  PassShown,
  PasswordAnew,
  RoleChange,
  TeamInvite,
  type Me,
  type TeamPassView,
  type TeamView,
} from '@lantern/contract';
import { Body, Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Post, Put, Req, Res } from '@nestjs/common';
import { Throttle } from '@nestjs/throttler';
import type { Request, Response } from 'express';
import { PlainError } from '../foundation/errors';
import { BrowserSessions } from './browser-sessions';
import type { Person } from './people.entities';
import { PeopleService } from './people.service';
import { May, Public, SignedIn } from './signed-in';
import { TeamService } from './team.service';

const PersonId = () => Param('id', new ParseUUIDPipe({ exceptionFactory: () => new PlainError(404, 'They are not in the team.') }));
/** Enough for fat fingers, too few for guessing, and for filling somebody's mailbox. */
const FEW_TRIES = { default: { limit: 10, ttl: 60_000 } };

@Controller('api')
export class TeamController {
  constructor(
    private readonly team: TeamService,
    private readonly people: PeopleService,
    private readonly sessions: BrowserSessions,
  ) {}

  @May('look at the station')
  @Get('team')
  view(@SignedIn() person: Person): Promise<TeamView> {
    return this.team.view(person);
  }

  @Throttle({ default: { limit: 30, ttl: 60_000 } })
  @May('keep the team')
  @Post('team/invitations')
  async invite(@SignedIn() person: Person, @Body() body: TeamInvite): Promise<TeamView> {
    await this.team.invite(person, body);
    return this.team.view(person);
  }

  @May('keep the team')
  @Delete('team/invitations/:id')
  async takeBack(@SignedIn() person: Person, @PersonId() id: string): Promise<TeamView> {
    await this.team.takeBack(person, id);
    return this.team.view(person);
  }

  @May('keep the team')
  @Put('team/:id/role')
  @HttpCode(204)
  giveRole(@SignedIn() person: Person, @PersonId() id: string, @Body() { role }: RoleChange): Promise<void> {
    return this.team.giveRole(person, id, role);
  }

  @May('keep the team')
  @Delete('team/:id')
  @HttpCode(204)
  remove(@SignedIn() person: Person, @PersonId() id: string): Promise<void> {
    return this.team.remove(person, id);
  }

  @May('keep one’s own account')
  @Put('me/name')
  async rename(@SignedIn() person: Person, @Body() { name }: NameChange): Promise<Me> {
    return this.people.me(await this.people.rename(person, name));
  }

  /** A pass is shown in the body: what is in an address is in logs. */
  @Public()
  @Throttle(FEW_TRIES)
  @Post('join/pass')
  @HttpCode(200)
  invited(@Body() { pass }: PassShown): Promise<TeamPassView> {
    return this.team.invited(pass);
  }

  @Public()
  @Throttle(FEW_TRIES)
  @Post('join')
  async join(@Body() body: JoinRequest, @Req() request: Request, @Res({ passthrough: true }) response: Response): Promise<Me> {
    const person = await this.team.join(body);
    await this.sessions.open(person, request, response);
    return this.people.me(person);
  }

  /** Answers alike whether somebody has that address or not. */
  @Public()
  @Throttle(FEW_TRIES)
  @Post('password/forgotten')
  @HttpCode(204)
  forgotten(@Body() body: ForgottenPassword): Promise<void> {
    return this.team.forgotten(body);
  }

  @Public()
  @Throttle(FEW_TRIES)
  @Post('password/anew')
  @HttpCode(204)
  passwordAnew(@Body() body: PasswordAnew): Promise<void> {
    return this.team.passwordAnew(body);
  }
}
